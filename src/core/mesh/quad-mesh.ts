/** A mesh of quads: its edges, its irregular points, and how good its quads are. */
import { cross, type Vec3 } from '@/core/math/vec'
import { DisjointSets } from '@/core/math/disjoint-sets'
import { cornerCosine } from './corner-angle'
import { edgeKey } from './edge-key'
import type { TriMesh } from './tri-mesh'

export interface QuadMesh {
  /** x y z of each vertex, mm. */
  readonly positions: Float32Array
  /** Four vertices for each quad, against the clock seen from outside. */
  readonly quads: Uint32Array
}

export const quadCount = (m: QuadMesh): number => m.quads.length / 4
/** The half-edge after, and before, one in its quad. */
export const nextInQuad = (h: number): number => (h % 4 === 3 ? h - 3 : h + 1)
export const prevInQuad = (h: number): number => (h % 4 === 0 ? h + 3 : h - 1)

export interface QuadTopology {
  /** The half-edge over the same edge the other way; -1 at a rim, -2 where more than two quads meet or two run one way. */
  readonly twin: Int32Array
  /** Edges at each vertex. */
  readonly valence: Int32Array
  /** 1 for vertices at a rim. */
  readonly rim: Uint8Array
  readonly edges: number
  readonly closed: boolean
}

export function quadTopology({ positions, quads }: QuadMesh): QuadTopology {
  const n = quads.length
  const twin = new Int32Array(n).fill(-1)
  const first = new Map<number, number>()
  let edges = 0
  for (let h = 0; h < n; h++) {
    const [a, b] = [quads[h], quads[nextInQuad(h)]]
    const key = edgeKey(a, b)
    const other = first.get(key)
    if (other === undefined) {
      first.set(key, h)
      edges++
    } else if (twin[other] === -1 && quads[other] === b) {
      twin[other] = h
      twin[h] = other
    } else {
      if (twin[other] >= 0) twin[twin[other]] = -2
      twin[other] = twin[h] = -2
    }
  }
  const valence = new Int32Array(positions.length / 3)
  const rim = new Uint8Array(positions.length / 3)
  for (const h of first.values()) {
    const [a, b] = [quads[h], quads[nextInQuad(h)]]
    valence[a]++
    valence[b]++
    if (twin[h] < 0) rim[a] = rim[b] = 1
  }
  return { twin, valence, rim, edges, closed: n > 0 && twin.every((t) => t >= 0) }
}

/** Cross product of the diagonals of a quad: twice its area along its normal. */
export function quadCross(
  { positions: p, quads }: { readonly positions: ArrayLike<number>; readonly quads: Uint32Array },
  q: number,
): Vec3 {
  const [a, b, c, d] = [3 * quads[4 * q], 3 * quads[4 * q + 1], 3 * quads[4 * q + 2], 3 * quads[4 * q + 3]]
  return cross(
    [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]],
    [p[d] - p[b], p[d + 1] - p[b + 1], p[d + 2] - p[b + 2]],
  )
}

/** Normals at the vertices of quads, longer where these are larger. */
export function quadNormals(p: Float64Array, quads: Uint32Array, only?: (quad: number) => boolean): Float64Array {
  const out = new Float64Array(p.length)
  for (let h = 0; h < quads.length; h++) {
    if (only && !only(h >> 2)) continue
    const [a, b, c] = [quads[prevInQuad(h)], quads[h], quads[nextInQuad(h)]]
    const u = [0, 1, 2].map((k) => p[3 * c + k] - p[3 * b + k])
    const v = [0, 1, 2].map((k) => p[3 * a + k] - p[3 * b + k])
    out[3 * b] += u[1] * v[2] - u[2] * v[1]
    out[3 * b + 1] += u[2] * v[0] - u[0] * v[2]
    out[3 * b + 2] += u[0] * v[1] - u[1] * v[0]
  }
  return out
}

