/**
 * A skin with a cross field cut open until it can be laid flat: crosses are combed along a tree of triangles, and every corner's place in
 * the map is told by few free places and by whole numbers (Bommes, Zimmer & Kobbelt 2009; translations are eliminated along the cuts).
 */
import { DisjointSets } from '@/core/math/disjoint-sets'
import { nextIn, prevIn, triangleOf, type Topology } from '@/core/mesh/topology'
import { triangleCount, vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { turnAcross, type CrossField } from './cross-field'

/** A place in the map: a sum of unknowns, each times a complex number: number of the unknown, real part, imaginary part. */
export type Form = readonly (readonly [number, number, number])[]

export interface CutSkin {
  /** Angle of the map's first axis in each triangle's frame. */
  readonly axis: Float64Array
  /** The wedge of each corner: corners at one vertex that no cut divides. */
  readonly wedge: Int32Array
  readonly wedges: number
  /** Place of each wedge. */
  readonly places: readonly Form[]
  /** Unknown places: the first `free` may be anywhere, the others have whole coordinates. */
  readonly free: number
  readonly whole: number
  /** The vertex at which each free unknown stands; of whole ones too where there is one, else -1. */
  readonly at: Int32Array
  /** This unknown stays 0: where the map begins is of no matter. -1: none. */
  readonly pinned: number
}

const powers: readonly (readonly [number, number])[] = [
  [1, 0],
  [0, 1],
  [-1, 0],
  [0, -1],
]
const mod4 = (k: number) => ((k % 4) + 4) % 4

/** A form times a complex number. */
const times = (f: Form, a: number, b: number): Form => f.map(([k, x, y]) => [k, x * a - y * b, x * b + y * a])
export const turned = (f: Form, quarters: number): Form => (mod4(quarters) ? times(f, ...powers[mod4(quarters)]) : f)
/** Sum of two forms, the second times a number. */
export function plus(f: Form, g: Form, factor = 1): Form {
  if (!f.length && factor === 1) return g
  const out = new Map(f.map(([k, x, y]) => [k, [x, y] as [number, number]]))
  for (const [k, x, y] of g) {
    const known = out.get(k)
    if (!known) out.set(k, [factor * x, factor * y])
    else {
      known[0] += factor * x
      known[1] += factor * y
      if (Math.abs(known[0]) < 1e-9 && Math.abs(known[1]) < 1e-9) out.delete(k)
    }
  }
  return [...out].map(([k, [x, y]]) => [k, x, y])
}

/** Stations of a walk along a cut between two of its ends. */
interface Path {
  /** Half-edges from end to end. */
  readonly edges: number[]
  readonly from: number
  readonly to: number
  /** Place on the right = i^turn place on the left + step. */
  readonly turn: number
  step: Form | null
}

export function cutOpen(mesh: TriMesh, { twin }: Topology, field: CrossField): CutSkin {
  const n = triangleCount(mesh)
  const k = mesh.triangles
  // Quarter turns from each triangle to the next, and the tree along which there are none.
  const matching = new Int8Array(3 * n)
  for (let h = 0; h < 3 * n; h++) {
    if (twin[h] < h) continue
    const [t, u] = [triangleOf(h), triangleOf(twin[h])]
    const quarters = Math.round((field.angle[u] - field.angle[t] - turnAcross(field.calm, twin, h)) / (Math.PI / 2))
    matching[h] = mod4(-quarters)
    matching[twin[h]] = mod4(quarters)
  }
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
  const axis = Float64Array.from(field.angle, (a, t) => a + (comb[t] * Math.PI) / 2)
  const turnOf = (h: number) => mod4(matching[h] + comb[triangleOf(h)] - comb[triangleOf(twin[h])])

  // Vertices about which the field does not close.
  const vertices = vertexCount(mesh)
  const rim = new Uint8Array(vertices)
  const leaving = new Int32Array(vertices).fill(-1)
  for (let h = 0; h < 3 * n; h++) {
    if (twin[h] < 0) rim[k[h]] = rim[k[nextIn(h)]] = 1
    if (leaving[k[h]] < 0 || twin[h] < 0) leaving[k[h]] = h
  }
  // A walk against the clock starts at the rim: at the half-edge whose own side is the last before it.
  const spinStart = (v: number): number => {
    let h = leaving[v]
    if (!rim[v]) return h
    // Back with the clock until the rim.
    while (twin[h] >= 0) h = nextIn(twin[h])
    return h
  }
  const isSingular = new Uint8Array(vertices)
  for (let v = 0; v < vertices; v++) {
    if (rim[v] || leaving[v] < 0) continue
    let sum = 0
    let h = leaving[v]
    do {
      // From the triangle of h to the one before it, against the clock: over the edge that ends at v.
      const over = prevIn(h)
      sum += turnOf(over)
      h = twin[over]
    } while (h !== leaving[v])
    if (mod4(sum)) isSingular[v] = 1
  }
  // What of the cut leads nowhere is healed.
  const degree = new Int32Array(vertices)
  for (let h = 0; h < 3 * n; h++) if (cut[h]) degree[k[h]]++
  const loose: number[] = []
  for (let v = 0; v < vertices; v++) if (degree[v] === 1 && !isSingular[v] && !rim[v]) loose.push(v)
  const spokes = (v: number): number[] => {
    const out: number[] = []
    let h = spinStart(v)
    const first = h
    do {
      out.push(h)
      h = twin[prevIn(h)]
    } while (h >= 0 && h !== first)
    return out
  }
  for (let v = loose.pop(); v !== undefined; v = loose.pop()) {
    const h = spokes(v).find((e) => cut[e]) ?? -1
    if (degree[v] !== 1 || h < 0) continue
    cut[h] = cut[twin[h]] = 0
    degree[v]--
    const w = k[nextIn(h)]
    if (--degree[w] === 1 && !isSingular[w] && !rim[w]) loose.push(w)
  }

  // Wedges.
  const corners = new DisjointSets(3 * n)
  for (let h = 0; h < 3 * n; h++) {
    if (twin[h] < h || cut[h]) continue
    corners.unite(h, nextIn(twin[h]))
    corners.unite(nextIn(h), twin[h])
  }
  const wedge = new Int32Array(3 * n)
  const number = new Map<number, number>()
  for (let h = 0; h < 3 * n; h++) {
    const root = corners.find(h)
    let w = number.get(root)
    if (w === undefined) number.set(root, (w = number.size))
    wedge[h] = w
  }
  const wedges = number.size
  const places: (Form | null)[] = new Array<Form | null>(wedges).fill(null)
  const at: number[] = []
  /** Free unknowns come first; whole ones are numbered from -1 down until all are known. */
  let free = 0
  const wholeAt: number[] = []
  const freePlace = (v: number): Form => {
    at.push(v)
    return [[free++, 1, 0]]
  }
  const wholePlace = (v: number): Form => {
    wholeAt.push(v)
    return [[-wholeAt.length, 1, 0]]
  }

  // Paths between the ends of cuts.
  const isEnd = (v: number) => degree[v] > 0 && (degree[v] !== 2 || isSingular[v] === 1 || rim[v] === 1)
  const pathOf = new Int32Array(3 * n).fill(-1)
  const paths: Path[] = []
  const trace = (first: number) => {
    const edges: number[] = []
    let h = first
    for (;;) {
      edges.push(h)
      pathOf[h] = pathOf[twin[h]] = paths.length
      const v = k[nextIn(h)]
      if (isEnd(v) || v === k[first]) break
      h = spokes(v).find((e) => cut[e] && pathOf[e] < 0)!
    }
    paths.push({ edges, from: k[first], to: k[nextIn(h)], turn: turnOf(first), step: null })
  }
  for (let v = 0; v < vertices; v++) if (isEnd(v)) for (const h of spokes(v)) if (cut[h] && pathOf[h] < 0) trace(h)
  for (let h = 0; h < 3 * n; h++) if (cut[h] && pathOf[h] < 0) trace(h)

  const ends = new Map<number, number[]>()
  paths.forEach((p, i) => {
    for (const v of new Set([p.from, p.to])) ends.set(v, [...(ends.get(v) ?? []), i])
  })
  /** Over the spoke h against the clock: quarter turns, and the step, of the path it is on. */
  const over = (h: number): { turn: number; step: Form | null } => {
    const p = paths[pathOf[h]]
    // From the right of a leaving edge to its left; the path may run the other way.
    const along = p.edges.includes(h)
    return along
      ? { turn: -p.turn, step: p.step && times(turned(p.step, -p.turn), -1, 0) }
      : { turn: p.turn, step: p.step }
  }
  const known = new Set<number>()
  let pinned = 0
  /** The spokes of an end that are cut, in their order, from after `from` on. */
  const cuts = (v: number, from: number | null): number[] => {
    const all = spokes(v).filter((h) => cut[h])
    const i = from === null ? 0 : all.indexOf(from) + 1
    return [...all.slice(i), ...all.slice(0, i)]
  }
  const settle = (v: number, first: Form, around: readonly number[]): Form => {
    let here = first
    for (const h of around) {
      const { turn, step } = over(h)
      here = plus(turned(here, turn), step!)
      places[wedge[h]] = here
    }
    return here
  }
  for (const root of rootsFirst([...ends.keys()], rim, isSingular)) {
    if (known.has(root)) continue
    // A tree over the ends that hang together, from the root.
    const order = [root]
    const up = new Map<number, number>([[root, -1]])
    for (const v of order)
      for (const i of ends.get(v)!) {
        const w = paths[i].from === v ? paths[i].to : paths[i].from
        if (up.has(w)) continue
        up.set(w, i)
        order.push(w)
      }
    const inTree = new Set(up.values())
    const hanging = new Set(order.flatMap((v) => ends.get(v)!))
    for (const i of hanging) if (!inTree.has(i)) paths[i].step = wholePlace(-1)
    // An end at the rim does not close: what leads up from it is free.
    for (const v of order) if (rim[v] && up.get(v)! >= 0) paths[up.get(v)!].step = wholePlace(-1)
    for (let i = order.length - 1; i >= 0; i--) {
      const v = order[i]
      known.add(v)
      if (rim[v]) continue
      const lead = up.get(v)!
      if (lead >= 0) {
        const p = paths[lead]
        const last = spokes(v).find((h) => pathOf[h] === lead)!
        const around = cuts(v, last)
        let first: Form
        if (isSingular[v]) {
          first = wholePlace(v)
          pinned ||= wholeAt.length
        } else first = freePlace(v)
        // The wedge after the leading spoke is its own left.
        places[wedge[last]] = first
        const before = settle(v, first, around.slice(0, -1))
        const { turn } = over(last)
        const step = plus(first, turned(before, turn), -1)
        p.step = p.edges.includes(last) ? times(turned(step, p.turn), -1, 0) : step
      } else {
        const around = cuts(v, null)
        const first = around.at(-1)!
        let sum: Form = []
        let turns = 0
        for (const h of around) {
          const { turn, step } = over(h)
          sum = plus(turned(sum, turn), step!)
          turns += turn
        }
        let here: Form
        if (mod4(turns)) {
          // z = i^turns z + sum
          const [c, s] = powers[mod4(turns)]
          const [a, b] = [1 - c, -s]
          const d = a * a + b * b
          here = times(sum, a / d, -b / d)
        } else {
          // Nothing turns about it: whole numbers that do not close leave a fold, which the collapse bears.
          here = freePlace(v)
        }
        places[wedge[first]] = here
        settle(v, here, around.slice(0, -1))
      }
    }
    // Rims last: steps of all paths are known now.
    for (const v of order) {
      if (!rim[v]) continue
      const around = spokes(v)
      places[wedge[around[0]]] ??= freePlace(v)
      settle(
        v,
        places[wedge[around[0]]]!,
        around.filter((h) => cut[h]),
      )
    }
  }
  // Vertices along cuts, then all others.
  for (const p of paths)
    for (let i = 1; i < p.edges.length; i++) {
      const h = p.edges[i]
      const left = wedge[h]
      const right = wedge[nextIn(twin[h])]
      places[left] ??= freePlace(k[h])
      places[right] ??= plus(turned(places[left], p.turn), p.step!)
    }
  for (let h = 0; h < 3 * n; h++) places[wedge[h]] ??= freePlace(k[h])
  const renumber = (f: Form): Form => f.map(([i, x, y]) => [i < 0 ? free - i - 1 : i, x, y])
  return {
    axis,
    wedge,
    wedges,
    places: places.map((f) => renumber(f!)),
    free,
    whole: wholeAt.length,
    at: Int32Array.from([...at, ...wholeAt]),
    pinned: pinned ? free + pinned - 1 : -1,
  }
}

/** Ends in the order in which they serve as roots: at the rim, singular, any. */
const rootsFirst = (ends: number[], rim: Uint8Array, singular: Uint8Array): number[] =>
  ends.sort((a, b) => rim[b] - rim[a] || singular[b] - singular[a] || a - b)
