/** One curve fitted to a stretch of a reference row that was picked by hand, and how far off it is. */
import type { Curve, Drawing, Place } from '@/core/outline/drawing'
import { fitEllipse, fromEllipse, geometricCircle, Sums } from './fits'
import { leanSpline } from './lean-spline'
import { foot, onRound } from './pieces'
import { corners, type Row } from './rows'

export type StretchKind = 'line' | 'arc' | 'circle' | 'ellipse' | 'spline' | 'closed spline'

export interface Fitted {
  readonly drawing: Drawing
  /** Greatest distance of a place of the stretch from the curve, and their root mean square, mm. */
  readonly most: number
  readonly rms: number
  readonly places: number
}

/** The place of a row nearest to p: its number. */
export function nearestPlace(row: Row, p: Place): number {
  let best = 0
  const far = (q: Place) => (q[0] - p[0]) ** 2 + (q[1] - p[1]) ** 2
  row.places.forEach((q, i) => {
    if (far(q) < far(row.places[best])) best = i
  })
  return best
}

const lengthOf = (list: readonly Place[]) =>
  list.slice(1).reduce((s, p, i) => s + Math.hypot(p[0] - list[i][0], p[1] - list[i][1]), 0)

/** The places from one to another: on a closed row the short way round or the long way. */
export function stretchOf(row: Row, from: number, to: number, long: boolean): Place[] {
  const n = row.places.length
  const walk = (a: number, b: number) => {
    const out: Place[] = []
    for (let i = a; ; i = (i + 1) % n) {
      out.push(row.places[i])
      if (i === b) return out
    }
  }
  if (!row.closed) {
    const list = row.places.slice(Math.min(from, to), Math.max(from, to) + 1)
    return from <= to ? list : list.reverse()
  }
  const forward = walk(from, to),
    back = walk(to, from).reverse()
  return lengthOf(forward) <= lengthOf(back) === !long ? forward : back
}

/**
 * The curve of a kind nearest to a stretch; a spline has the fewest control points that hold it within the tolerance. Null where the places
 * tell no such curve.
 * @param whole the stretch is a whole closed row
 */
export function fitStretch(
  stretch: readonly Place[],
  kind: StretchKind,
  tolerance: number,
  whole = false,
): Fitted | null {
  const size = lengthOf(stretch)
  const { places: p } = corners({ places: stretch, closed: whole }, size * 1e-9)
  const n = p.length
  const result = (drawing: Drawing, off: (q: Place) => number): Fitted => {
    const offs = stretch.map(off)
    return {
      drawing,
      most: offs.reduce((m, v) => Math.max(m, v), 0),
      rms: Math.sqrt(offs.reduce((s, v) => s + v * v, 0) / offs.length),
      places: stretch.length,
    }
  }
  if (kind === 'line') {
    if (stretch.length < 2 || !(size > 0)) return null
    const line = new Sums(stretch).line(0, stretch.length - 1)
    return result(
      {
        points: [foot(line, stretch[0]), foot(line, stretch[stretch.length - 1])],
        curves: [{ kind: 'line', from: 0, to: 1 }],
      },
      (q) => {
        const f = foot(line, q)
        return Math.hypot(f[0] - q[0], f[1] - q[1])
      },
    )
  }
  if (kind === 'arc' || kind === 'circle') {
    const first = n >= 3 ? new Sums(p).circle(0, n - 1) : null
    if (!first) return null
    const c = geometricCircle(p, first)
    const off = (q: Place) => Math.abs(Math.hypot(q[0] - c.centre[0], q[1] - c.centre[1]) - c.radius)
    if (!(c.radius > 0) || !Number.isFinite(c.radius) || c.radius > size * 1e4) return null
    if (kind === 'circle')
      return result({ points: [c.centre], curves: [{ kind: 'circle', centre: 0, radius: c.radius }] }, off)
    let turn = 0
    for (let i = 1; i < n; i++) {
      const [a, b] = [p[i - 1], p[i]].map((q): Place => [q[0] - c.centre[0], q[1] - c.centre[1]])
      turn += Math.atan2(a[0] * b[1] - a[1] * b[0], a[0] * b[0] + a[1] * b[1])
    }
    return result(
      {
        points: [onRound(c, p[0]), onRound(c, p[n - 1]), c.centre],
        curves: [{ kind: 'arc', from: 0, to: 1, centre: 2, ccw: turn > 0 }],
      },
      off,
    )
  }
  if (kind === 'ellipse') {
    const e = fitEllipse(p)
    if (!e) return null
    return result(
      {
        points: [e.centre],
        curves: [{ kind: 'ellipse', centre: 0, long: e.long, short: e.short, turn: (e.turn * 180) / Math.PI }],
      },
      (q) => Math.abs(fromEllipse(e, q)),
    )
  }
  const closed = kind === 'closed spline'
  const lean = leanSpline(p, closed, tolerance)
  if (!lean) return null
  const { control, knots } = lean.spline
  const numbers = control.map((_, i) => i)
  const curve: Curve = closed
    ? { kind: 'spline', control: numbers, closed: true }
    : { kind: 'spline', control: numbers, knots: [...knots] }
  return {
    drawing: { points: [...control], curves: [curve] },
    most: lean.most,
    rms: lean.most / 2,
    places: stretch.length,
  }
}
