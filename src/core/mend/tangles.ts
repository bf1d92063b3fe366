/** Groups the crossings of a mesh by place: small tangles are taken out and filled anew, long ones are cut along. */
import { findPieces, buildTopology } from '@/core/mesh/topology'
import type { TriMesh } from '@/core/mesh/tri-mesh'

export interface Tangle {
  readonly triangles: readonly number[]
  /** Diagonal of the box round it, mm. */
  readonly reach: number
  /** How many pieces of the mesh cross here. */
  readonly pieces: number
}

/** Crossing triangles that hang together by crossing or by a corner. @param pairs as `findSelfCrossings` gives them */
export function crossingClusters(mesh: TriMesh, pairs: Uint32Array): Tangle[] {
  if (!pairs.length) return []
  const up = new Map<number, number>()
  const find = (t: number): number => {
    let r = t
    for (let n = up.get(r)!; n !== r; n = up.get(r)!) r = n
    up.set(t, r)
    return r
  }
  for (const t of pairs) up.set(t, t)
  const join = (s: number, t: number) => up.set(find(s), find(t))
  for (let i = 0; i < pairs.length; i += 2) join(pairs[i], pairs[i + 1])
  const atVertex = new Map<number, number>()
  for (const t of up.keys())
    for (let c = 0; c < 3; c++) {
      const v = mesh.triangles[3 * t + c]
      const other = atVertex.get(v)
      if (other === undefined) atVertex.set(v, t)
      else join(t, other)
    }
  const groups = new Map<number, number[]>()
  for (const t of up.keys()) {
    const r = find(t)
    const list = groups.get(r)
    if (list) list.push(t)
    else groups.set(r, [t])
  }
  const { piece } = findPieces(mesh, buildTopology(mesh))
  const p = mesh.positions
  return [...groups.values()].map((triangles) => {
    const lo = [Infinity, Infinity, Infinity],
      hi = [-Infinity, -Infinity, -Infinity]
    for (const t of triangles)
      for (let c = 0; c < 3; c++)
        for (let a = 0; a < 3; a++) {
          const v = p[3 * mesh.triangles[3 * t + c] + a]
          lo[a] = Math.min(lo[a], v)
          hi[a] = Math.max(hi[a], v)
        }
    return {
      triangles,
      reach: Math.hypot(hi[0] - lo[0], hi[1] - lo[1], hi[2] - lo[2]),
      pieces: new Set(triangles.map((t) => piece[t])).size,
    }
  })
}
