/**
 * What can still move in a drawing, and which of its laws say the same or contradict: by the rank of their derivatives, row by row
 * (Gram-Schmidt with a second pass; Golub & Van Loan, Matrix Computations, 5.2).
 */
import type { Owner } from './laws/formula'
import { pointsOf, type Drawing } from './drawing'
import { extentOf } from './extent'
import { lawsOf } from './laws/laws'
import { tiesOf } from './ties'
import { numbersOf, numbersOfCurve } from './unknowns'

export interface Clash {
  readonly owner: Owner
  /** The others that already say so, or the opposite. */
  readonly with: readonly Owner[]
  /** It says what does not hold; else it only says again what holds. */
  readonly conflict: boolean
}

export interface Freedom {
  /** Numbers that can still change. */
  readonly free: number
  /** Ways that each point can still go: 0, 1 or 2. */
  readonly points: readonly number[]
  /** Numbers that can still change in each curve. */
  readonly curves: readonly number[]
  readonly clashes: readonly Clash[]
}

function lengthOf(row: Float64Array): number {
  let s = 0
  for (const v of row) s += v * v
  return Math.sqrt(s)
}

/** Orthonormal rows, each made of a law's own row and those before it. */
interface Basis {
  readonly rows: Float64Array[]
  readonly laws: number[]
  /** How much of each earlier row was in a law's own, and what was left. */
  readonly shares: Float64Array[]
  readonly rest: number[]
}

/** The laws of which a row is made, given its shares in the basis. */
function mixOf(b: Basis, share: Float64Array): number[] {
  const s = Float64Array.from(share)
  const out: number[] = []
  for (let k = s.length - 1; k >= 0; k--) {
    const f = s[k] / b.rest[k]
    if (Math.abs(f) > 1e-6) out.push(b.laws[k])
    for (let j = 0; j < k; j++) s[j] -= f * b.shares[k][j]
  }
  return out.reverse()
}

const same = (a: Owner, b: Owner) => a.of === b.of && a.index === b.index

/** Rank of a small symmetric matrix with values from 0 to 1, by elimination with the greatest pivot. */
function rankOf(a: number[][]): number {
  const n = a.length
  const m = a.map((r) => [...r])
  let rank = 0
  for (let k = 0; k < n; k++) {
    let best = k
    for (let i = k; i < n; i++) if (m[i][i] > m[best][best]) best = i
    if (m[best]?.[best] < 1e-6) break
    ;[m[k], m[best]] = [m[best], m[k]]
    for (const row of m) [row[k], row[best]] = [row[best], row[k]]
    for (let i = k + 1; i < n; i++) {
      const f = m[i][k] / m[k][k]
      for (let j = k; j < n; j++) m[i][j] -= f * m[k][j]
    }
    rank++
  }
  return rank
}

/** Notes that a law says again, or against, what others say. Changes `clashes`. */
function addClash(clashes: Clash[], owner: Owner, off: boolean, others: readonly Owner[]): void {
  if (owner.of === 'arc' && !off) return
  const list: Owner[] = []
  for (const o of others) if (o.of !== 'arc' && !same(o, owner) && !list.some((p) => same(p, o))) list.push(o)
  const known = clashes.findIndex((c) => same(c.owner, owner))
  if (known < 0) clashes.push({ owner, with: list, conflict: off })
  else if (off && !clashes[known].conflict) clashes[known] = { owner, with: list, conflict: true }
}

/** Numbers by the root of what ties them together, and the place of each among its own. */
function groupsOf(find: (k: number) => number, count: number, held: ReadonlySet<number>) {
  const members = new Map<number, number[]>()
  for (let k = 0; k < count; k++) {
    if (held.has(k)) continue
    const r = find(k)
    const list = members.get(r)
    if (list) list.push(k)
    else members.set(r, [k])
  }
  const place = new Int32Array(count)
  for (const list of members.values()) list.forEach((k, i) => (place[k] = i))
  return { members, place }
}

/** Takes out of a row what lies along some unit rows, twice for the digits (Gram & Schmidt); gives how much of each. */
function takeOut(rows: readonly Float64Array[], row: Float64Array): Float64Array {
  const share = new Float64Array(rows.length)
  for (let pass = 0; pass < 2; pass++)
    rows.forEach((q, i) => {
      let s = 0
      for (let k = 0; k < row.length; k++) s += q[k] * row[k]
      if (!s) return
      for (let k = 0; k < row.length; k++) row[k] -= s * q[k]
      share[i] += s
    })
  return share
}

/** The freedom left in a drawing as it stands; see `lawsOf` for `values` and errors. */
export function freedomOf(d: Drawing, values: readonly (number | null)[]): Freedom {
  const { laws, unknowns, held } = lawsOf(d, values)
  const x = numbersOf(d, unknowns)
  const extent = extentOf(d)
  // Each group of numbers that laws tie together by itself, so that large drawings stay cheap.
  const find = tiesOf(laws, unknowns.count, held)
  const { members, place } = groupsOf(find, unknowns.count, held)
  const bases = new Map<number, Basis>()
  const clashes: Clash[] = []
  laws.forEach((l, index) => {
    const { value, slope } = l.at(x)
    const first = l.numbers.find((k) => !held.has(k))
    const off = !(Math.abs(value) <= extent * 1e-7)
    const clash = (others: readonly number[]) =>
      addClash(
        clashes,
        l.owner,
        off,
        others.map((i) => laws[i].owner),
      )
    if (first === undefined) return clash([])
    const root = find(first)
    const size = members.get(root)!.length
    const row = new Float64Array(size)
    l.numbers.forEach((k, j) => {
      if (!held.has(k)) row[place[k]] += slope[j]
    })
    const whole = lengthOf(row)
    const base: Basis = bases.get(root) ?? { rows: [], laws: [], shares: [], rest: [] }
    bases.set(root, base)
    const share = takeOut(base.rows, row)
    const rest = lengthOf(row)
    if (!(rest > 1e-7 * Math.max(whole, 1e-12))) return clash(mixOf(base, share))
    for (let k = 0; k < size; k++) row[k] /= rest
    base.rows.push(row)
    base.laws.push(index)
    base.shares.push(share)
    base.rest.push(rest)
  })
  let free = 0
  for (const [root, list] of members) free += list.length - (bases.get(root)?.rows.length ?? 0)
  /** How many ways some numbers can still change together. */
  const open = (numbers: readonly number[]) => {
    const moving = numbers.filter((k) => !held.has(k))
    return rankOf(
      moving.map((a) =>
        moving.map((b) => {
          if (find(a) !== find(b)) return 0
          let s = a === b ? 1 : 0
          for (const q of bases.get(find(a))?.rows ?? []) s -= q[place[a]] * q[place[b]]
          return s
        }),
      ),
    )
  }
  return {
    free,
    points: d.points.map((_, i) => open([2 * i, 2 * i + 1])),
    curves: d.curves.map((c, i) => open([...new Set(numbersOfCurve(d, unknowns, i, pointsOf(c)))])),
    clashes,
  }
}
