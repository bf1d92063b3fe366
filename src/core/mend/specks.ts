/** Stray pieces. */
import { buildTopology, findPieces, triangleOf } from '@/core/mesh/topology'
import { keepTriangles, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleArea } from '@/core/mesh/triangle'
import { MeshSearch } from '@/core/mesh/closest'

export interface SpeckRule {
  /** Pieces whose box diagonal is below this, mm. */
  readonly smallerThan?: number
  /** Pieces whose area is below this share of the largest piece's, 0 to 1. */
  readonly share?: number
  /** For pieces without a rim this share counts instead: a small closed piece is rather a part of an assembly than a stray. */
  readonly closedShare?: number
  /** Of those, only pieces further than this from the largest piece, mm. */
  readonly furtherThan?: number
}

/** Removes stray pieces by size, share of the largest, and distance from it. The largest piece always stays. `from` gives each kept triangle's number before, `area` what went, mm². */
export function clearSpecks(
  mesh: TriMesh,
  rule: SpeckRule,
): { mesh: TriMesh; removed: number; triangles: number; pieces: number; from: Uint32Array; area: number } {
  const n = triangleCount(mesh)
  const same = () => Uint32Array.from({ length: n }, (_, t) => t)
  const topology = buildTopology(mesh)
  const { piece, count } = findPieces(mesh, topology)
  if (count < 2) return { mesh, removed: 0, triangles: 0, pieces: count, from: same(), area: 0 }
  const open = new Uint8Array(count)
  for (let h = 0; h < topology.twin.length; h++) if (topology.twin[h] < 0) open[piece[triangleOf(h)]] = 1
  const area = new Float64Array(count)
  const lo = new Float64Array(3 * count).fill(Infinity),
    hi = new Float64Array(3 * count).fill(-Infinity)
  for (let t = 0; t < n; t++) {
    const i = piece[t]
    area[i] += triangleArea(mesh, t)
    for (let c = 0; c < 3; c++)
      for (let a = 0; a < 3; a++) {
        const v = mesh.positions[3 * mesh.triangles[3 * t + c] + a]
        if (v < lo[3 * i + a]) lo[3 * i + a] = v
        if (v > hi[3 * i + a]) hi[3 * i + a] = v
      }
  }
  let largest = 0
  for (let i = 1; i < count; i++) if (area[i] > area[largest]) largest = i
  const gone = new Uint8Array(count)
  let search: MeshSearch | null = null
  for (let i = 0; i < count; i++) {
    if (i === largest) continue
    const reach = Math.hypot(hi[3 * i] - lo[3 * i], hi[3 * i + 1] - lo[3 * i + 1], hi[3 * i + 2] - lo[3 * i + 2])
    const small =
      (rule.smallerThan !== undefined && reach < rule.smallerThan) ||
      (rule.share !== undefined && area[i] < ((open[i] ? undefined : rule.closedShare) ?? rule.share) * area[largest])
    if (!small) continue
    if (rule.furtherThan) {
      search ??= new MeshSearch(
        keepTriangles(
          mesh,
          Uint8Array.from(piece, (p) => (p === largest ? 1 : 0)),
        ).mesh,
      )
      if (
        search.nearest(
          [(lo[3 * i] + hi[3 * i]) / 2, (lo[3 * i + 1] + hi[3 * i + 1]) / 2, (lo[3 * i + 2] + hi[3 * i + 2]) / 2],
          rule.furtherThan,
        )
      )
        continue
    }
    gone[i] = 1
  }
  const removed = gone.reduce((s, g) => s + g, 0)
  if (!removed) return { mesh, removed: 0, triangles: 0, pieces: count, from: same(), area: 0 }
  const kept = keepTriangles(
    mesh,
    Uint8Array.from(piece, (p) => (gone[p] ? 0 : 1)),
  )
  return {
    mesh: kept.mesh,
    removed,
    triangles: n - kept.triangleFrom.length,
    pieces: count - removed,
    from: kept.triangleFrom,
    area: area.reduce((s, a, i) => s + (gone[i] ? a : 0), 0),
  }
}
