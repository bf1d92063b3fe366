/**
 * Moves a drawing until its laws hold: the least change by damped Gauss-Newton steps (Levenberg-Marquardt; Nocedal & Wright, Numerical
 * Optimization, ch. 10), each group of points that laws tie together by itself.
 */
import { solveSkyline } from '@/core/math/skyline'
import type { Law, Owner } from './laws/formula'
import type { Drawing, Place } from './drawing'
import { extentOf } from './extent'
import { lawsOf, measuresOf, type Laws } from './laws/laws'
import { groupsOf, inOrder } from './ties'
import { numbersOf, withNumbers } from './unknowns'

interface Row {
  readonly numbers: Int32Array
  readonly slope: Float64Array
  readonly value: number
  /** How willingly it gives way. */
  readonly soft: number
}

/** The least step of all numbers by which the rows come to zero, as far as `damping` lets them: the numbers and their changes. */
function leastStep(
  rows: readonly Row[],
  held: ReadonlySet<number>,
  damping: number,
): { numbers: Int32Array; change: Float64Array } | null {
  const m = rows.length
  // Entries by number, as chains through flat arrays: this runs at every move of the hand.
  let entries = 0
  for (const r of rows) entries += r.numbers.length
  const law = new Int32Array(entries),
    slope = new Float64Array(entries),
    next = new Int32Array(entries)
  const slots = new Map<number, number>()
  const heads: number[] = []
  let e = 0
  for (let i = 0; i < m; i++) {
    const r = rows[i]
    for (let j = 0; j < r.numbers.length; j++) {
      const k = r.numbers[j]
      if (held.has(k) || !r.slope[j]) continue
      let slot = slots.get(k)
      if (slot === undefined) {
        slot = heads.length
        slots.set(k, slot)
        heads.push(-1)
      }
      law[e] = i
      slope[e] = r.slope[j]
      next[e] = heads[slot]
      heads[slot] = e++
    }
  }
  const a = new Float64Array(m * m)
  for (const head of heads)
    for (let p = head; p >= 0; p = next[p]) {
      const row = law[p] * m,
        u = slope[p]
      // Chains run from the last law to the first.
      for (let q = p; q >= 0; q = next[q]) a[row + law[q]] += u * slope[q]
    }
  let most = 0
  for (let i = 0; i < m; i++) most = Math.max(most, a[i * m + i])
  for (let i = 0; i < m; i++) a[i * m + i] += (damping + rows[i].soft) * (most || 1)
  const y = Float64Array.from(rows, (r) => -r.value)
  if (!solveSkyline(a, m, y)) return null
  const change = Float64Array.from(heads, (head) => {
    let s = 0
    for (let p = head; p >= 0; p = next[p]) s += slope[p] * y[law[p]]
    return s
  })
  return { numbers: Int32Array.from(slots.keys()), change }
}

const rowOf = (l: Law, x: Float64Array): Row => {
  const { value, slope } = l.at(x)
  return { numbers: l.numbers, slope, value, soft: 0 }
}
const worst = (rows: readonly Row[]) => rows.reduce((w, r) => Math.max(w, Math.abs(r.value)), 0)
const square = (rows: readonly Row[]) => rows.reduce((s, r) => s + r.value * r.value, 0)

/** Brings the laws of one group to zero. Returns the greatest value that is left. */
function settle(
  group: readonly Law[],
  x: Float64Array,
  held: ReadonlySet<number>,
  exact: number,
  rounds: number,
): number {
  const laws = inOrder(group, held)
  let rows = laws.map((l) => rowOf(l, x))
  let damping = 1e-12
  for (let round = 0; round < rounds && worst(rows) > exact; round++) {
    const step = leastStep(rows, held, damping)
    const before = square(rows)
    if (step) {
      const kept = Float64Array.from(step.numbers, (k) => x[k])
      step.numbers.forEach((k, i) => (x[k] += step.change[i]))
      const next = laws.map((l) => rowOf(l, x))
      if (square(next) < before * (1 - 1e-6)) {
        rows = next
        damping = Math.max(1e-12, damping / 30)
        continue
      }
      step.numbers.forEach((k, i) => (x[k] = kept[i]))
    }
    damping = Math.max(damping * 30, 1e-9)
    if (damping > 1e3) break
  }
  return worst(rows)
}

export interface Solved {
  readonly drawing: Drawing
  /** Whether every law holds. */
  readonly holds: boolean
  /** Whose laws do not hold, the worst first. */
  readonly broken: readonly Owner[]
}

/** Whether all sizes are above zero. */
const sound = (d: Drawing) =>
  d.curves.every((c) => (c.kind === 'circle' ? c.radius > 0 : c.kind !== 'ellipse' || (c.long > 0 && c.short > 0)))

