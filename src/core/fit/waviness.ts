/** How far a skin lies off smooth surfaces over the width of a patch: noise that neighbours share, which no pair of triangles tells. */
import { solveDense } from '@/core/math/least-squares'
import { add, cross, dot, normalize, perpendicular, sub, type Vec3 } from '@/core/math/vec'
import { triangleOf, type Topology } from '@/core/mesh/topology'
import { triangleCount, vertex, verticesOf, type TriMesh } from '@/core/mesh/tri-mesh'

/** Patches looked at, triangles of each, and which of their spreads is told: most of the others lie over an edge. */
const patches = 80
const narrow = 40,
  wide = 160
/** Where wider patches lie so many times farther off, the skin bends and that is no noise. */
const bends = 2.5
const place = 0.35

/**
 * Root mean square of what patches of the skin lie off the quadrics that fit them best, mm: of the smoother third of them the worst.
 * (Quadrics over a patch's own plane by linear least squares.)
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
    const x = perpendicular(z)
    const y = cross(z, x)
    const corners = [...verticesOf(mesh, some)]
    if (corners.length < 16) continue
    const origin = vertex(mesh, corners[0])
    const local = corners.map((v) => {
      const d = sub(vertex(mesh, v), origin)
      return [dot(d, x), dot(d, y), dot(d, z)] as const
    })
    const size = Math.max(...local.map((p) => Math.hypot(p[0], p[1]))) || 1
    const rows = local.map(([u, v]) => {
      const [a, b] = [u / size, v / size]
      return [1, a, b, a * a, a * b, b * b]
    })
    const m = Array.from({ length: 6 }, (_, i) =>
      Array.from({ length: 6 }, (__, j) => rows.reduce((s, r) => s + r[i] * r[j], 0)),
    )
    const c = solveDense(
      m,
      Array.from({ length: 6 }, (_, i) => rows.reduce((s, r, q) => s + r[i] * local[q][2], 0)),
    )
    if (!c) continue
    const square = rows.reduce((s, r, q) => s + (local[q][2] - r.reduce((w, a, i) => w + a * c[i], 0)) ** 2, 0)
    spreads.push(Math.sqrt(square / rows.length))
  }
  spreads.sort((a, b) => a - b)
  return spreads[Math.floor(place * spreads.length)] ?? 0
}