/** Two triangles for each quad, over its shorter diagonal. */
export function trianglesOfQuads({ positions: p, quads }: QuadMesh): TriMesh {
  const triangles = new Uint32Array((quads.length / 4) * 6)
  const square = (a: number, b: number) =>
    (p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2
  for (let q = 0; q < quads.length / 4; q++) {
    const [a, b, c, d] = quads.subarray(4 * q, 4 * q + 4)
    triangles.set(square(a, c) <= square(b, d) ? [a, b, c, a, c, d] : [b, c, d, b, d, a], 6 * q)
  }
  return { positions: p, triangles }
}

export interface QuadFigures {
  readonly quads: number
  readonly vertices: number
  /** Mean edge, mm. */
  readonly edge: number
  /** Share of the vertices that have not four edges (three at a rim). */
  readonly irregular: number
  readonly irregularPoints: number
  /** Smallest corner, degrees, and the one that 99 % of quads have at least. */
  readonly minAngle: number
  readonly minAngle99: number
  readonly closed: boolean
  readonly pieces: number
}

export function quadFigures(m: QuadMesh, t = quadTopology(m)): QuadFigures {
  const { positions: p, quads } = m
  let length = 0
  let edges = 0
  const smallest = new Float64Array(quads.length / 4).fill(180)
  for (let h = 0; h < quads.length; h++) {
    const [a, b, c] = [quads[prevInQuad(h)], quads[h], quads[nextInQuad(h)]]
    const angle = (Math.acos(cornerCosine(p, b, a, c)) * 180) / Math.PI
    smallest[h >> 2] = Math.min(smallest[h >> 2], angle)
    if (t.twin[h] >= h) continue
    length += Math.hypot(p[3 * c] - p[3 * b], p[3 * c + 1] - p[3 * b + 1], p[3 * c + 2] - p[3 * b + 2])
    edges++
  }
  const sorted = smallest.slice().sort()
  let [used, irregular] = [0, 0]
  t.valence.forEach((v, i) => {
    if (!v) return
    used++
    if (t.rim[i] ? v !== 3 && v !== 2 : v !== 4) irregular++
  })
  return {
    quads: quads.length / 4,
    vertices: used,
    edge: edges ? length / edges : 0,
    irregular: used ? irregular / used : 0,
    irregularPoints: irregular,
    minAngle: sorted[0] ?? 0,
    minAngle99: sorted[Math.floor(sorted.length / 100)] ?? 0,
    closed: t.closed,
    pieces: piecesOf(m),
  }
}

function piecesOf({ positions, quads }: QuadMesh): number {
  const joined = new DisjointSets(positions.length / 3)
  const used = new Set<number>()
  for (let h = 0; h < quads.length; h++) joined.unite(quads[h], quads[nextInQuad(h)])
  for (const v of quads) used.add(joined.find(v))
  return used.size
}

/**
 * Faces of any number of corners as quads: where all have four they stay; else each is divided once from its middle to the middles of its
 * edges (the first step of Catmull & Clark 1978, without their smoothing).
 * @returns `divided`: whether that was needed
 */
export function quadsOfFaces(
  positions: Float32Array,
  faces: readonly (readonly number[])[],
): { net: QuadMesh; divided: boolean } {
  if (faces.every((f) => f.length === 4))
    return { net: { positions, quads: Uint32Array.from(faces.flat()) }, divided: false }
  const points = Array.from(positions)
  const middles = new Map<number, number>()
  const mean = (list: readonly number[]): number => {
    const v = points.length / 3
    for (let k = 0; k < 3; k++) points.push(list.reduce((s, i) => s + points[3 * i + k], 0) / list.length)
    return v
  }
  const middle = (a: number, b: number): number => {
    const key = edgeKey(a, b)
    const known = middles.get(key)
    if (known !== undefined) return known
    const m = mean([a, b])
    middles.set(key, m)
    return m
  }
  const quads: number[] = []
  for (const f of faces) {
    const m = f.map((v, i) => middle(v, f[(i + 1) % f.length]))
    const c = mean(f)
    f.forEach((v, i) => quads.push(v, m[i], c, m[(i + f.length - 1) % f.length]))
  }
  return { net: { positions: Float32Array.from(points), quads: Uint32Array.from(quads) }, divided: true }
}
