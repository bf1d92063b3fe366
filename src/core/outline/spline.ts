/** Cubic B-splines in a plane: evaluation, interpolation and least-squares fits (Piegl & Tiller, The NURBS Book, 2.2, 9.2, 9.4). */
import { solveBanded } from '@/core/math/banded'
import { evenBasis } from '@/core/math/even-cubics'
import { raiseBasis } from '@/core/math/spline-basis'
import type { Place } from './drawing'

const degree = 3

/** A cubic in a plane. `closed`: control points repeat and knots are even, so that it runs round smoothly; then no knots are needed. */
export interface Spline {
  readonly control: readonly Place[]
  readonly knots: readonly number[]
  readonly closed: boolean
}

/** Span of a parameter in clamped knots (algorithm A2.1). */
function spanOf(knots: readonly number[], count: number, t: number): number {
  if (t >= knots[count]) return count - 1
  let low = degree,
    high = count
  while (high - low > 1) {
    const mid = (low + high) >> 1
    if (t < knots[mid]) high = mid
    else low = mid
  }
  return low
}

/** The four basis functions that are not zero on a span (algorithm A2.2). */
function basis(knots: readonly number[], span: number, t: number): number[] {
  const n = [1, 0, 0, 0]
  for (let j = 1; j <= degree; j++) raiseBasis(n, j, knots, span, t)
  return n
}

/** Basis of a round cubic with even knots at parameter t in 0..count, and the first of its control points. */
function roundBasis(count: number, t: number): { first: number; n: number[] } {
  const span = Math.min(count - 1, Math.max(0, Math.floor(t)))
  return { first: span, n: evenBasis(t - span) }
}

/** Greatest parameter of a spline; it begins at 0. */
export const endOf = (s: Spline): number => (s.closed ? s.control.length : s.knots[s.control.length])

/** The place of a spline at a parameter. */
export function at(s: Spline, t: number): Place {
  const count = s.control.length
  let first: number, n: number[]
  if (s.closed) ({ first, n } = roundBasis(count, t))
  else {
    const span = spanOf(s.knots, count, t)
    first = span - degree
    n = basis(s.knots, span, t)
  }
  let x = 0,
    y = 0
  for (let i = 0; i < 4; i++) {
    const c = s.control[(first + i) % count]
    x += n[i] * c[0]
    y += n[i] * c[1]
  }
  return [x, y]
}

/** The polar form of one span (Ramshaw; de Boor's algorithm with another parameter at each level). */
function blossom(s: Spline, span: number, u: readonly [number, number, number]): Place {
  const knot = (i: number) => (s.closed ? i - degree : s.knots[i])
  const count = s.control.length
  const d = [0, 1, 2, 3].map((i): Place => s.control[(span - degree + i + (s.closed ? count : 0)) % count])
  for (let r = 1; r <= degree; r++)
    for (let j = degree; j >= r; j--) {
      const i = span - degree + j
      const a = (u[r - 1] - knot(i)) / (knot(i + degree - r + 1) - knot(i))
      d[j] = [(1 - a) * d[j - 1][0] + a * d[j][0], (1 - a) * d[j - 1][1] + a * d[j][1]]
    }
  return d[degree]
}

/** The same curve from one parameter to a later one, exactly; of a round one the later may lie beyond its end. */
export function pieceOf(s: Spline, from: number, to: number): Spline {
  const inner: number[] = []
  if (s.closed) {
    for (let k = Math.floor(from) + 1; k < to - 1e-12; k++) if (k > from + 1e-12) inner.push(k)
  } else for (const k of s.knots) if (k > from + 1e-12 && k < to - 1e-12) inner.push(k)
  const knots = [from, from, from, from, ...inner, to, to, to, to]
  const control: Place[] = []
  for (let i = 0; i < knots.length - degree - 1; i++) {
    // Any span that this control point speaks for will do.
    let j = i
    while (!(knots[j + 1] > knots[j])) j++
    const middle = (knots[j] + knots[j + 1]) / 2
    const span = s.closed ? Math.floor(middle) + degree : spanOf(s.knots, s.control.length, middle)
    control.push(blossom(s, span, [knots[i + 1], knots[i + 2], knots[i + 3]]))
  }
  return { control, knots: knots.map((k) => (k - from) / (to - from)), closed: false }
}

/** Parameters by the lengths of the chords, from 0 to 1. */
export function chordParameters(points: readonly Place[], closed = false): number[] {
  const t = [0]
  const many = closed ? points.length : points.length - 1
  for (let i = 0; i < many; i++) {
    const a = points[i],
      b = points[(i + 1) % points.length]
    t.push(t[i] + Math.hypot(b[0] - a[0], b[1] - a[1]))
  }
  const whole = t[many] || 1
  return t.map((v) => v / whole)
}

