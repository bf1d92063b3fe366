/** A fine scan brought down, its regions kept: what no surface bounds may then stay as facets that the exact kernel can take. */
import { span, type Work } from '@/core/base/work'
import type { Fitted } from '@/core/fit/fit-shape'
import { settleBorders } from '@/core/fit/borders'
import { normalOf, offShape } from '@/core/fit/shape'
import { dot, type Vec3 } from '@/core/math/vec'
import { simplify } from '@/core/mend/simplify'
import { NearestPoints } from '@/core/mesh/nearest'
import { buildTopology, type Topology } from '@/core/mesh/topology'
import { corners, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleNormals } from '@/core/mesh/triangle'

export interface Coarser {
  readonly mesh: TriMesh
  readonly topology: Topology
  /** Number of each triangle's region, -1 for none. */
  readonly of: Int32Array
  /** How far the two skins are apart at most, mm. */
  readonly off: number
}

/** Corners of a triangle lie within so many tolerances of the surface it is given to; scans round their edges. */
const onTimes = 4
/** Facing as the surface does, by this cosine. */
const facing = 0.6

/**
 * @param of number of each triangle's region, -1 for none
 * @param shapes of each region, null where it has none
 * @param within mm: how far the mesh may lie off its surfaces
 * @param triangles how many are to be left
 */
export async function coarser(
  mesh: TriMesh,
  of: Int32Array,
  shapes: readonly (Fitted | null)[],
  within: number,
  triangles: number,
  work: Work,
): Promise<Coarser> {
  const small = await simplify(mesh, { triangles }, span(work, 0, 0.9))
  const topology = buildTopology(small.mesh)
  const normals = triangleNormals(small.mesh)
  const nearest = new NearestPoints(mesh)
  const off = small.deviation.both.max
  const reach = onTimes * Math.max(within, small.deviation.both.rms)
  const labels = Int32Array.from({ length: triangleCount(small.mesh) }, (_, t) => {
    const c = corners(small.mesh, t)
    const n: Vec3 = [normals[3 * t], normals[3 * t + 1], normals[3 * t + 2]]
    let best = -1
    let least = reach
    // Places within the triangle tell which regions it may be of; its corners, whether it lies on them.
    for (const weights of inside) {
      const p = [0, 1, 2].map((k) => weights.reduce((s, w, i) => s + w * c[i][k], 0)) as unknown as Vec3
      nearest.square(p[0], p[1], p[2])
      const r = of[nearest.triangle]
      const shape = r < 0 ? null : shapes[r]
      if (!shape || r === best) continue
      if (dot(n, normalOf(shape, p)) * (shape.inside ? -1 : 1) < facing) continue
      const far = Math.max(...c.map((q) => Math.abs(offShape(shape, q))))
      if (far >= least) continue
      least = far
      best = r
    }
    return best
  })
  settleBorders({ mesh: small.mesh, topology, normals }, labels, shapes, Math.max(within, small.deviation.both.rms))
  return { mesh: small.mesh, topology, of: labels, off }
}

const inside = [
  [1 / 3, 1 / 3, 1 / 3],
  [0.7, 0.15, 0.15],
  [0.15, 0.7, 0.15],
  [0.15, 0.15, 0.7],
]
