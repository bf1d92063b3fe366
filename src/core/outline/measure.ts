/** Exact lengths and areas of curves: closed forms for lines and round ones, Gauss points for splines (exact for the area of cubics). */
import { gaussRule } from '@/core/math/gauss-legendre'
import type { Curve, Drawing, Place } from './drawing'
import { splineOf, sweepOf } from './sample'
import { at, type Spline } from './spline'

/** The spans of a spline, as parameters. */
const spansOf = (s: Spline): [number, number][] => {
  if (s.closed) return s.control.map((_, i) => [i, i + 1])
  const k = [...new Set(s.knots)].sort((a, b) => a - b)
  return k.slice(1).map((b, i) => [k[i], b])
}

/** The way a cubic goes at a parameter within one span, by differences that are exact for cubics. */
function slopeOf(s: Spline, t: number, [a, b]: readonly [number, number]): Place {
  // Four places of a span tell its cubic; the derivative of Lagrange's polynomial through them.
  const nodes = [0, 1 / 3, 2 / 3, 1]
  const u = (t - a) / (b - a)
  const p = nodes.map((n) => at(s, n === 1 ? b - 1e-15 * (b - a) : a + n * (b - a)))
  const out: [number, number] = [0, 0]
  for (let i = 0; i < 4; i++) {
    let w = 0
    for (let m = 0; m < 4; m++) {
      if (m === i) continue
      let f = 1 / (nodes[i] - nodes[m])
      for (let k = 0; k < 4; k++) if (k !== i && k !== m) f *= (u - nodes[k]) / (nodes[i] - nodes[k])
      w += f
    }
    out[0] += (w * p[i][0]) / (b - a)
    out[1] += (w * p[i][1]) / (b - a)
  }
  return out
}

/** Exact for the area of cubics. */
const rule = gaussRule(5)

/** Integral along a spline of something that its place and way tell. */
function along(s: Spline, parts: number, f: (p: Place, way: Place) => number): number {
  let sum = 0
  for (const span of spansOf(s))
    for (let i = 0; i < parts; i++) {
      const a = span[0] + ((span[1] - span[0]) * i) / parts,
        h = (span[1] - span[0]) / parts
      rule.at.forEach((x, k) => {
        const t = a + (h * (1 + x)) / 2
        sum += (rule.weight[k] / 2) * h * f(at(s, t), slopeOf(s, t, span))
      })
    }
  return sum
}

/** What a curve, run from its start to its end, adds to the area that a loop encloses (Green's theorem), mm². */
export function areaUnder(d: Drawing, c: Curve): number {
  switch (c.kind) {
    case 'line': {
      const [p, q] = [d.points[c.from], d.points[c.to]]
      return (p[0] * q[1] - q[0] * p[1]) / 2
    }
    case 'arc': {
      const [p, q, m] = [d.points[c.from], d.points[c.to], d.points[c.centre]]
      const r2 = ((p[0] - m[0]) ** 2 + (p[1] - m[1]) ** 2 + (q[0] - m[0]) ** 2 + (q[1] - m[1]) ** 2) / 2
      return ((sweepOf(d, c) * Math.PI) / 180 / 2) * r2 + (m[0] * (q[1] - p[1]) - m[1] * (q[0] - p[0])) / 2
    }
    case 'circle':
      return Math.PI * c.radius * c.radius
    case 'ellipse':
      return Math.PI * c.long * c.short
    case 'spline': {
      const s = splineOf(d, c)
      return s ? along(s, 1, (p, w) => (p[0] * w[1] - p[1] * w[0]) / 2) : 0
    }
  }
}

/** Length of a curve, mm. */
export function lengthOfCurve(d: Drawing, c: Curve): number {
  switch (c.kind) {
    case 'line': {
      const [p, q] = [d.points[c.from], d.points[c.to]]
      return Math.hypot(q[0] - p[0], q[1] - p[1])
    }
    case 'arc': {
      const [p, m] = [d.points[c.from], d.points[c.centre]]
      return Math.hypot(p[0] - m[0], p[1] - m[1]) * ((Math.abs(sweepOf(d, c)) * Math.PI) / 180)
    }
    case 'circle':
      return 2 * Math.PI * c.radius
    case 'ellipse': {
      // By the arithmetic-geometric mean (Abramowitz & Stegun 17.6).
      let [a, b] = [Math.max(c.long, c.short), Math.min(c.long, c.short)]
      let sum = (a * a + b * b) / 2
      for (let k = 1, i = 0; i < 40 && Math.abs(a - b) > 1e-15 * a; i++, k *= 2) {
        const next = (a + b) / 2
        sum -= (k * (a - b) ** 2) / 4
        b = Math.sqrt(a * b)
        a = next
      }
      return (2 * Math.PI * sum) / a
    }
    case 'spline': {
      const s = splineOf(d, c)
      return s ? along(s, 4, (_, w) => Math.hypot(w[0], w[1])) : 0
    }
  }
}
