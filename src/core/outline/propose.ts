/** Constraints and round sizes that a drawing nearly has: found to be proposed, never forced. */
import { wayOut } from './along'
import type { Constraint, Dimension } from './constraint'
import { endsOf, type Drawing, type Place } from './drawing'

export interface Proposal {
  readonly constraint?: Constraint
  readonly dimension?: Dimension
  /** How far the drawing is from it, mm. */
  readonly off: number
}

/** Lines that point the same way within this many degrees may be meant to. */
const sameWay = 1.5
const smooth = 4

const unit = (a: Place, b: Place): Place => {
  const l = Math.hypot(b[0] - a[0], b[1] - a[1]) || 1
  return [(b[0] - a[0]) / l, (b[1] - a[1]) / l]
}

/** Groups of numbers that lie within `reach` of the first of their group. */
function clusters(list: readonly { i: number; v: number }[], reach: number): number[][] {
  const sorted = [...list].sort((a, b) => a.v - b.v)
  const out: { v: number; members: number[] }[] = []
  for (const { i, v } of sorted) {
    const last = out[out.length - 1]
    if (last && v - last.v <= reach) last.members.push(i)
    else out.push({ v, members: [i] })
  }
  return out.map((c) => c.members).filter((m) => m.length > 1)
}

/** The round number a size may be meant as: a half millimetre, or with a finer tolerance a tenth; null where it is as near to none. */
export function roundSize(v: number, tolerance: number): number | null {
  for (const step of [1, 0.5, 0.1]) {
    const r = Math.round(v / step) * step
    if (r > 0 && Math.abs(r - v) <= Math.min(tolerance, step / 5)) return Number(r.toFixed(6))
  }
  return null
}

type Put = (kind: Constraint['kind'], curves: number[], off: number) => void

interface StraightCurve {
  readonly i: number
  readonly p: Place
  readonly q: Place
  readonly length: number
  readonly way: Place
}
interface RoundCurve {
  readonly i: number
  readonly m: Place
  /** Radius, mm. */
  readonly v: number
  readonly centre: number
  /** A circle, not an arc. */
  readonly whole: boolean
}

/** Proposes lines that are level or upright; gives them. */
function proposeLevel(lines: readonly StraightCurve[], tolerance: number, put: Put): Set<number> {
  const level = new Set<number>()
  for (const l of lines) {
    for (const [kind, off] of [
      ['horizontal', Math.abs(l.q[1] - l.p[1])],
      ['vertical', Math.abs(l.q[0] - l.p[0])],
    ] as const) {
      if (off > 2 * tolerance || off / l.length > Math.sin((sameWay * Math.PI) / 180)) continue
      level.add(l.i)
      put(kind, [l.i], off)
    }
  }
  return level
}

/** Parallel, of those that are not level: each group to its longest. */
function proposeParallel(
  lines: readonly StraightCurve[],
  level: ReadonlySet<number>,
  tolerance: number,
  put: Put,
): void {
  const aslant = lines.filter((l) => !level.has(l.i)).sort((a, b) => b.length - a.length)
  const grouped = new Set<number>()
  for (const l of aslant) {
    if (grouped.has(l.i)) continue
    for (const m of aslant) {
      if (m.i === l.i || grouped.has(m.i)) continue
      const cross = Math.abs(l.way[0] * m.way[1] - l.way[1] * m.way[0])
      if (cross > Math.sin((sameWay * Math.PI) / 180) || cross * m.length > 2 * tolerance) continue
      grouped.add(m.i)
      put('parallel', [l.i, m.i], cross * m.length)
    }
  }
}

function roundCurves(d: Drawing): RoundCurve[] {
  return d.curves.flatMap((c, i) => {
    if (c.construction || (c.kind !== 'circle' && c.kind !== 'arc')) return []
    const m = d.points[c.centre]
    const v = c.kind === 'circle' ? c.radius : Math.hypot(d.points[c.from][0] - m[0], d.points[c.from][1] - m[1])
    return [{ i, m, v, centre: c.centre, whole: c.kind === 'circle' }]
  })
}

