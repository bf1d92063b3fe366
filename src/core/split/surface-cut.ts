/**
 * Cuts a mesh, open or closed, sound or not, by any other surface: both sides, told apart, with the cut line as a clean rim.
 * Each pierced triangle is triangulated anew round the cut (constrained Delaunay); signs come from exact predicates (Shewchuk 1997).
 */
import { edgeKey } from '@/core/mesh/edge-key'
import Constrainautor from '@kninnug/constrainautor'
import Delaunator from 'delaunator'
import { orient3d } from 'robust-predicates'
import { DisjointSets } from '@/core/math/disjoint-sets'
import { addScaled, cross, distance, dot, length, sub, type Vec3 } from '@/core/math/vec'
import { buildBoxTree, visitNear } from '@/core/mesh/box-tree'
import { buildTopology, nextIn } from '@/core/mesh/topology'
import {
  compact,
  diagonal,
  keepTriangles,
  meshBounds,
  placeAt,
  triangleCount,
  type TriMesh,
} from '@/core/mesh/tri-mesh'
import { referenceOf, signedDistance } from '@/core/gauge/deviation'
import { StepError } from '@/core/base/step-error'
import { checkStop, quiet, type Work } from '@/core/base/work'

export interface SurfaceCut {
  /** Side the cutter's normals point to, and the other. */
  readonly above: TriMesh
  readonly below: TriMesh
  readonly aboveFrom: Uint32Array
  readonly belowFrom: Uint32Array
  /** Vertices of each side that lie on the cut. */
  readonly aboveRim: Uint8Array
  readonly belowRim: Uint8Array
  /** Length of the cut, mm. */
  readonly length: number
  /** Both sides, covered by the cutter's own part within the mesh; only where that was asked and the cutter passes right through. */
  readonly covered?: { readonly above: TriMesh; readonly below: TriMesh }
  /** Parts that hang together across the cutter because it does not pass right through them. */
  readonly undivided: number
}

/** The cutter is shifted by this share of the diagonal, so that no corner lies exactly on a face; below single precision. */
const shiftShare = 3e-8
class Degenerate extends Error {}

/**
 * Cuts a mesh along another one, triangle by triangle (constrained Delaunay on exact signs), and tells which side each part lies on.
 * `cap`: both sides of a closed mesh are covered by what of the cutter lies within it.
 */
export function cutBySurface(mesh: TriMesh, cutter: TriMesh, work: Work = quiet, cap = false): SurfaceCut {
  for (let round = 0; round < 6; round++) {
    try {
      return attempt(mesh, cutter, round, work, cap)
    } catch (error) {
      if (!(error instanceof Degenerate)) throw error
    }
  }
  throw new StepError('degenerate-cut', 'The cutter lies exactly along faces of the body.', {
    tryThis: 'Move the cutter by a hundredth of a millimetre.',
  })
}

function sign(a: Vec3, b: Vec3, c: Vec3, d: Vec3): number {
  const s = orient3d(a[0], a[1], a[2], b[0], b[1], b[2], c[0], c[1], c[2], d[0], d[1], d[2])
  if (s === 0) throw new Degenerate()
  return s > 0 ? 1 : -1
}

/** Where the segment de goes through the triangle abc, or null; the share of the way is found from the plane. */
function pierce(a: Vec3, b: Vec3, c: Vec3, d: Vec3, e: Vec3): Vec3 | null {
  if (sign(a, b, c, d) === sign(a, b, c, e)) return null
  const s = sign(d, e, a, b)
  if (sign(d, e, b, c) !== s || sign(d, e, c, a) !== s) return null
  const n = cross(sub(b, a), sub(c, a))
  const hd = dot(n, sub(d, a)),
    he = dot(n, sub(e, a))
  const t = Math.max(0, Math.min(1, hd / (hd - he)))
  return [d[0] + t * (e[0] - d[0]), d[1] + t * (e[1] - d[1]), d[2] + t * (e[2] - d[2])]
}

const addTo = <K>(lists: Map<K, number[]>, key: K, more: readonly number[]): void => {
  const list = lists.get(key)
  if (list) list.push(...more)
  else lists.set(key, [...more])
}

