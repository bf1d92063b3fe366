/** Crosses combed along a tree of triangles: over its edges they do not turn, and only the others may have to be cut. */
import { triangleOf, type Topology } from '@/core/mesh/topology'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { turnAcross, type CrossField } from '@/core/net/cross-field'
import { mod4 } from './form'

export interface Combed {
  /** Angle of the map's first axis in each triangle's frame. */
  readonly axis: Float64Array
  /** 1 for half-edges over which the tree does not go. */
  readonly cut: Uint8Array
  /** Quarter turns over a half-edge to the triangle beyond. */
  turnOf(halfEdge: number): number
}

export function combed(mesh: TriMesh, { twin }: Topology, field: CrossField): Combed {
  const n = triangleCount(mesh)
  const matching = matchingOf(n, twin, field)
  const comb = new Int8Array(n)
  const seen = new Uint8Array(n)
  const cut = new Uint8Array(3 * n)
  for (let h = 0; h < 3 * n; h++) cut[h] = twin[h] >= 0 ? 1 : 0
  for (let first = 0; first < n; first++) {
    if (seen[first]) continue
    seen[first] = 1
    const queue = [first]
    for (let i = 0; i < queue.length; i++)
      for (let h = 3 * queue[i]; h < 3 * queue[i] + 3; h++) {
        const u = twin[h] < 0 ? -1 : triangleOf(twin[h])
        if (u < 0 || seen[u]) continue
        seen[u] = 1
        comb[u] = mod4(comb[queue[i]] + matching[h])
        cut[h] = cut[twin[h]] = 0
        queue.push(u)
      }
  }
  return {
    axis: Float64Array.from(field.angle, (a, t) => a + (comb[t] * Math.PI) / 2),
    cut,
    turnOf: (h) => mod4(matching[h] + comb[triangleOf(h)] - comb[triangleOf(twin[h])]),
  }
}

/** Quarter turns of the crosses from each triangle to the next. */
function matchingOf(triangles: number, twin: Int32Array, field: CrossField): Int8Array {
  const matching = new Int8Array(3 * triangles)
  for (let h = 0; h < 3 * triangles; h++) {
    if (twin[h] < h) continue
    const [t, u] = [triangleOf(h), triangleOf(twin[h])]
    const quarters = Math.round((field.angle[u] - field.angle[t] - turnAcross(field.calm, twin, h)) / (Math.PI / 2))
    matching[h] = mod4(-quarters)
    matching[twin[h]] = mod4(quarters)
  }
  return matching
}
