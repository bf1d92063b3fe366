import type { Curve } from '../../drawing'
import { by, minus, over, plus } from '../../dual'
import type { ConstraintLaw, Equation } from '../constraint-law'
import { cross, dot, size, sub, type Formula } from '../formula'
import { isRound, type Centred, type Terms } from '../terms'

export const symmetric: ConstraintLaw = {
  needs: 'two points, two lines or two round curves, and last a line or point to be symmetric about',
  equations(t, { points, curves }) {
    if (points.length === 3 && !curves.length) return aboutPoint(points[0], points[1], points[2])
    const about = curves.at(-1)
    if (about === undefined || t.curve(about).kind !== 'line') return null
    if (points.length === 2 && curves.length === 1) return mirrored(t, points[0], points[1], about)
    if (curves.length !== 3 || points.length) return null
    return curvesMirrored(t, curves[0], curves[1], about)
  },
}

const aboutPoint = (p: number, q: number, middle: number): Formula[] =>
  [0, 1].map(
    (k): Formula =>
      (g) =>
        minus(by(plus(g(2 * p + k), g(2 * q + k)), 0.5), g(2 * middle + k)),
  )

/** Two points: their middle on the line, and the way from one to the other square to it. */
const mirrored = (t: Terms, i: number, j: number, about: number): [Formula, Formula] => [
  (g) => {
    const w = t.along(g, about)
    const s = t.point(g, t.line(about).from)
    const [m, n] = [sub(t.point(g, i), s), sub(t.point(g, j), s)]
    return by(over(cross(w, { x: plus(m.x, n.x), y: plus(m.y, n.y) }), size(w)), 0.5)
  },
  (g) => {
    const w = t.along(g, about)
    return over(dot(sub(t.point(g, i), t.point(g, j)), w), size(w))
  },
]

function curvesMirrored(t: Terms, a: number, b: number, about: number): Equation[] | null {
  const [s, e]: Curve[] = [t.curve(a), t.curve(b)]
  if (s.kind === 'line' && e.kind === 'line') {
    const straight = t.offMirror(s.from, e.from, about) + t.offMirror(s.to, e.to, about)
    const crossed = t.offMirror(s.from, e.to, about) + t.offMirror(s.to, e.from, about)
    const [k, l] = straight <= crossed ? [e.from, e.to] : [e.to, e.from]
    return [...mirrored(t, s.from, k, about), ...mirrored(t, s.to, l, about)]
  }
  if (s.kind === 'arc' && e.kind === 'arc') {
    // A mirrored arc runs the other way.
    const [k, l] = s.ccw === e.ccw ? [e.to, e.from] : [e.from, e.to]
    return [...mirrored(t, s.centre, e.centre, about), ...mirrored(t, s.from, k, about), mirrored(t, s.to, l, about)[1]]
  }
  if (!isRound(s) || !isRound(e)) return null
  return [
    ...mirrored(t, (s as Centred).centre, (e as Centred).centre, about),
    (g) => minus(t.radius(g, a), t.radius(g, b)),
  ]
}