/** Clamped knots of so many control points, spread as the parameters are (equations 9.68 and 9.69). */
function knotsFor(t: readonly number[], count: number): number[] {
  const knots = [0, 0, 0, 0]
  const inner = count - degree - 1
  const d = t.length / (inner + 1)
  for (let j = 1; j <= inner; j++) {
    const i = Math.min(t.length - 1, Math.floor(j * d))
    const a = j * d - i
    knots.push((1 - a) * t[Math.max(0, i - 1)] + a * t[i])
  }
  return [...knots, 1, 1, 1, 1]
}

/**
 * The cubic of so many control points nearest to a row of places, by least squares at their chord parameters, drawn a few times to the
 * nearest parameters. It begins and ends at the first and last place, or runs round.
 * @returns the spline and the greatest distance of a place from it; null when the count is too small or too great for the places
 */
export function fitSpline(
  points: readonly Place[],
  count: number,
  closed: boolean,
  rounds = 3,
): { spline: Spline; most: number; square: number } | null {
  if (count < degree + 1 || count > points.length) return null
  let t = chordParameters(points, closed)
  const scaleT = closed ? count : 1
  t = t.slice(0, points.length).map((v) => v * scaleT)
  const knots = closed ? [] : knotsFor(t, count)
  for (let i = 0; !closed && i + degree < knots.length - 1; i++) if (!(knots[i + 4] > knots[i])) return null
  let best: { spline: Spline; most: number; square: number } | null = null
  for (let round = 0; ; round++) {
    const rows = points.map((_, i) => {
      if (closed) {
        const { first, n } = roundBasis(count, t[i])
        return { first, n }
      }
      const span = spanOf(knots, count, t[i])
      return { first: span - degree, n: basis(knots, span, t[i]) }
    })
    const control = solveBanded(count, closed, rows, points, closed ? [] : [0, count - 1])
    if (!control) return best
    const spline: Spline = { control, knots, closed }
    let most = 0,
      square = 0
    const next = points.map((p, i) => {
      const near = nearestTo(spline, p, t[i], scaleT / (4 * count))
      most = Math.max(most, near.distance)
      square += near.distance ** 2
      return near.t
    })
    if (!best || most < best.most) best = { spline, most, square }
    if (round >= rounds) return best
    // Places keep their order along the curve.
    for (let i = 1; i < next.length; i++) if (next[i] <= next[i - 1]) next[i] = t[i] > next[i - 1] ? t[i] : next[i - 1]
    if (!closed) {
      next[0] = 0
      next[next.length - 1] = 1
    }
    t = next
  }
}

/** The parameter near `t` whose place is nearest to p, by ternary search within `reach`. */
function nearestTo(s: Spline, p: Place, t: number, reach: number): { t: number; distance: number } {
  const end = endOf(s)
  const wrap = (v: number) => (s.closed ? ((v % end) + end) % end : Math.max(0, Math.min(end, v)))
  const far = (v: number) => {
    const q = at(s, wrap(v))
    return Math.hypot(q[0] - p[0], q[1] - p[1])
  }
  let low = t - reach,
    high = t + reach
  for (let i = 0; i < 18; i++) {
    const a = low + (high - low) / 3,
      b = high - (high - low) / 3
    if (far(a) < far(b)) high = b
    else low = a
  }
  const here = (low + high) / 2
  return far(here) < far(t) ? { t: wrap(here), distance: far(here) } : { t: wrap(t), distance: far(t) }
}

/** The cubic through places: natural ends, or round (9.2). Two places give a straight piece. */
export function throughSpline(points: readonly Place[], closed: boolean): Spline | null {
  const n = points.length
  if (n < 2) return null
  if (closed && n >= 3) {
    // Even knots: at each place a sixth of either neighbour and two thirds of its own control point.
    const rows = points.map((_, i) => ({ first: i, n: [1 / 6, 4 / 6, 1 / 6, 0] }))
    const control = solveBanded(n, true, rows, points, [])
    if (!control) return null
    return { control, knots: [], closed: true }
  }
  const t = chordParameters(points)
  const knots = [0, 0, 0, ...t, 1, 1, 1]
  const count = n + 2
  // Second derivatives are zero at the ends: two rows more, next to them.
  const rows: { first: number; n: number[] }[] = []
  const want: Place[] = []
  points.forEach((p, i) => {
    const span = spanOf(knots, count, t[i])
    rows.push({ first: span - degree, n: i === n - 1 ? [0, 0, 0, 1] : basis(knots, span, t[i]) })
    want.push(p)
    const end = i === 0 ? 4 : i === n - 2 ? -1 : 0
    if (end === 4) {
      const a = knots[4],
        b = knots[5]
      rows.push({ first: 0, n: [1 / a, -(1 / a + 1 / b), 1 / b, 0] })
      want.push([0, 0])
    }
    if (end === -1 || (n === 2 && i === 0)) {
      const m = knots.length - 1
      const a = 1 - knots[m - 4],
        b = 1 - knots[m - 5]
      rows.push({ first: count - 4, n: [0, 1 / b, -(1 / a + 1 / b), 1 / a] })
      want.push([0, 0])
    }
  })
  const control = solveBanded(count, false, rows, want, [])
  return control ? { control, knots, closed: false } : null
}
