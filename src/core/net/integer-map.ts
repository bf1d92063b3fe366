/**
 * A map of a cut skin into the plane whose gradients follow the crosses, with whole numbers wherever the cuts meet again, so that the lines
 * of the whole numbers run on over the skin (Bommes, Zimmer & Kobbelt 2009). The whole numbers are rounded one by one, each time the one that
 * costs least; the factor and what the whole numbers see of it do not depend on the size of the quads and are kept.
 */
import { checkStop, quiet, type Work } from '@/core/base/work'
import { SparseFactor, SparseSum } from '@/core/math/sparse-cholesky'
import { nextIn } from '@/core/mesh/topology'
import { triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { cotangent, type Frames } from './cross-field'
import type { CutSkin } from './cut/cut'
import type { Form } from './cut/form'

/** Cotangents beyond these make needles rule the whole. */
const [leastCot, mostCot] = [0.02, 5]
/** How strongly a crease keeps to its line. */
const creasePull = 50

/** Places of the corners of all triangles in the map, u v, u v, ..., two for each corner. */
export type CornerPlaces = Float64Array

export interface MapSolver {
  /** @param size edge of the quads at each triangle, mm */
  solve(size: ArrayLike<number>, work?: Work): CornerPlaces
}

/** Real unknowns: two for each complex one. */
type Row = [number, number][]

/** The two real rows of a form: coordinates u and v. */
function rowsOf(f: Form): [Row, Row] {
  const u: Row = []
  const v: Row = []
  for (const [k, x, y] of f) {
    if (x) {
      u.push([2 * k, x])
      v.push([2 * k + 1, x])
    }
    if (y) {
      u.push([2 * k + 1, -y])
      v.push([2 * k, y])
    }
  }
  return [u, v]
}

const less = (a: Row, b: Row): Row => {
  if (a.length === 1 && b.length === 1 && a[0][0] !== b[0][0]) return [a[0], [b[0][0], -b[0][1]]]
  const out = new Map(a)
  for (const [k, v] of b) out.set(k, (out.get(k) ?? 0) - v)
  return [...out].filter(([, v]) => Math.abs(v) > 1e-12)
}

/** The unknowns that creases keep on whole numbers, and which of them are one: those of one run of a crease on one side of the cuts. */
interface CreaseRuns {
  readonly held: readonly number[]
  readonly count: number
  numberOf(unknown: number): number
}

function creaseRuns(frames: Frames, cut: CutSkin, creases: Uint8Array, halfEdges: number): CreaseRuns {
  const runOf = new Map<number, number>()
  const find = (a: number): number => {
    let r = a
    while (runOf.get(r) !== r) r = runOf.get(r)!
    runOf.set(a, r)
    return r
  }
  const held: number[] = []
  for (let h = 0; h < halfEdges; h++) {
    if (!creases[h]) continue
    const t = (h / 3) | 0
    const a = frames.angle[h] - cut.axis[t]
    // Along the first axis the second coordinate stays.
    const c = Math.abs(Math.cos(a)) > Math.abs(Math.sin(a)) ? 1 : 0
    const [i, j] = [2 * cut.wedge[h] + c, 2 * cut.wedge[nextIn(h)] + c]
    for (const x of [i, j]) if (!runOf.has(x)) runOf.set(x, x)
    runOf.set(find(i), find(j))
    held.push(i, j)
  }
  const runs = new Map<number, number>()
  for (const x of held) if (!runs.has(find(x))) runs.set(find(x), runs.size)
  return { held, count: runs.size, numberOf: (x) => runs.get(find(x))! }
}

/** The normal equations in blocks: A over the free unknowns, B between, C over the whole ones. */
class Blocks {
  readonly a: SparseSum
  readonly b: Map<number, number>[]
  readonly c: Float64Array

  constructor(
    readonly free: number,
    readonly whole: number,
  ) {
    this.a = new SparseSum(free)
    this.b = Array.from({ length: whole }, () => new Map<number, number>())
    this.c = new Float64Array(whole * whole)
  }

  /** Rows along long cuts hold few free unknowns and hundreds of whole ones. */
  add(row: Row, weight: number): void {
    const { a, b, c, free, whole } = this
    const own = row.filter(([k]) => k < free)
    const others = row.filter(([k]) => k >= free)
    const at = Int32Array.from(others, ([k]) => k - free)
    const value = Float64Array.from(others, ([, v]) => v)
    for (const [k, x] of own) {
      for (const [l, y] of own) if (l <= k) a.add(k, l, weight * x * y)
      for (let e = 0; e < at.length; e++) {
        const column = b[at[e]]
        column.set(k, (column.get(k) ?? 0) + weight * x * value[e])
      }
    }
    for (let d = 0; d < at.length; d++) {
      const first = at[d] * whole
      const v = weight * value[d]
      for (let e = 0; e < at.length; e++) c[first + at[e]] += v * value[e]
    }
  }
}

/** For each half-edge: the rows of the difference of its ends, what they are to be at a size of 1, and their weight. */
interface Term {
  readonly rows: readonly [Row, Row]
  readonly weight: number
  readonly t: number
  readonly re: number
  readonly im: number
}

function termsOf(mesh: TriMesh, frames: Frames, cut: CutSkin, corner: readonly [Row, Row][]): Term[] {
  const { positions: p, triangles } = mesh
  return Array.from(triangles, (_, h) => {
    const t = (h / 3) | 0
    const weight = Math.min(mostCot, Math.max(leastCot, cotangent(mesh, h)))
    const [i, j] = [corner[cut.wedge[h]], corner[cut.wedge[nextIn(h)]]]
    const rows: [Row, Row] = [less(j[0], i[0]), less(j[1], i[1])]
    const [s, e] = [3 * triangles[h], 3 * triangles[nextIn(h)]]
    const l = Math.hypot(p[e] - p[s], p[e + 1] - p[s + 1], p[e + 2] - p[s + 2])
    const angle = frames.angle[h] - cut.axis[t]
    return { rows, weight, t, re: l * Math.cos(angle), im: l * Math.sin(angle) }
  })
}

/** What the whole numbers see of the rest: columns of B, and what they leave of C when the free unknowns follow (Schur's complement). */
class Behind {
  private readonly between: { readonly at: Int32Array; readonly value: Float64Array }[]
  readonly inverse: Float64Array

  /** @param rounded the whole unknowns that are rounded; others are pinned */
  constructor(
    factor: SparseFactor,
    { b, c, free, whole }: Blocks,
    private readonly rounded: readonly number[],
  ) {
    this.between = b.map((column) => ({
      at: Int32Array.from(column.keys()),
      value: Float64Array.from(column.values()),
    }))
    const behind = this.between.map(({ at, value }) => {
      const r = new Float64Array(free)
      at.forEach((k, e) => (r[k] = value[e]))
      return factor.solve(r)
    })
    const m = rounded.length
    const schur = new Float64Array(m * m)
    for (let i = 0; i < m; i++)
      for (let j = 0; j <= i; j++) {
        const v = c[rounded[i] * whole + rounded[j]] - this.seen(rounded[i], behind[rounded[j]])
        schur[i * m + j] = schur[j * m + i] = v
      }
    let most = 1e-300
    for (let i = 0; i < m; i++) most = Math.max(most, schur[i * m + i])
    for (let i = 0; i < m; i++) schur[i * m + i] += 1e-9 * most
    this.inverse = inverseOf(schur, m)
  }

  /** A column of B times values of the free unknowns. */
  seen(i: number, x: Float64Array): number {
    const { at, value } = this.between[i]
    let sum = 0
    for (let e = 0; e < at.length; e++) sum += value[e] * x[at[e]]
    return sum
  }

  /** Takes from a right side what rounded unknowns say of it. */
  takeFrom(right: Float64Array, values: Float64Array): void {
    this.rounded.forEach((w, i) => {
      const { at, value } = this.between[w]
      for (let e = 0; e < at.length; e++) right[at[e]] -= value[e] * values[i]
    })
  }
}

/** @param creases 1 for half-edges along which one coordinate is a whole number */
export function mapSolver(mesh: TriMesh, frames: Frames, cut: CutSkin, creases: Uint8Array): MapSolver {
  const n = triangleCount(mesh)
  const corner = Array.from({ length: cut.wedges }, (_, w) => rowsOf(cut.places[w]))
  const free = 2 * cut.free
  const runs = creaseRuns(frames, cut, creases, 3 * n)
  const whole = 2 * cut.whole + runs.count
  const total = free + whole
  const pinned = new Set(cut.pinned < 0 ? [] : [2 * cut.pinned, 2 * cut.pinned + 1])
  const blocks = new Blocks(free, whole)
  const terms = termsOf(mesh, frames, cut, corner)
  for (const { rows, weight } of terms) for (const row of rows) blocks.add(row, weight)
  for (const x of runs.held)
    blocks.add([...corner[x >> 1][x & 1], [total - runs.count + runs.numberOf(x), -1]], creasePull)
  // Nothing else holds a map without singular places and creases.
  if (!whole || (pinned.size === 0 && !runs.count)) for (let k = 0; k < 2; k++) blocks.a.add(k, k, 1)
  const standing = new Float64Array(3 * free)
  for (let k = 0; k < cut.free; k++) {
    const v = vertex(mesh, cut.at[k])
    standing.set(v, 6 * k)
    standing.set(v, 6 * k + 3)
  }
  const factor = SparseFactor.of(blocks.a, standing)
  if (!factor) return { solve: () => new Float64Array(6 * n) }
  const rounded = Array.from({ length: whole }, (_, i) => i).filter((i) => !pinned.has(free + i))
  const m = rounded.length
  const behind = new Behind(factor, blocks, rounded)

  return {
    solve(size, work = quiet) {
      checkStop(work)
      const right = new Float64Array(total)
      for (const { rows, weight, t, re, im } of terms) {
        const w = weight / size[t]
        for (const [k, x] of rows[0]) right[k] += w * re * x
        for (const [k, x] of rows[1]) right[k] += w * im * x
      }
      const base = factor.solve(right.subarray(0, free))
      const r = new Float64Array(m)
      for (let i = 0; i < m; i++) r[i] = right[free + rounded[i]] - behind.seen(rounded[i], base)
      const y = roundOneByOne(behind.inverse, r, m, work)
      const rest = right.slice(0, free)
      behind.takeFrom(rest, y)
      const all = new Float64Array(total)
      all.set(factor.solve(rest))
      rounded.forEach((k, i) => (all[free + k] = y[i]))
      const out = new Float64Array(6 * n)
      for (let h = 0; h < 3 * n; h++)
        for (let q = 0; q < 2; q++) {
          let v = 0
          for (const [k, f] of corner[cut.wedge[h]][q]) v += f * all[k]
          out[2 * h + q] = v
        }
      return out
    },
  }
}

/** The inverse of a dense symmetric positive definite matrix, by its Cholesky factor. */
function inverseOf(a: Float64Array, n: number): Float64Array {
  const l = a.slice()
  for (let i = 0; i < n; i++)
    for (let j = 0; j <= i; j++) {
      let s = l[i * n + j]
      for (let k = 0; k < j; k++) s -= l[i * n + k] * l[j * n + k]
      l[i * n + j] = i === j ? Math.sqrt(Math.max(s, 1e-300)) : s / l[j * n + j]
    }
  const out = new Float64Array(n * n)
  const x = new Float64Array(n)
  for (let c = 0; c < n; c++) {
    x.fill(0)
    x[c] = 1
    for (let i = c; i < n; i++) {
      let s = x[i]
      for (let k = c; k < i; k++) s -= l[i * n + k] * x[k]
      x[i] = s / l[i * n + i]
    }
    for (let i = n - 1; i >= 0; i--) {
      let s = x[i]
      for (let k = i + 1; k < n; k++) s -= l[k * n + i] * x[k]
      x[i] = s / l[i * n + i]
    }
    for (let i = 0; i < n; i++) out[i * n + c] = x[i]
  }
  return out
}

/** The unknown whose rounding costs least is rounded, and the others follow; until all are whole. */
function roundOneByOne(inverse: Float64Array, r: Float64Array, n: number, work: Work): Float64Array {
  let s = inverse.slice()
  // What is left of the matrix is drawn together whenever half of it is done.
  const row = Int32Array.from(inverse.subarray(0, n), (_, i) => i)
  let side = n
  const y = new Float64Array(n)
  for (let i = 0; i < n; i++) for (let j = 0; j < n; j++) y[i] += s[i * n + j] * r[j]
  const left = Int32Array.from(y.keys())
  const column = new Float64Array(n)
  for (let count = n; count > 0; count--) {
    if ((count & 31) === 0) checkStop(work)
    if (count < side / 2) {
      const to = new Float64Array(count * count)
      for (let a = 0; a < count; a++)
        for (let e = 0; e < count; e++) to[a * count + e] = s[row[left[a]] * side + row[left[e]]]
      left.subarray(0, count).forEach((i, a) => (row[i] = a))
      ;[s, side] = [to, count]
    }
    let best = -1
    let least = Infinity
    for (let a = 0; a < count; a++) {
      const i = left[a]
      const off = y[i] - Math.round(y[i])
      const cost = (off * off) / Math.max(s[row[i] * side + row[i]], 1e-300)
      if (cost < least) {
        least = cost
        best = a
      }
    }
    if (best < 0) break
    const done = left[best]
    const at = row[done]
    const own = s[at * side + at]
    const off = Math.round(y[done]) - y[done]
    left.copyWithin(best, best + 1, count)
    y[done] = Math.round(y[done])
    for (let a = 0; a < count - 1; a++) column[a] = s[row[left[a]] * side + at]
    for (let a = 0; a < count - 1; a++) {
      const f = column[a] / own
      y[left[a]] += f * off
      if (!f) continue
      // The matrix is symmetric: its rows are updated whole, without looking up what is done.
      const first = row[left[a]] * side
      const from = at * side
      for (let e = 0; e < side; e++) s[first + e] -= f * s[from + e]
    }
  }
  return y
}
