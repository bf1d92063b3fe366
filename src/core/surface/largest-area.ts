/** The connected area of a region that holds the most of it: picks on raw scans leave crumbs beside what was meant. */
import { DisjointSets } from '@/core/math/disjoint-sets'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'

export interface LargestArea {
  readonly triangles: number[]
  /** Areas that are left out, and their share of the region. */
  readonly others: number
  readonly share: number
}

/** Triangles hang together where they share a corner. */
export function largestArea(mesh: TriMesh, triangles: readonly number[]): LargestArea {
  const joined = new DisjointSets(mesh.positions.length / 3)
  for (const t of triangles) for (let c = 1; c < 3; c++) joined.unite(mesh.triangles[3 * t], mesh.triangles[3 * t + c])
  const areas = new Map<number, number>()
  let total = 0
  const rootOf = (t: number) => joined.find(mesh.triangles[3 * t])
  for (const t of triangles) {
    const size = Math.hypot(...crossOf(mesh, t)) / 2
    total += size
    areas.set(rootOf(t), (areas.get(rootOf(t)) ?? 0) + size)
  }
  const [root, most] = [...areas].reduce((a, b) => (b[1] > a[1] ? b : a), [-1, -1])
  return {
    triangles: triangles.filter((t) => rootOf(t) === root),
    others: Math.max(0, areas.size - 1),
    share: total > 0 ? 1 - most / total : 0,
  }
}
