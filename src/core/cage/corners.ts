/**
 * Where the limit of a cage is an exact cubic spline: what each corner of a quad sees of its vertex, and the ways in which edges leave it
 * (Catmull & Clark 1978; creases by mirrored control points, which give the same rules: DeRose, Kass & Truong 1998).
 */
import { placeAt } from '@/core/mesh/tri-mesh'
import { edgeKey } from '@/core/mesh/edge-key'
import { nextInQuad, prevInQuad } from '@/core/mesh/quad-mesh'
import { cross, normalize, type Vec3 } from '@/core/math/vec'
import {
  cageTopology,
  limitPlaces,
  limitTangent,
  spokesOf,
  vertexRules,
  type Cage,
  type CageTopology,
  type VertexRule,
} from '@/core/subdivision/subdivide'

export interface LimitFrame {
  readonly cage: Cage
  readonly topology: CageTopology
  readonly rules: readonly VertexRule[]
  readonly limit: Float64Array
  /** 1 for half-edges that are creases or at a rim. */
  readonly sharp: Uint8Array
  /** 1 for half-edges whose own corner, in their own quad, is regular. */
  readonly regular: Uint8Array
}

export function limitFrame(cage: Cage): LimitFrame {
  const { quads, creases } = cage
  const topology = cageTopology(cage)
  const rules = vertexRules(cage, topology)
  const sharp = new Uint8Array(quads.length)
  for (let h = 0; h < quads.length; h++)
    sharp[h] = topology.twin[h] < 0 || (creases.get(edgeKey(quads[h], quads[nextInQuad(h)])) ?? 0) > 0 ? 1 : 0
  const regular = new Uint8Array(quads.length)
  for (let v = 0; v < rules.length; v++) {
    const spokes = spokesOf(topology, v)
    const n = spokes.length
    if (!n) continue
    const { corner, ends } = rules[v]
    const first = spokes.findIndex((h) => sharp[h])
    if (first < 0) {
      if (n === 4 && !corner) for (const h of spokes) regular[h] = 1
      continue
    }
    if (!corner && !ends) continue // a crease that ends here
    // Sectors between creases, from the first one on.
    const round = [...spokes.slice(first), ...spokes.slice(0, first)]
    for (let i = 0; i < n;) {
      let j = i + 1
      while (j < n && !sharp[round[j]]) j++
      if (j - i === (corner ? 1 : 2)) for (let k = i; k < j; k++) regular[round[k]] = 1
      i = j
    }
  }
  return { cage, topology, rules, limit: limitPlaces(cage), sharp, regular }
}

const minus = (p: ArrayLike<number>, a: number, b: number): Vec3 => [
  p[3 * a] - p[3 * b],
  p[3 * a + 1] - p[3 * b + 1],
  p[3 * a + 2] - p[3 * b + 2],
]
const sum = (list: readonly (readonly [Vec3, number])[]): Vec3 =>
  [0, 1, 2].map((k) => list.reduce((s, [v, w]) => s + w * v[k], 0)) as unknown as Vec3

/** How an edge leaves its vertex on the limit surface: `exact` where this is the derivative, else only its direction is meant; null: not told. */
export interface Leaving {
  readonly way: Vec3
  readonly exact: boolean
  /** Where the surface tells no more than the plane of the edge's way: two ways that span it, or all three axes at a corner. */
  readonly within?: readonly Vec3[]
}

/** @param h half-edge whose start is asked about; its quad tells the side of a crease */
export function leavingWay(f: LimitFrame, h: number): Leaving | null {
  const { cage, topology: t, rules, sharp } = f
  const { positions: p, quads } = cage
  const v = quads[h]
  const w = quads[nextInQuad(h)]
  const rule = rules[v]
  if (rule.corner) {
    const way = minus(p, w, v)
    return sharp[h] ? { way, exact: true } : { way, exact: false, within: axes }
  }
  const spokes = spokesOf(t, v)
  if (!rule.ends) {
    if (spokes.some((s) => sharp[s])) return null
    const way = limitTangent(p, quads, spokes, spokes.indexOf(h))
    return { way, exact: spokes.length === 4 }
  }
  const [a, b] = rule.ends
  if (w === a || w === b) return { way: sum([[minus(p, w, w === a ? b : a), 0.5]]), exact: true }
  const s = sectorAt(f, h)
  if (!s) return null
  const turn = (s.at * Math.PI) / s.faces.length
  const way = sum([
    [s.along, Math.cos(turn)],
    [s.across, Math.sin(turn)],
  ])
  // Of more than two quads inner edges bend towards one way, the sooner the nearer: a cubic follows best that may leave as it likes.
  return s.faces.length === 2 ? { way, exact: true } : { way, exact: false, within: [s.along, s.across] }
}
const axes: readonly Vec3[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
]

