/** Places and ways along curves that have no formula: how far off a spline a place lies, and how a curve sets out from its end. */
import type { Curve, Drawing, Place } from './drawing'
import { extentOf } from './extent'
import { sampleCurve, splineOf } from './sample'
import { at, endOf } from './spline'

/** Unit way in which a curve sets out from one of its ends, as sampled. */
export function wayOut(d: Drawing, c: Curve, end: number): Place {
  const s = c.kind === 'spline' ? splineOf(d, c) : null
  let p: Place, q: Place
  if (s) {
    const far = endOf(s)
    const first = (c.kind === 'spline' ? (c.through ?? c.control ?? []) : [])[0] === end
    ;[p, q] = first ? [at(s, 0), at(s, 1e-6 * far)] : [at(s, far), at(s, (1 - 1e-6) * far)]
  } else {
    const row = sampleCurve(d, c, extentOf(d) * 1e-6)
    if (c.kind !== 'line' && c.kind !== 'arc') return [0, 0]
    ;[p, q] = c.from === end ? [row[0], row[1]] : [row[row.length - 1], row[row.length - 2]]
  }
  const l = Math.hypot(q[0] - p[0], q[1] - p[1]) || 1
  return [(q[0] - p[0]) / l, (q[1] - p[1]) / l]
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