/** What a cutter cuts a mesh in: new points, numbered after the mesh's own, on its edges and in its triangles. */
class Traces {
  readonly points: number[] = []
  /** Points on each edge of the mesh, by its ends. */
  readonly onEdge = new Map<string, number[]>()
  /** Cut segments in each triangle: both ends, and the cutter's triangle they lie on. */
  readonly cuts = new Map<number, number[]>()
  /** The same of the cutter: points on its edges, and segments in its triangles with the mesh's triangle they lie on. */
  readonly onCutterEdge = new Map<string, number[]>()
  readonly cutterCuts = new Map<number, number[]>()
  readonly base: number
  private readonly made = new Map<string, number>()
  constructor(
    private readonly mesh: TriMesh,
    private readonly cutter: TriMesh,
    /** The cutter's places, shifted. */
    private readonly q: Float64Array,
  ) {
    this.base = mesh.positions.length / 3
  }

  place(v: number): Vec3 {
    return v < this.base ? placeAt(this.mesh.positions, v) : placeAt(this.points, v - this.base)
  }

  private point(key: string, at: Vec3): number {
    let v = this.made.get(key)
    if (v === undefined) {
      v = this.base + this.points.length / 3
      this.points.push(at[0], at[1], at[2])
      this.made.set(key, v)
    }
    return v
  }

  /** Where the sides of a mesh triangle pierce one of the cutter. `sa`: the sides of its corners. */
  private throughSides(v: readonly number[], A: readonly Vec3[], B: readonly Vec3[], s: number, sa: readonly number[]) {
    const ends: number[] = []
    for (let c = 0; c < 3; c++) {
      const d = (c + 1) % 3
      if (sa[c] === sa[d]) continue
      const lo = v[c] < v[d] ? c : d,
        hi = lo === c ? d : c
      const edge = `${v[lo]} ${v[hi]}`
      const x = pierce(B[0], B[1], B[2], A[lo], A[hi])
      if (!x) continue
      const key = `e${edge} ${s}`
      const known = this.made.has(key)
      const id = this.point(key, x)
      if (!known) addTo(this.onEdge, edge, [id])
      ends.push(id)
    }
    return ends
  }

  /** Cuts triangle t of the mesh by triangle s of the cutter. */
  cut(t: number, s: number): void {
    const { triangles: k } = this.mesh
    const { triangles: m } = this.cutter
    const v = [k[3 * t], k[3 * t + 1], k[3 * t + 2]]
    const w = [m[3 * s], m[3 * s + 1], m[3 * s + 2]]
    const A = v.map((i) => placeAt(this.mesh.positions, i))
    const B = w.map((i) => placeAt(this.q, i))
    const sa = A.map((x) => sign(B[0], B[1], B[2], x))
    if (sa[0] === sa[1] && sa[1] === sa[2]) return
    const ends = this.throughSides(v, A, B, s, sa)
    for (let c = 0; c < 3 && ends.length < 3; c++) {
      const d = (c + 1) % 3
      const lo = w[c] < w[d] ? c : d,
        hi = lo === c ? d : c
      const x = pierce(A[0], A[1], A[2], B[lo], B[hi])
      if (!x) continue
      const edge = `${w[lo]} ${w[hi]}`
      const key = `t${t} ${edge}`
      const known = this.made.has(key)
      const id = this.point(key, x)
      if (!known) addTo(this.onCutterEdge, edge, [id])
      ends.push(id)
    }
    if (ends.length !== 2) {
      if (ends.length) throw new Degenerate()
      return
    }
    if (ends[0] === ends[1]) return
    addTo(this.cuts, t, [ends[0], ends[1], s])
    addTo(this.cutterCuts, s, [ends[0], ends[1], t])
  }
}

/** The mesh with its triangles cut along the traces; `cutEdges`: which cutter triangle each cut edge lies on, by both ends. */
function divided(mesh: TriMesh, traces: Traces) {
  const { positions: p, triangles: k } = mesh
  const all = (v: number) => traces.place(v)
  const triangles: number[] = [],
    from: number[] = []
  const cutEdges = new Map<number, number>()
  let length = 0
  for (let t = 0; t < triangleCount(mesh); t++) {
    const v = [k[3 * t], k[3 * t + 1], k[3 * t + 2]]
    const edges = [0, 1, 2].map((c) => {
      const [a, b] = [v[c], v[(c + 1) % 3]]
      return traces.onEdge.get(a < b ? `${a} ${b}` : `${b} ${a}`) ?? []
    })
    const segments = traces.cuts.get(t) ?? []
    if (!segments.length && !edges.some((e) => e.length)) {
      triangles.push(v[0], v[1], v[2])
      from.push(t)
      continue
    }
    for (let i = 0; i < segments.length; i += 3) {
      const key = edgeKey(segments[i], segments[i + 1])
      if (!cutEdges.has(key)) length += distance(all(segments[i]), all(segments[i + 1]))
      cutEdges.set(key, segments[i + 2])
    }
    for (const tri of retriangulate(v, edges, segments, all)) {
      triangles.push(tri[0], tri[1], tri[2])
      from.push(t)
    }
  }
  const positions = new Float32Array(p.length + traces.points.length)
  positions.set(p)
  positions.set(traces.points, p.length)
  return { whole: { positions, triangles: Uint32Array.from(triangles) }, from, cutEdges, length }
}

