/** How a closed mesh faces, triangle by triangle, and how it turns at its edges. */
import { checkStop, type Work } from '@/core/base/work'
import { cross, dot, length, normalize, sub, type Vec3 } from '@/core/math/vec'
import { nextIn, prevIn, triangleOf } from '@/core/mesh/topology'
import { triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossInto } from '@/core/mesh/triangle'

export interface Facing {
  /** Normal of each triangle, 1 long; nought where it has no area. */
  readonly normals: readonly Vec3[]
  /** Angle at each corner, radians: what its triangle counts for there, however the rest is cut up. */
  readonly angle: Float64Array
  /** Turn at each edge, degrees: above zero where a skin moved to the given side opens. */
  readonly turn: Float64Array
}

export const degrees = (radians: number): number => (radians * 180) / Math.PI

/** `side`: 1 when the skin is to move outward, -1 inward. */
export function facingOf(mesh: TriMesh, twin: Int32Array, side: number, work: Work): Facing {
  const { positions: p, triangles: k } = mesh
  const n = triangleCount(mesh)
  const normals: Vec3[] = []
  const angle = new Float64Array(3 * n)
  const c = new Float64Array(3)
  for (let t = 0; t < n; t++) {
    if ((t & 8191) === 0) checkStop(work)
    const size = crossInto(p, k, t, c)
    normals.push(size > 0 ? normalize([c[0], c[1], c[2]]) : [0, 0, 0])
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const at = vertex(mesh, k[h])
      const u = sub(vertex(mesh, k[nextIn(h)]), at),
        v = sub(vertex(mesh, k[prevIn(h)]), at)
      angle[h] = Math.atan2(length(cross(u, v)), dot(u, v))
    }
  }
  const turn = new Float64Array(3 * n)
  for (let h = 0; h < 3 * n; h++) {
    const g = twin[h]
    if (g < h) continue
    const a = normals[triangleOf(h)],
      b = normals[triangleOf(g)]
    const x = cross(a, b)
    const along = sub(vertex(mesh, k[nextIn(h)]), vertex(mesh, k[h]))
    turn[h] = turn[g] = side * Math.sign(dot(x, along)) * degrees(Math.atan2(length(x), dot(a, b)))
  }
  return { normals, angle, turn }
}
