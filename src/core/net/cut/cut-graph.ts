/** Where a skin is cut: edges from end to end, with nothing that leads nowhere. */
import { DisjointSets } from '@/core/math/disjoint-sets'
import { nextIn, prevIn, type Topology } from '@/core/mesh/topology'
import { vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'
import type { Combed } from './combed'
import { Fans } from './fans'
import { mod4, type Form } from './form'

/** A walk along a cut between two of its ends. */
export interface CutPath {
  /** Half-edges from end to end. */
  readonly edges: readonly number[]
  readonly from: number
  readonly to: number
  /** Place on the right = i^turn place on the left + step. */
  readonly turn: number
  step: Form | null
}

export interface CutGraph {
  readonly fans: Fans
  /** 1 for half-edges that are cut. */
  readonly cut: Uint8Array
  /** 1 for vertices about which the field does not close. */
  readonly singular: Uint8Array
  readonly paths: readonly CutPath[]
  /** The path that each half-edge is on, -1: none. */
  readonly pathOf: Int32Array
}

/** The cuts of a combed skin, of which those that lead nowhere are healed. Changes `cut` of the comb. */
export function cutGraph(mesh: TriMesh, topology: Topology, { cut, turnOf }: Combed): CutGraph {
  const { twin } = topology
  const { triangles: k } = mesh
  const fans = new Fans(mesh, topology)
  const { rim } = fans
  const vertices = vertexCount(mesh)
  const singular = new Uint8Array(vertices)
  for (let v = 0; v < vertices; v++)
    if (fans.isInner(v) && mod4(fans.spokes(v).reduce((sum, h) => sum + turnOf(prevIn(h)), 0))) singular[v] = 1
  const degree = healLooseEnds(k, twin, cut, fans, singular)
  const isEnd = (v: number) => degree[v] > 0 && (degree[v] !== 2 || singular[v] === 1 || rim[v] === 1)
  const pathOf = new Int32Array(k.length).fill(-1)
  const paths: CutPath[] = []
  const trace = (first: number) => {
    const edges: number[] = []
    let h = first
    for (;;) {
      edges.push(h)
      pathOf[h] = pathOf[twin[h]] = paths.length
      const v = k[nextIn(h)]
      if (isEnd(v) || v === k[first]) break
      h = fans.spokes(v).find((e) => cut[e] && pathOf[e] < 0)!
    }
    paths.push({ edges, from: k[first], to: k[nextIn(h)], turn: turnOf(first), step: null })
  }
  for (let v = 0; v < vertices; v++) if (isEnd(v)) for (const h of fans.spokes(v)) if (cut[h] && pathOf[h] < 0) trace(h)
  for (let h = 0; h < k.length; h++) if (cut[h] && pathOf[h] < 0) trace(h)
  return { fans, cut, singular, paths, pathOf }
}

/** Takes cuts back that end where the field closes; gives how many are left at each vertex. */
function healLooseEnds(
  k: TriMesh['triangles'],
  twin: Int32Array,
  cut: Uint8Array,
  fans: Fans,
  singular: Uint8Array,
): Int32Array {
  const { rim } = fans
  const degree = new Int32Array(rim.length)
  for (let h = 0; h < k.length; h++) if (cut[h]) degree[k[h]]++
  const isLoose = (v: number) => degree[v] === 1 && !singular[v] && !rim[v]
  const loose: number[] = []
  for (let v = 0; v < degree.length; v++) if (isLoose(v)) loose.push(v)
  for (let v = loose.pop(); v !== undefined; v = loose.pop()) {
    const h = fans.spokes(v).find((e) => cut[e]) ?? -1
    if (degree[v] !== 1 || h < 0) continue
    cut[h] = cut[twin[h]] = 0
    degree[v]--
    const w = k[nextIn(h)]
    degree[w]--
    if (isLoose(w)) loose.push(w)
  }
  return degree
}

/** Of each corner its wedge: corners at one vertex that no cut divides; and how many there are. */
export function wedgesOf({ twin }: Topology, cut: Uint8Array): { wedge: Int32Array; wedges: number } {
  const corners = new DisjointSets(twin.length)
  for (let h = 0; h < twin.length; h++) {
    if (twin[h] < h || cut[h]) continue
    corners.unite(h, nextIn(twin[h]))
    corners.unite(nextIn(h), twin[h])
  }
  const wedge = new Int32Array(twin.length)
  const number = new Map<number, number>()
  for (let h = 0; h < twin.length; h++) {
    const root = corners.find(h)
    let w = number.get(root)
    if (w === undefined) number.set(root, (w = number.size))
    wedge[h] = w
  }
  return { wedge, wedges: number.size }
}