function attempt(mesh: TriMesh, cutter: TriMesh, round: number, work: Work, cap: boolean): SurfaceCut {
  const scale = diagonal(meshBounds(mesh)) || 1
  const shift = [0.7548776662, 0.5698402909, 0.3287].map((v) => (v + 0.31 * round) * shiftShare * (round + 1) * scale)
  const q = Float64Array.from(cutter.positions, (v, i) => v + shift[i % 3])
  const traces = new Traces(mesh, cutter, q)
  const tree = buildBoxTree(cutter)
  const slack = 2 * Math.max(...shift)
  const count = triangleCount(mesh)
  for (let t = 0; t < count; t++) {
    if ((t & 8191) === 0) {
      checkStop(work)
      work.progress((0.6 * t) / count, 'cutting')
    }
    visitNear(tree, mesh, t, slack, (s) => traces.cut(t, s))
  }
  const { whole, from, cutEdges, length } = divided(mesh, traces)
  checkStop(work)
  work.progress(0.8, 'telling sides apart')
  const { side, undivided } = sides(whole, cutEdges, (v) => traces.place(v), q, cutter)
  const cover = cap && !undivided ? withinMesh(mesh, cutter, traces, q) : []
  const half = (want: number) => {
    const kept = keepTriangles(
      whole,
      side.map((s) => (s === want ? 1 : 0)),
    )
    const rim = new Uint8Array(kept.mesh.positions.length / 3)
    kept.triangleFrom.forEach((t, i) => {
      for (let c = 0; c < 3; c++) if (whole.triangles[3 * t + c] >= traces.base) rim[kept.mesh.triangles[3 * i + c]] = 1
    })
    return { mesh: kept.mesh, from: kept.triangleFrom.map((t) => from[t]), rim }
  }
  const a = half(1),
    b = half(0)
  return {
    ...(cover.length ? { covered: covered(whole, side, cover, traces, q) } : {}),
    above: a.mesh,
    below: b.mesh,
    aboveFrom: a.from,
    belowFrom: b.from,
    aboveRim: a.rim,
    belowRim: b.rim,
    length,
    undivided,
  }
}

/** Corners of the cutter are numbered from here on, beside those of the mesh and the cut. */
const cutterCorner = 2 ** 31

/**
 * The triangles of the cutter that lie within a closed mesh, cut along the same points as the mesh: parts between cut edges ask those
 * edges whether they lead inward.
 */
function withinMesh(mesh: TriMesh, cutter: TriMesh, traces: Traces, q: Float64Array): number[][] {
  const { triangles: m } = cutter
  const all = (v: number) => (v >= cutterCorner ? placeAt(q, v - cutterCorner) : traces.place(v))
  const pieces: number[][] = []
  const cutEdges = new Map<string, number>()
  const keyOf = (a: number, b: number) => (a < b ? `${a} ${b}` : `${b} ${a}`)
  for (let s = 0; s < m.length / 3; s++) {
    const w = [m[3 * s], m[3 * s + 1], m[3 * s + 2]]
    const edges = [0, 1, 2].map((c) => traces.onCutterEdge.get(keyOf(w[c], w[(c + 1) % 3])) ?? [])
    const segments = traces.cutterCuts.get(s) ?? []
    const v = w.map((i) => cutterCorner + i)
    if (!segments.length && !edges.some((e) => e.length)) {
      pieces.push(v)
      continue
    }
    for (let i = 0; i < segments.length; i += 3) cutEdges.set(keyOf(segments[i], segments[i + 1]), segments[i + 2])
    pieces.push(...retriangulate(v, edges, segments, all))
  }
  const parts = new DisjointSets(pieces.length)
  const first = new Map<string, number>()
  const votes = new Float64Array(pieces.length)
  const asked = new Map<number, number>()
  const meshPlaces = Float64Array.from(mesh.positions)
  pieces.forEach((t, i) => {
    for (let c = 0; c < 3; c++) {
      const [a, b, third] = [t[c], t[(c + 1) % 3], t[(c + 2) % 3]]
      const key = keyOf(a, b)
      const cut = cutEdges.get(key)
      if (cut !== undefined) {
        const { d, l } = leaning(all(a), all(b), all(third), meshPlaces, mesh.triangles, cut)
        votes[i] += l * d
        continue
      }
      const before = first.get(key)
      if (before === undefined) first.set(key, i)
      else parts.unite(before, i)
    }
  })
  pieces.forEach((_, i) => {
    const part = parts.find(i)
    asked.set(part, (asked.get(part) ?? 0) + votes[i])
  })
  return pieces.filter((_, i) => asked.get(parts.find(i))! < 0)
}