/** A law holds that is nearer to zero than this share of the drawing's extent. */
export const exactness = 1e-9

function solveLaws({ laws, unknowns, held }: Laws, d: Drawing, rounds: number): Solved {
  const extent = extentOf(d)
  const x = numbersOf(d, unknowns)
  const broken: { owner: Owner; off: number }[] = []
  for (const group of groupsOf(laws, unknowns.count, held)) {
    if (settle(group, x, held, extent * 1e-14, rounds) <= extent * exactness) continue
    for (const l of group) {
      const off = Math.abs(l.at(x).value)
      if (!(off <= extent * exactness)) broken.push({ owner: l.owner, off })
    }
  }
  broken.sort((a, b) => b.off - a.off)
  const drawing = withNumbers(d, unknowns, x)
  return { drawing, holds: !broken.length && sound(drawing), broken: broken.map((b) => b.owner) }
}

/** Share of itself by which a dimension may change at once; a greater change is gone in pieces, so that the drawing keeps its sense. */
const stride = 0.3

/**
 * The drawing that holds its constraints and has its dimensions, with the least change from where it is.
 * @param values what each dimension is to be, mm or degrees; null for one that is only measured
 * Throws StepError `bad-drawing` and `bad-constraint`.
 */
export function solve(d: Drawing, values: readonly (number | null)[], rounds = 60): Solved {
  const measured = measuresOf(d)
  const kinds = d.dimensions ?? []
  const far = values.reduce<number>((m, v, i) => {
    if (v === null) return m
    const from = measured[i]
    return Math.max(
      m,
      kinds[i].kind === 'angle'
        ? Math.abs(v - from) / 20
        : Math.abs(v - from) / (stride * Math.max(1e-9, Math.min(Math.abs(v), Math.abs(from)) || Math.abs(v))),
    )
  }, 0)
  const pieces = Math.max(1, Math.min(12, Math.ceil(Math.min(far, 12))))
  let at = d
  for (let i = 1; i < pieces; i++) {
    const between = values.map((v, k) => (v === null ? null : measured[k] + ((v - measured[k]) * i) / pieces))
    const s = solveLaws(lawsOf(at, between), at, rounds)
    if (!s.holds) break
    at = s.drawing
  }
  const last = solveLaws(lawsOf(at, values), at, rounds)
  return last.holds || at === d ? last : solveLaws(lawsOf(d, values), d, rounds)
}

/** Points or curves that the hand pulls, each toward a place: the drawing gives way as far as it can. */
export interface Pull {
  readonly point: number
  readonly to: Place
}

/**
 * The drawing while it is pulled: its laws hold, and what is pulled comes as near to its place as they let it.
 * `sizes`: a circle's radius that is pulled, by curve.
 */
export function drag(
  d: Drawing,
  values: readonly (number | null)[],
  pulls: readonly Pull[],
  sizes: readonly { readonly curve: number; readonly to: number }[] = [],
): Solved {
  const all = lawsOf(d, values)
  const x = numbersOf(d, all.unknowns)
  const wishes = [
    ...pulls.flatMap(({ point, to }) => [
      { number: 2 * point, to: to[0] },
      { number: 2 * point + 1, to: to[1] },
    ]),
    ...sizes.map(({ curve, to }) => ({ number: all.unknowns.own[curve], to })),
  ]
    .filter((w) => w.number >= 0 && !all.held.has(w.number))
    .map(({ number, to }): Law => ({
      owner: { of: 'arc', index: -1 },
      numbers: Int32Array.of(number),
      at: (now) => ({ value: now[number] - to, slope: Float64Array.of(1) }),
    }))
  // Only what hangs together with what is pulled moves at all.
  const pulled = new Set(wishes.map((w) => w.numbers[0]))
  const groups = groupsOf(all.laws, all.unknowns.count, all.held)
  const touched = groups.filter((g) => g.some((l) => l.numbers.some((k) => pulled.has(k))))
  const laws = touched.flat()
  const ordered = inOrder([...laws, ...wishes], all.held)
  for (let round = 0; round < 3; round++) {
    const rows = ordered.map((l): Row => ({ ...rowOf(l, x), soft: wishes.includes(l) ? 1e-3 : 0 }))
    const step = leastStep(rows, all.held, 1e-12)
    if (!step) break
    let most = 0
    step.numbers.forEach((k, i) => {
      x[k] += step.change[i]
      most = Math.max(most, Math.abs(step.change[i]))
    })
    if (most < 1e-4 * extentOf(d)) break
  }
  const near = withNumbers(d, all.unknowns, x)
  if (!sound(near)) return { drawing: d, holds: true, broken: [] }
  const s = solveLaws({ ...all, laws }, near, 30)
  return s.holds ? s : { drawing: d, holds: false, broken: s.broken }
}
