/** Places and ways along curves that have no formula: how far off a spline a place lies, and how a curve sets out from its end. */
import type { Curve, Drawing, Place } from './drawing'
import { splineOf } from './sample'
import { at, endOf } from './spline'

/** Unit way in which a curve sets out from one of its ends, into it; null for what has no such end or no length there. */
export function wayOut(d: Drawing, c: Curve, end: number): Place | null {
  const unit = (x: number, y: number): Place | null => {
    const l = Math.hypot(x, y)
    return l > 0 ? [x / l, y / l] : null
  }
  if (c.kind === 'line') {
    const [p, q] = [d.points[end], d.points[c.from === end ? c.to : c.from]]
    return unit(q[0] - p[0], q[1] - p[1])
  }
  if (c.kind === 'arc') {
    const [p, m] = [d.points[end], d.points[c.centre]]
    const s = (c.from === end) === c.ccw ? 1 : -1
    return unit(-s * (p[1] - m[1]), s * (p[0] - m[0]))
  }
  const s = c.kind === 'spline' && !c.closed ? splineOf(d, c) : null
  if (!s || c.kind !== 'spline') return null
  // A cubic sets out toward its second control point.
  const list = (c.through ?? c.control ?? [])[0] === end ? s.control : [...s.control].reverse()
  return unit(list[1][0] - list[0][0], list[1][1] - list[0][1])
}

/** Signed distance of a place from a spline: to its left above zero. */
export function offSpline(d: Drawing, c: Extract<Curve, { kind: 'spline' }>, p: Place): number {
  const s = splineOf(d, c)
  if (!s) return 0
  const end = endOf(s)
  const far = (t: number) => {
    const q = at(s, t)
    return Math.hypot(q[0] - p[0], q[1] - p[1])
  }
  const n = 16 * s.control.length
  let best = 0
  for (let i = 0; i <= n; i++) if (far((end * i) / n) < far((end * best) / n)) best = i
  let low = Math.max(0, (end * (best - 1)) / n),
    high = Math.min(end, (end * (best + 1)) / n)
  for (let i = 0; i < 60; i++) {
    const [u, v] = [low + (high - low) / 3, high - (high - low) / 3]
    if (far(u) < far(v)) high = v
    else low = u
  }
  const t = (low + high) / 2
  const q = at(s, t)
  const [m, k] = [at(s, Math.max(0, t - 1e-5 * end)), at(s, Math.min(end, t + 1e-5 * end))]
  const w: Place = [k[0] - m[0], k[1] - m[1]]
  return (w[0] * (p[1] - q[1]) - w[1] * (p[0] - q[0])) / (Math.hypot(w[0], w[1]) || 1)
}
