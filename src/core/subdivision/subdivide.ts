/**
 * Catmull-Clark surfaces (Catmull & Clark 1978) with creases and corners of given sharpness (DeRose, Kass & Truong 1998): one step of
 * subdivision, and limit places and normals (Halstead, Kass & DeRose 1993). Rims are creases; a vertex with one quad at a rim is a corner.
 */
import { edgeKey } from '@/core/mesh/edge-key'
import { nextInQuad, prevInQuad } from '@/core/mesh/quad-mesh'

/** The control net of a subdivision surface. */
export interface Cage {
  /** x y z of each control point, mm. */
  readonly positions: Float64Array
  readonly quads: Uint32Array
  /** Sharpness of edges by their key: how many steps they stay sharp; Infinity for ever. */
  readonly creases: ReadonlyMap<number, number>
  /** Sharpness of corners by their vertex. */
  readonly corners: ReadonlyMap<number, number>
}

export interface CageTopology {
  /** The half-edge over the same edge the other way; -1 at a rim. */
  readonly twin: Int32Array
  /** Number of each half-edge's edge. */
  readonly edge: Int32Array
  readonly edges: number
  /** A half-edge that leaves each vertex, at a rim the one with which a walk against the clock begins; -1: unused. */
  readonly leaving: Int32Array
}

export function cageTopology({ positions, quads }: Pick<Cage, 'positions' | 'quads'>): CageTopology {
  const n = quads.length
  const twin = new Int32Array(n).fill(-1)
  const edge = new Int32Array(n)
  const first = new Map<number, number>()
  let edges = 0
  for (let h = 0; h < n; h++) {
    const key = edgeKey(quads[h], quads[nextInQuad(h)])
    const other = first.get(key)
    if (other === undefined) {
      first.set(key, h)
      edge[h] = edges++
    } else {
      twin[h] = other
      twin[other] = h
      edge[h] = edge[other]
    }
  }
  const leaving = new Int32Array(positions.length / 3).fill(-1)
  for (let h = 0; h < n; h++) if (leaving[quads[h]] < 0 || twin[h] < 0) leaving[quads[h]] = h
  return { twin, edge, edges, leaving }
}

/** Half-edges that leave a vertex, against the clock; at a rim from the rim on. */
export function spokesOf({ twin, leaving }: CageTopology, v: number): number[] {
  const out: number[] = []
  const first = leaving[v]
  if (first < 0) return out
  let h = first
  do {
    out.push(h)
    h = twin[prevInQuad(h)]
  } while (h >= 0 && h !== first)
  return out
}

/** What a vertex does: it moves freely, along its crease, or stays. */
export interface VertexRule {
  /** Share of the smooth rule, of the crease rule and of staying; they add up to 1. */
  readonly smooth: number
  readonly crease: number
  readonly corner: number
  /** Ends of the two creases that run through. */
  readonly ends: readonly [number, number] | null
}

const smoothRule: VertexRule = { smooth: 1, crease: 0, corner: 0, ends: null }
const cornerRule: VertexRule = { smooth: 0, crease: 0, corner: 1, ends: null }

/** The rule of each vertex for the next step. */
export function vertexRules(cage: Cage, t: CageTopology): VertexRule[] {
  const { quads, creases, corners } = cage
  const sharp = (h: number) => (t.twin[h] < 0 ? Infinity : (creases.get(edgeKey(quads[h], quads[nextInQuad(h)])) ?? 0))
  return Array.from({ length: cage.positions.length / 3 }, (_, v): VertexRule => {
    const spokes = spokesOf(t, v)
    if (!spokes.length) return cornerRule
    const ends: { to: number; s: number }[] = []
    for (const h of spokes) if (sharp(h) > 0) ends.push({ to: quads[nextInQuad(h)], s: sharp(h) })
    // At a rim the last edge has only the half-edge that comes in.
    const last = prevInQuad(spokes[spokes.length - 1])
    if (t.twin[last] < 0) ends.push({ to: quads[last], s: Infinity })
    const own = corners.get(v) ?? 0
    const rim = t.twin[last] < 0
    if (own >= 1 || ends.length > 2 || (rim && spokes.length === 1)) {
      const least =
        own >= 1 || (rim && spokes.length === 1) ? 1 : Math.min(1, ends.map((e) => e.s).sort((a, b) => b - a)[2])
      if (least >= 1) return cornerRule
      return { smooth: 1 - least, crease: 0, corner: least, ends: null }
    }
    if (ends.length < 2) return own > 0 ? { smooth: 1 - own, crease: 0, corner: own, ends: null } : smoothRule
    const s = Math.min(1, (ends[0].s + ends[1].s) / 2)
    const crease = (1 - own) * (Number.isFinite(s) ? s : 1)
    return { smooth: 1 - own - crease, crease, corner: own, ends: [ends[0].to, ends[1].to] }
  })
}

