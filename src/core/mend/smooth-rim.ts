/** Smooths rims as curves: each rim vertex moves along the line of its two rim neighbours, the rest of the skin stays. */
import type { Vec3 } from '@/core/math/vec'
import { buildTopology, findRims, type Rim } from '@/core/mesh/topology'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'
import { rimNearest } from './loop'

/**
 * Taubin's filter (1995) on each rim as a closed curve, which does not shrink it.
 * @param picked points near the rims; all when empty
 * @returns the mesh and the furthest move, mm
 */
export function smoothRims(
  mesh: TriMesh,
  passes: number,
  picked: readonly Vec3[],
): { mesh: TriMesh; rims: number; moved: number } {
  const rims = findRims(mesh, buildTopology(mesh)).filter((r) => r.closed)
  if (!rims.length) throw new StepError('no-hole', 'There is no open rim on this body.')
  const chosen: Rim[] = picked.length ? [...new Set(picked.map((p) => rimNearest(mesh, rims, p)!.rim))] : rims
  const positions = mesh.positions.slice()
  let moved = 0
  for (const rim of chosen) {
    const v = rim.vertices,
      n = v.length
    let x = Float64Array.from(v.flatMap((i) => [positions[3 * i], positions[3 * i + 1], positions[3 * i + 2]]))
    for (let pass = 0; pass < 2 * passes; pass++) {
      const f = pass % 2 ? -0.53 : 0.5
      const next = x.slice()
      for (let i = 0; i < n; i++)
        for (let k = 0; k < 3; k++)
          next[3 * i + k] += f * (0.5 * (x[3 * ((i + 1) % n) + k] + x[3 * ((i + n - 1) % n) + k]) - x[3 * i + k])
      x = next
    }
    v.forEach((i, q) => {
      moved = Math.max(
        moved,
        Math.hypot(
          x[3 * q] - mesh.positions[3 * i],
          x[3 * q + 1] - mesh.positions[3 * i + 1],
          x[3 * q + 2] - mesh.positions[3 * i + 2],
        ),
      )
      for (let k = 0; k < 3; k++) positions[3 * i + k] = x[3 * q + k]
    })
  }
  return { mesh: { positions, triangles: mesh.triangles }, rims: chosen.length, moved }
}