/** Smooth joins and square corners. */
function proposeJoins(
  d: Drawing,
  lines: readonly StraightCurve[],
  level: ReadonlySet<number>,
  tolerance: number,
  put: Put,
): void {
  const ends = new Map<number, number[]>()
  d.curves.forEach((c, i) => {
    if (!c.construction) for (const e of endsOf(c) ?? []) ends.set(e, [...(ends.get(e) ?? []), i])
  })
  for (const [p, list] of ends) {
    if (list.length !== 2) continue
    const [a, b] = list
    const [v, w] = [wayOut(d, d.curves[a], p), wayOut(d, d.curves[b], p)]
    if (!v || !w) continue
    const turn = (Math.asin(Math.min(1, Math.abs(v[0] * w[1] - v[1] * w[0]))) * 180) / Math.PI
    const lines2 = d.curves[a].kind === 'line' && d.curves[b].kind === 'line'
    const ok = (k: number) => ['line', 'arc', 'spline'].includes(d.curves[k].kind)
    if (!lines2 && ok(a) && ok(b) && turn < smooth && v[0] * w[0] + v[1] * w[1] < 0) put('tangent', [a, b], 0)
    const square = Math.abs(v[0] * w[0] + v[1] * w[1])
    if (lines2 && !(level.has(a) && level.has(b)) && square < Math.sin((sameWay * Math.PI) / 180)) {
      const l = Math.min(...[a, b].map((k) => lines.find((x) => x.i === k)?.length ?? 0))
      if (square * l <= 2 * tolerance) put('perpendicular', [a, b], square * l)
    }
  }
}

/** Equal radii and common centres. */
function proposeAlike(round: readonly RoundCurve[], tolerance: number, put: Put): void {
  for (const members of clusters(
    round.map(({ i, v }) => ({ i, v })),
    tolerance,
  )) {
    const values = members.map((i) => round.find((r) => r.i === i)!.v)
    put(
      'equal',
      [...members].sort((a, b) => a - b),
      Math.max(...values) - Math.min(...values),
    )
  }
  for (let a = 0; a < round.length; a++)
    for (let b = a + 1; b < round.length; b++) {
      if (round[a].centre === round[b].centre) continue
      const off = Math.hypot(round[a].m[0] - round[b].m[0], round[a].m[1] - round[b].m[1])
      if (off <= tolerance && off < 0.2 * Math.min(round[a].v, round[b].v))
        put('concentric', [round[a].i, round[b].i], off)
    }
}

/** One size for all that are, or would be, equal. */
function proposeSizes(d: Drawing, round: readonly RoundCurve[], tolerance: number, out: Proposal[]): void {
  const sized = new Set(
    (d.dimensions ?? []).flatMap((x) => (x.kind === 'radius' || x.kind === 'diameter' ? x.curves : [])),
  )
  const alike = [
    ...(d.constraints ?? []).flatMap((c) => (c.kind === 'equal' ? [c.curves] : [])),
    ...out.flatMap((p) => (p.constraint?.kind === 'equal' ? [p.constraint.curves] : [])),
  ]
  for (const r of round) {
    for (const group of alike) if (group.some((k) => sized.has(k))) for (const k of group) sized.add(k)
    if (sized.has(r.i)) continue
    const v = roundSize(r.whole ? 2 * r.v : r.v, r.whole ? 2 * tolerance : tolerance)
    if (v === null) continue
    sized.add(r.i)
    out.push({
      dimension: { kind: r.whole ? 'diameter' : 'radius', points: [], curves: [r.i], value: v },
      off: Math.abs(v - (r.whole ? 2 : 1) * r.v),
    })
  }
}

/** What the curves of a drawing nearly hold, within a tolerance in mm; what it is held to already is left out. */
export function proposals(d: Drawing, tolerance: number): Proposal[] {
  const out: Proposal[] = []
  const has = (kind: Constraint['kind'], curves: readonly number[]) =>
    (d.constraints ?? []).some((c) => c.kind === kind && curves.every((k) => c.curves.includes(k)))
  const put: Put = (kind, curves, off) => {
    if (!has(kind, curves)) out.push({ constraint: { kind, points: [], curves }, off })
  }
  const lines = d.curves.flatMap((c, i): StraightCurve[] => {
    if (c.kind !== 'line' || c.construction) return []
    const [p, q] = [d.points[c.from], d.points[c.to]]
    const length = Math.hypot(q[0] - p[0], q[1] - p[1])
    return length > 0 ? [{ i, p, q, length, way: unit(p, q) }] : []
  })
  const level = proposeLevel(lines, tolerance, put)
  proposeParallel(lines, level, tolerance, put)
  proposeJoins(d, lines, level, tolerance, put)
  const round = roundCurves(d)
  proposeAlike(round, tolerance, put)
  proposeSizes(d, round, tolerance, out)
  return out
}