/** Places as sums of control points: row i holds the entries from start[i] on. */
export interface Rows {
  readonly start: Int32Array
  readonly index: Int32Array
  readonly weight: Float64Array
}

/** Rows as they come. */
class RowList {
  private readonly starts = [0]
  private readonly indices: number[] = []
  private readonly weights: number[] = []
  add(index: number, weight: number): void {
    this.indices.push(index)
    this.weights.push(weight)
  }
  end(): void {
    this.starts.push(this.indices.length)
  }
  done(): Rows {
    return {
      start: Int32Array.from(this.starts),
      index: Int32Array.from(this.indices),
      weight: Float64Array.from(this.weights),
    }
  }
}

/** x y z of each row's place. */
export function applyRows({ start, index, weight }: Rows, p: ArrayLike<number>): Float64Array {
  const n = start.length - 1
  const out = new Float64Array(3 * n)
  for (let i = 0; i < n; i++)
    for (let e = start[i]; e < start[i + 1]; e++)
      for (let k = 0; k < 3; k++) out[3 * i + k] += weight[e] * p[3 * index[e] + k]
  return out
}

/** Rows over what other rows make. */
export function composed(outer: Rows, inner: Rows): Rows {
  const out = new RowList()
  for (let i = 0; i < outer.start.length - 1; i++) {
    const sum = new Map<number, number>()
    for (let e = outer.start[i]; e < outer.start[i + 1]; e++) {
      const j = outer.index[e]
      for (let f = inner.start[j]; f < inner.start[j + 1]; f++)
        sum.set(inner.index[f], (sum.get(inner.index[f]) ?? 0) + outer.weight[e] * inner.weight[f])
    }
    for (const [k, w] of sum) out.add(k, w)
    out.end()
  }
  return out.done()
}

/** The control points of the next step, vertices first, then edges, then faces, as sums of those of this one. */
export function subdivisionRows(cage: Cage, t = cageTopology(cage), rules = vertexRules(cage, t)): Rows {
  const { quads, creases } = cage
  const out = new RowList()
  const faces = quads.length / 4
  rules.forEach(({ smooth, crease, corner, ends }, v) => {
    const spokes = smooth ? spokesOf(t, v) : []
    const n = spokes.length
    out.add(v, corner + (ends ? 0.75 * crease : 0) + (smooth ? (smooth * (n - 2)) / n : 0))
    if (crease && ends) for (const u of ends) out.add(u, crease / 8)
    for (const h of spokes) {
      out.add(quads[nextInQuad(h)], smooth / (n * n))
      for (let c = 0; c < 4; c++) out.add(quads[(h & ~3) + c], smooth / (4 * n * n))
    }
    out.end()
  })
  const first = new Int32Array(t.edges).fill(-1)
  for (let h = quads.length - 1; h >= 0; h--) first[t.edge[h]] = h
  for (const h of first) {
    const [a, b] = [quads[h], quads[nextInQuad(h)]]
    const other = t.twin[h]
    const sharp = other < 0 ? 1 : Math.min(1, creases.get(edgeKey(a, b)) ?? 0)
    for (const v of [a, b]) out.add(v, sharp / 2 + (1 - sharp) / 4)
    if (sharp < 1)
      for (const g of [h, other]) for (let c = 0; c < 4; c++) out.add(quads[(g & ~3) + c], (1 - sharp) / 16)
    out.end()
  }
  for (let f = 0; f < faces; f++) {
    for (let c = 0; c < 4; c++) out.add(quads[4 * f + c], 1 / 4)
    out.end()
  }
  return out.done()
}

