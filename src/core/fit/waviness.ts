/** How far a skin lies off smooth surfaces over the width of a patch: noise that neighbours share, which no pair of triangles tells. */
import { add, normalize, type Vec3 } from '@/core/math/vec'
import { triangleOf, type Topology } from '@/core/mesh/topology'
import { triangleCount, verticesOf, type TriMesh } from '@/core/mesh/tri-mesh'
import { squaresOffQuadric } from './off-quadric'

/** Patches looked at, triangles of each, and which of their spreads is told: most of the others lie over an edge. */
const patches = 80
const narrow = 40,
  wide = 160
/** Where wider patches lie so many times farther off, the skin bends and that is no noise. */
const bends = 2.5
const place = 0.35

/**
 * Root mean square of what patches of the skin lie off the quadrics that fit them best, mm: of the smoother third of them the worst.
 *
 */
export function wavinessOf(mesh: TriMesh, topology: Topology, normals: Float32Array): number {
  const [near, far] = [narrow, wide].map((most) => spreadOver(mesh, topology, normals, most))
  return far > bends * near ? near : far
}

function spreadOver(mesh: TriMesh, { twin }: Topology, normals: Float32Array, most: number): number {
  const n = triangleCount(mesh)
  const spreads: number[] = []
  for (let k = 0; k < patches; k++) {
    const seed = Math.floor(((k + 0.5) / patches) * n)
    const some = [seed]
    const seen = new Set(some)
    for (let i = 0; i < some.length && some.length < most; i++)
      for (let h = 3 * some[i]; h < 3 * some[i] + 3; h++) {
        const u = twin[h] < 0 ? -1 : triangleOf(twin[h])
        if (u < 0 || seen.has(u)) continue
        seen.add(u)
        some.push(u)
      }
    let mean: Vec3 = [0, 0, 0]
    for (const t of some) mean = add(mean, [normals[3 * t], normals[3 * t + 1], normals[3 * t + 2]])
    if (!(Math.hypot(...mean) > 0.5 * some.length)) continue
    const z = normalize(mean)
    const corners = [...verticesOf(mesh, some)]
    if (corners.length < 16) continue
    const square = squaresOffQuadric(mesh, corners, z)
    if (square !== null) spreads.push(Math.sqrt(square / corners.length))
  }
  spreads.sort((a, b) => a - b)
  return spreads[Math.floor(place * spreads.length)] ?? 0
}
