/** Places along one curve by a share of the way from its start to its end, 0 to 1, and the nearest of them to a place. */
import type { Curve, Drawing, Place } from './drawing'
import { splineOf, sweepOf } from './sample'
import { at, endOf } from './spline'

export type Along = (t: number) => Place

/** Straight from each place to the next, an equal share of the way for each. */
function alongRow(row: readonly Place[]): Along {
  const last = row.length - 1
  return (t) => {
    const i = Math.max(0, Math.min(last - 1, Math.floor(t * last)))
    const [p, q] = [row[i], row[Math.min(last, i + 1)]]
    const share = Math.max(0, Math.min(1, t * last - i))
    return [p[0] + share * (q[0] - p[0]), p[1] + share * (q[1] - p[1])]
  }
}

/** A curve as a function of its share; a curve that closes on itself ends where it began. */
export function alongOf(d: Drawing, c: Curve): Along {
  switch (c.kind) {
    case 'line': {
      const [p, q] = [d.points[c.from], d.points[c.to]]
      return (t) => (t <= 0 ? p : t >= 1 ? q : [p[0] + t * (q[0] - p[0]), p[1] + t * (q[1] - p[1])])
    }
    case 'arc': {
      const [p, q, m] = [d.points[c.from], d.points[c.to], d.points[c.centre]]
      const r = Math.hypot(p[0] - m[0], p[1] - m[1])
      const from = Math.atan2(p[1] - m[1], p[0] - m[0]),
        sweep = (sweepOf(d, c) * Math.PI) / 180
      return (t) =>
        t <= 0 ? p : t >= 1 ? q : [m[0] + r * Math.cos(from + t * sweep), m[1] + r * Math.sin(from + t * sweep)]
    }
    case 'circle': {
      const m = d.points[c.centre]
      return (t) => [m[0] + c.radius * Math.cos(2 * Math.PI * t), m[1] + c.radius * Math.sin(2 * Math.PI * t)]
    }
    case 'ellipse': {
      const m = d.points[c.centre]
      const turn = (c.turn * Math.PI) / 180
      const [cos, sin] = [Math.cos(turn), Math.sin(turn)]
      return (t) => {
        const [x, y] = [c.long * Math.cos(2 * Math.PI * t), c.short * Math.sin(2 * Math.PI * t)]
        return [m[0] + cos * x - sin * y, m[1] + sin * x + cos * y]
      }
    }
    case 'spline': {
      const s = splineOf(d, c)
      if (!s) return alongRow((c.through ?? c.control ?? []).map((i) => d.points[i]))
      const end = endOf(s)
      return (t) => at(s, Math.max(0, Math.min(1, t)) * end)
    }
  }
}

/** How many straight pieces show a curve well enough to find places on it by. */
export function piecesOf(d: Drawing, c: Curve): number {
  switch (c.kind) {
    case 'line':
      return 1
    case 'arc':
      return Math.max(3, Math.ceil(Math.abs(sweepOf(d, c)) / 10))
    case 'circle':
    case 'ellipse':
      return 36
    case 'spline':
      return 8 * Math.max(2, (c.through ?? c.control ?? []).length)
  }
}

/** The place of a curve nearest to p. */
export function nearestOn(d: Drawing, c: Curve, p: Place): { t: number; at: Place; distance: number } {
  const along = alongOf(d, c)
  const far = (t: number) => {
    const q = along(t)
    return Math.hypot(q[0] - p[0], q[1] - p[1])
  }
  const told = (t: number) => ({ t, at: along(t), distance: far(t) })
  if (c.kind === 'line') {
    const [a, b] = [d.points[c.from], d.points[c.to]]
    const w: Place = [b[0] - a[0], b[1] - a[1]]
    const l = w[0] * w[0] + w[1] * w[1]
    return told(l > 0 ? Math.max(0, Math.min(1, ((p[0] - a[0]) * w[0] + (p[1] - a[1]) * w[1]) / l)) : 0)
  }
  if (c.kind === 'circle' || c.kind === 'arc') {
    const m = d.points[c.centre]
    const a = Math.atan2(p[1] - m[1], p[0] - m[0]) / (2 * Math.PI)
    if (c.kind === 'circle') return told(a - Math.floor(a))
    const q = d.points[c.from]
    const sweep = sweepOf(d, c) / 360
    const turned = (a - Math.atan2(q[1] - m[1], q[0] - m[0]) / (2 * Math.PI)) * Math.sign(sweep)
    const t = (turned - Math.floor(turned)) / Math.abs(sweep)
    return t <= 1 ? told(t) : told(far(0) < far(1) ? 0 : 1)
  }
  const n = Math.max(2, piecesOf(d, c))
  let best = 0
  for (let i = 0; i <= n; i++) if (far(i / n) < far(best / n)) best = i
  let low = Math.max(0, (best - 1) / n),
    high = Math.min(1, (best + 1) / n)
  // Round curves may be nearest across their seam.
  const round = c.kind === 'ellipse' || (c.kind === 'spline' && !!c.closed)
  if (round && (best === 0 || best === n)) {
    low = -1 / n
    high = 1 / n
  }
  const wrap = (t: number) => (round ? t - Math.floor(t) : t)
  for (let i = 0; i < 70 && high - low > 1e-15; i++) {
    const a = low + (high - low) / 3,
      b = high - (high - low) / 3
    if (far(wrap(a)) < far(wrap(b))) high = b
    else low = a
  }
  const t = [0, 1, wrap((low + high) / 2)].reduce((m, v) => (far(v) < far(m) ? v : m), wrap((low + high) / 2))
  return { t, at: along(t), distance: far(t) }
}

/** Whether a curve may come within `reach` of p: quick, for asking many at every move of the pointer. Only splines are told apart. */
export function mayBeNear(d: Drawing, c: Curve, p: Place, reach: number): boolean {
  if (c.kind !== 'spline') return true
  let x0 = Infinity,
    x1 = -Infinity,
    y0 = Infinity,
    y1 = -Infinity
  for (const i of c.through ?? c.control ?? []) {
    const [x, y] = d.points[i]
    x0 = Math.min(x0, x)
    x1 = Math.max(x1, x)
    y0 = Math.min(y0, y)
    y1 = Math.max(y1, y)
  }
  // Within its control points; one through places may swing out between them.
  const swing = reach + (c.through ? (x1 - x0 + y1 - y0) / 2 : 0)
  return p[0] >= x0 - swing && p[0] <= x1 + swing && p[1] >= y0 - swing && p[1] <= y1 + swing
}