/** Both sides of a cut mesh with the cutter's part within it as their cover, facing outward of each. */
function covered(
  whole: TriMesh,
  side: ArrayLike<number>,
  cover: readonly number[][],
  traces: Traces,
  q: Float64Array,
): { above: TriMesh; below: TriMesh } {
  const corners = new Map<number, number>()
  const positions = Array.from(whole.positions)
  const numberOf = (v: number) => {
    if (v < cutterCorner) return v
    let n = corners.get(v)
    if (n === undefined) {
      n = positions.length / 3
      positions.push(...placeAt(q, v - cutterCorner))
      corners.set(v, n)
    }
    return n
  }
  const caps = cover.map((t) => t.map(numberOf))
  const half = (want: number): TriMesh => {
    const triangles: number[] = []
    for (let t = 0; t < side.length; t++)
      if (side[t] === want) triangles.push(...whole.triangles.subarray(3 * t, 3 * t + 3))
    // The cutter's normals point to the side above: there its part closes what lies below.
    for (const [a, b, c] of caps) triangles.push(...(want ? [a, c, b] : [a, b, c]))
    return compact({ positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) })
  }
  return { above: half(1), below: half(0) }
}

/** One pierced triangle over its corners, the points on its edges, and the cut segments within it. */
function retriangulate(
  v: readonly number[],
  onEdges: readonly (readonly number[])[],
  segments: readonly number[],
  all: (v: number) => Vec3,
): number[][] {
  const A = v.map(all)
  const n = [
    (A[1][1] - A[0][1]) * (A[2][2] - A[0][2]) - (A[1][2] - A[0][2]) * (A[2][1] - A[0][1]),
    (A[1][2] - A[0][2]) * (A[2][0] - A[0][0]) - (A[1][0] - A[0][0]) * (A[2][2] - A[0][2]),
    (A[1][0] - A[0][0]) * (A[2][1] - A[0][1]) - (A[1][1] - A[0][1]) * (A[2][0] - A[0][0]),
  ]
  const axis =
    Math.abs(n[0]) >= Math.abs(n[1]) && Math.abs(n[0]) >= Math.abs(n[2]) ? 0 : Math.abs(n[1]) >= Math.abs(n[2]) ? 1 : 2
  const [i, j] = n[axis] >= 0 ? [(axis + 1) % 3, (axis + 2) % 3] : [(axis + 2) % 3, (axis + 1) % 3]
  const ids: number[] = []
  const where = new Map<number, number>()
  /** Which of the triangle's edges a point lies on, as bits; corners lie on two. */
  const lies: number[] = []
  const add = (id: number, bits: number) => {
    const have = where.get(id)
    if (have !== undefined) {
      lies[have] |= bits
      return have
    }
    where.set(id, ids.length)
    ids.push(id)
    lies.push(bits)
    return ids.length - 1
  }
  v.forEach((id, c) => add(id, (1 << c) | (1 << ((c + 2) % 3))))
  const constraints: [number, number][] = []
  onEdges.forEach((list, c) => {
    const a = all(v[c]),
      b = all(v[(c + 1) % 3])
    const along = (id: number) => {
      const x = all(id)
      return (x[0] - a[0]) * (b[0] - a[0]) + (x[1] - a[1]) * (b[1] - a[1]) + (x[2] - a[2]) * (b[2] - a[2])
    }
    const sorted = [...list].sort((x, y) => along(x) - along(y) || x - y)
    const chain = [v[c], ...sorted, v[(c + 1) % 3]].map((id) => add(id, 1 << c))
    for (let s = 0; s + 1 < chain.length; s++) constraints.push([chain[s], chain[s + 1]])
  })
  for (let s = 0; s < segments.length; s += 3) constraints.push([add(segments[s], 0), add(segments[s + 1], 0)])
  const flat = new Float64Array(2 * ids.length)
  ids.forEach((id, x) => {
    const y = all(id)
    flat[2 * x] = y[i]
    flat[2 * x + 1] = y[j]
  })
  const d = new Delaunator(flat)
  const con = new Constrainautor(d)
  for (const [a, b] of constraints) {
    if (a === b) continue
    try {
      con.constrainOne(a, b)
    } catch {
      throw new Degenerate()
    }
  }
  const out: number[][] = []
  for (let t = 0; t < d.triangles.length; t += 3) {
    const [a, b, c] = [d.triangles[t], d.triangles[t + 1], d.triangles[t + 2]]
    // Three points of one edge span nothing but rounding.
    if (lies[a] & lies[b] & lies[c]) continue
    const s =
      (flat[2 * b] - flat[2 * a]) * (flat[2 * c + 1] - flat[2 * a + 1]) -
      (flat[2 * b + 1] - flat[2 * a + 1]) * (flat[2 * c] - flat[2 * a])
    if (s === 0) continue
    out.push(s > 0 ? [ids[a], ids[b], ids[c]] : [ids[a], ids[c], ids[b]])
  }
  return out
}

