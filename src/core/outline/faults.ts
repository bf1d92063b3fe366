/** What is wrong with a drawing that is meant to enclose areas: each with its place, and whose curves. */
import { crossingsOf, closeness } from './crossings'
import { endsOf, type Drawing, type Place } from './drawing'
import { extentOf } from './extent'
import { lengthOfCurve } from './measure'
import { alongOf } from './parametric'

export interface DrawingFault {
  readonly kind: 'open' | 'crossing' | 'zero' | 'duplicate'
  readonly at: Place
  readonly curves: readonly number[]
}

export const faultWords: Record<DrawingFault['kind'], string> = {
  open: 'open end',
  crossing: 'crossing',
  zero: 'curve without length',
  duplicate: 'curve drawn twice',
}

/** Open ends, crossings, curves without length and curves drawn twice; construction lines are left out. */
export function faultsOf(d: Drawing): DrawingFault[] {
  const close = extentOf(d) * closeness
  const out: DrawingFault[] = []
  const meets = new Map<number, number[]>()
  const seen = new Map<string, number>()
  d.curves.forEach((c, i) => {
    if (c.construction) return
    const along = alongOf(d, c)
    const [p, m, q] = [along(0), along(0.5), along(1)]
    if (lengthOfCurve(d, c) <= close) {
      out.push({ kind: 'zero', at: p, curves: [i] })
      return
    }
    for (const e of endsOf(c) ?? []) meets.set(e, [...(meets.get(e) ?? []), i])
    // The same ends and middle: for the kinds there are, the same curve.
    const text = (v: Place) => v.map((x) => Math.round(x / (10 * close))).join(' ')
    const closed = !endsOf(c)
    const key = closed
      ? `${c.kind} ${text(p)} ${text(m)} ${text(along(0.25))}`
      : `${[text(p), text(q)].sort().join(' ')} ${text(m)}`
    const twin = seen.get(key)
    if (twin !== undefined) out.push({ kind: 'duplicate', at: m, curves: [twin, i] })
    else seen.set(key, i)
  })
  const twins = new Set(out.flatMap((f) => (f.kind === 'duplicate' ? f.curves : [])))
  const touched = new Set<string>()
  for (const c of crossingsOf(d)) {
    if (twins.has(c.a) && twins.has(c.b)) continue
    const ends = (i: number, t: number) => !!endsOf(d.curves[i]) && (t <= 1e-9 || t >= 1 - 1e-9)
    // An end that stands on another curve divides it: no fault.
    if (ends(c.a, c.ta) || ends(c.b, c.tb)) {
      touched.add(c.at.map((v) => Math.round(v / (10 * close))).join(' '))
      continue
    }
    out.push({ kind: 'crossing', at: c.at, curves: [c.a, c.b] })
  }
  for (const [p, list] of meets) {
    if (list.length !== 1) continue
    if (touched.has(d.points[p].map((v) => Math.round(v / (10 * close))).join(' '))) continue
    out.push({ kind: 'open', at: d.points[p], curves: list })
  }
  return out
}
