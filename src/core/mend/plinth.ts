/** Closes an open relief downwards: its border gets walls straight down to a level base, as ground is made printable. Common practice, no source. */
import { addScaled, dot, length, scale, sub, type Vec3 } from '@/core/math/vec'
import { boundsSize, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'
import type { Rim } from '@/core/mesh/topology'
import { joinPatches, loopOfRim } from './loop'
import { Patch } from './patch'
import { flatTriangulation } from './triangulate-rim'

/** The base lies below the lowest point by this share of the size. */
const belowShare = 0.05

/** The mesh with its border closed by walls and a base; null when the border, seen from above, crosses itself. `of`: triangles of its piece. */
export function plinth(mesh: TriMesh, rim: Rim, of: (t: number) => boolean): TriMesh | null {
  let up: Vec3 = [0, 0, 0]
  for (let t = 0; t < triangleCount(mesh); t++) if (of(t)) up = addScaled(up, crossOf(mesh, t), 1)
  if (!(length(up) > 0)) return null
  up = scale(up, 1 / length(up))
  // Along an axis when it is nearly that: a base that is level is what is wanted.
  const axis = [0, 1, 2].find((k) => Math.abs(up[k]) > 0.98)
  if (axis !== undefined) up = [0, 1, 2].map((k) => (k === axis ? Math.sign(up[k]) : 0)) as unknown as Vec3
  let low = Infinity
  for (let t = 0; t < triangleCount(mesh); t++)
    if (of(t))
      for (let c = 0; c < 3; c++) {
        const v = 3 * mesh.triangles[3 * t + c]
        low = Math.min(low, dot(up, [mesh.positions[v], mesh.positions[v + 1], mesh.positions[v + 2]]))
      }
  const floor = low - belowShare * Math.max(...boundsSize(meshBounds(mesh)))
  const loop = loopOfRim(mesh, rim)
  const n = loop.points.length
  const base = loop.points.map((p): Vec3 => sub(p, scale(up, dot(up, p) - floor)))
  const cap = flatTriangulation(base)
  if (!cap) return null
  const triangles: number[] = []
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n
    triangles.push(i, j, n + j, i, n + j, n + i)
  }
  for (const v of cap) triangles.push(n + v)
  const patch = new Patch([...loop.points.flat(), ...base.flat()], n, triangles, () => false)
  return joinPatches(mesh, [{ loop, patch }])
}