/**
 * To which side of a cutter's triangle a triangle leaves a cut edge xy, z its third corner: the cosine of its inward direction with the
 * cutter's normal, and the edge's length.
 */
function leaning(x: Vec3, y: Vec3, z: Vec3, q: Float64Array, m: Uint32Array, s: number): { d: number; l: number } {
  const e = sub(y, x),
    f = sub(z, x)
  const square = dot(e, e) || 1
  const inward = addScaled(f, e, -dot(e, f) / square)
  const [o, u, w] = [0, 1, 2].map((c) => placeAt(q, m[3 * s + c]))
  const normal = cross(sub(u, o), sub(w, o))
  return { d: dot(inward, normal) / (length(inward) * length(normal) || 1), l: Math.sqrt(square) }
}

/** 1 or 0 for each triangle by the side of the cutter it lies on: parts are joined across uncut edges, and each asks its cut edges. */
function sides(
  whole: TriMesh,
  cutEdges: ReadonlyMap<number, number>,
  all: (v: number) => Vec3,
  q: Float64Array,
  cutter: TriMesh,
): { side: Uint8Array; undivided: number } {
  const topology = buildTopology(whole)
  const n = triangleCount(whole)
  const part = new Int32Array(n).fill(-1)
  const votes: [number, number][] = []
  const stack: number[] = []
  const k = whole.triangles
  for (let seed = 0; seed < n; seed++) {
    if (part[seed] >= 0) continue
    const id = votes.push([0, 0]) - 1
    part[seed] = id
    stack.push(seed)
    while (stack.length) {
      const t = stack.pop()!
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const a = k[h],
          b = k[nextIn(h)]
        const s = cutEdges.size ? cutEdges.get(edgeKey(a, b)) : undefined
        if (s !== undefined) {
          const third = [0, 1, 2].map((c) => k[3 * t + c]).find((v) => v !== a && v !== b) ?? a
          const { d, l } = leaning(all(a), all(b), all(third), q, cutter.triangles, s)
          votes[id][d > 0 ? 1 : 0] += l * Math.abs(d)
          continue
        }
        const w = topology.twin[h]
        if (w < 0) continue
        const u = (w / 3) | 0
        if (part[u] < 0) {
          part[u] = id
          stack.push(u)
        }
      }
    }
  }
  let undivided = 0
  let reference: ReturnType<typeof referenceOf> | null = null
  const first = new Int32Array(votes.length).fill(-1)
  for (let t = n - 1; t >= 0; t--) first[part[t]] = t
  const verdict = votes.map(([below, above], id) => {
    if (below || above) {
      if (Math.min(below, above) > 0.05 * Math.max(below, above)) undivided++
      return above >= below ? 1 : 0
    }
    if (!triangleCount(cutter)) return 1
    // Never cut: the side of the nearest place of the cutter.
    reference ??= referenceOf(cutter)
    const c = [0, 1, 2].map((i) => all(k[3 * first[id] + i]))
    return signedDistance(
      reference,
      (c[0][0] + c[1][0] + c[2][0]) / 3,
      (c[0][1] + c[1][1] + c[2][1]) / 3,
      (c[0][2] + c[1][2] + c[2][2]) / 3,
    ) >= 0
      ? 1
      : 0
  })
  return { side: Uint8Array.from(part, (id) => verdict[id]), undivided }
}