/** One step: each quad in four. Quad q becomes quads 4 q to 4 q + 3, the one with its corner c first at 4 q + c, beginning there. */
export function subdivide(cage: Cage, rows?: Rows): Cage {
  const { positions, quads, creases, corners } = cage
  const t = cageTopology(cage)
  const vertices = positions.length / 3
  const edgeAt = (h: number) => vertices + t.edge[h]
  const nextCreases = new Map<number, number>()
  for (let h = 0; h < quads.length; h++) {
    if (t.twin[h] > h || t.twin[h] < 0) continue
    const [a, b] = [quads[h], quads[nextInQuad(h)]]
    const left = (creases.get(edgeKey(a, b)) ?? 0) - 1
    if (left > 0) for (const v of [a, b]) nextCreases.set(edgeKey(v, edgeAt(h)), left)
  }
  const next = new Uint32Array(4 * quads.length)
  for (let h = 0; h < quads.length; h++)
    next.set([quads[h], edgeAt(h), vertices + t.edges + (h >> 2), edgeAt(prevInQuad(h))], 4 * h)
  const nextCorners = new Map<number, number>()
  for (const [v, s] of corners) if (s - 1 > 0) nextCorners.set(v, s - 1)
  const points = applyRows(rows ?? subdivisionRows(cage, t), positions)
  return { positions: points, quads: next, creases: nextCreases, corners: nextCorners }
}

/** Where control points come to lie on the limit surface, for creases that stay sharp for ever. */
export function limitRows(cage: Cage, t = cageTopology(cage), rules = vertexRules(cage, t)): Rows {
  const { quads } = cage
  const out = new RowList()
  rules.forEach((rule, v) => {
    const spokes = spokesOf(t, v)
    const n = spokes.length
    if (rule.corner >= 1 || !n) out.add(v, 1)
    else if (rule.ends && rule.crease > 0) {
      out.add(v, 2 / 3)
      for (const u of rule.ends) out.add(u, 1 / 6)
    } else {
      const w = 1 / (n * (n + 5))
      out.add(v, n * n * w)
      for (const h of spokes) {
        out.add(quads[nextInQuad(h)], 4 * w)
        out.add(quads[nextInQuad(nextInQuad(h))], w)
      }
    }
    out.end()
  })
  return out.done()
}

/** x y z of every vertex on the limit surface. */
export const limitPlaces = (cage: Cage): Float64Array => applyRows(limitRows(cage), cage.positions)

/**
 * The way in which an edge leaves an inner smooth vertex on the limit surface; its length means nothing for other than four edges, and is the
 * derivative there (Halstead et al. 1993).
 */
export function limitTangent(
  p: ArrayLike<number>,
  quads: Uint32Array,
  spokes: readonly number[],
  along: number,
): [number, number, number] {
  const n = spokes.length
  const a = 1 + Math.cos((2 * Math.PI) / n) + Math.cos(Math.PI / n) * Math.sqrt(2 * (9 + Math.cos((2 * Math.PI) / n)))
  const out: [number, number, number] = [0, 0, 0]
  for (let j = 0; j < n; j++) {
    const i = j - along
    const e = quads[nextInQuad(spokes[j])]
    const f = quads[nextInQuad(nextInQuad(spokes[j]))]
    const we = a * Math.cos((2 * Math.PI * i) / n)
    const wf = Math.cos((2 * Math.PI * i) / n) + Math.cos((2 * Math.PI * (i + 1)) / n)
    for (let k = 0; k < 3; k++) out[k] += we * p[3 * e + k] + wf * p[3 * f + k]
  }
  // Of four edges it is twelve times (1 4 1)/6 across and (-1 0 1)/2 along.
  if (n === 4) for (let k = 0; k < 3; k++) out[k] /= 12
  return out
}

/** The limit surface as quads: every quad of the cage in 4^steps, places on the surface; quad q of the cage gave those from q 4^steps on. */
export function limitQuads(cage: Cage, steps: number): { positions: Float64Array; quads: Uint32Array } {
  let fine = cage
  for (let s = 0; s < steps; s++) fine = subdivide(fine)
  return { positions: limitPlaces(fine), quads: fine.quads }
}