/** What lies between two creases that run through a vertex: the ways along the first of them and across, into the surface. */
interface Sector {
  readonly along: Vec3
  readonly across: Vec3
  /** Half-edges that leave the vertex, one for each quad. */
  readonly faces: readonly number[]
  /** The place of the asked half-edge among them. */
  readonly at: number
}

/** The sector of a half-edge's quad at its start; null where creases do not run through there. */
function sectorAt({ cage, topology: t, rules, sharp }: LimitFrame, h: number): Sector | null {
  const { positions: p, quads } = cage
  const v = quads[h]
  if (!rules[v].ends) return null
  const spokes = spokesOf(t, v)
  let from = spokes.indexOf(h)
  while (!sharp[spokes[from]]) from = (from + spokes.length - 1) % spokes.length
  const faces: number[] = []
  for (let i = 0; i < spokes.length; i++) {
    const s = spokes[(from + i) % spokes.length]
    if (i && sharp[s]) break
    faces.push(s)
  }
  const k = faces.length
  const edges = [...faces.map((s) => quads[nextInQuad(s)]), quads[prevInQuad(faces[k - 1])]]
  const along = sum([[minus(p, edges[0], edges[k]), 0.5]])
  const at = faces.indexOf(h)
  if (k === 1) return { along, across: minus(p, quads[nextInQuad(nextInQuad(h))], v), faces, at }
  const mask = acrossMask(k)
  const terms: [Vec3, number][] = [[placeAt(p, v), mask.vertex]]
  for (let i = 0; i <= k; i++) terms.push([placeAt(p, edges[i]), i === 0 || i === k ? mask.crease : mask.edges[i]])
  faces.forEach((s, i) => terms.push([placeAt(p, quads[nextInQuad(nextInQuad(s))]), mask.faces[i]]))
  return { along, across: sum(terms), faces, at }
}

/**
 * How the vertex of a crease, its neighbours on the crease, the inner edges and the far corners of k quads make up the way across the crease:
 * the left eigenvector of one step of subdivision whose inner edges weigh as half a sine wave over the sector (derived as in Halstead, Kass &
 * DeRose 1993, for the rules of DeRose, Kass & Truong 1998). Its length is that of the edges where they are spread evenly.
 */
function acrossMask(k: number): { vertex: number; crease: number; edges: number[]; faces: number[] } {
  const theta = Math.PI / k
  const [c, s] = [1 + Math.cos(theta), Math.sin(theta)]
  const sine = (i: number) => Math.sin(i * theta)
  const mu = (c / 8 + Math.sqrt((c * c) / 64 + c / 8)) / 2
  const lambda = mu + 1 / 4
  const far = 1 / (16 * mu)
  const all = c / s
  // Two equations are left, for the vertex and the crease.
  const own = s * (1 / 16 + far / 4)
  const rest = (3 / 8 + far / 2) * all
  const half = lambda - 1 / 2
  const vertex = (own + half * rest) / (half * (lambda - 3 / 4) - 1 / 8)
  const crease = vertex * (lambda - 3 / 4) - rest
  const edges = Array.from({ length: k + 1 }, (_, i) => (i && i < k ? sine(i) : 0))
  const faces = Array.from({ length: k }, (_, i) => far * (sine(i) + sine(i + 1)))
  const length =
    edges.reduce((sum, w, i) => sum + w * sine(i), 0) +
    faces.reduce((sum, w, i) => sum + w * (sine(i) + sine(i + 1)), 0)
  const scaled = (w: number) => w / length
  return { vertex: scaled(vertex), crease: scaled(crease), edges: edges.map(scaled), faces: faces.map(scaled) }
}

/** Unit normal of the limit surface at the corner of a half-edge, in its quad; null where it is not told. */
export function limitNormal(f: LimitFrame, h: number): Vec3 | null {
  const sector = sectorAt(f, h)
  if (sector) {
    const n = cross(sector.along, sector.across)
    return Math.hypot(...n) > 0 ? normalize(n) : null
  }
  const out = leavingWay(f, h)
  // The edge that comes in, as it leaves: from its other side, or at a rim by the rule of the rim.
  const back = prevInQuad(h)
  const over = f.topology.twin[back]
  const { cage, rules } = f
  const v = cage.quads[h]
  const rule = rules[v]
  let other: Leaving | null
  if (over >= 0) other = leavingWay(f, over)
  else {
    const w = cage.quads[back]
    other = rule.corner ? { way: minus(cage.positions, w, v), exact: true } : null
  }
  if (!out || !other) return null
  const n = cross(out.way, other.way)
  return Math.hypot(...n) > 1e-12 * Math.hypot(...out.way) * Math.hypot(...other.way) ? normalize(n) : null
}
