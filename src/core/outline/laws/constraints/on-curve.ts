import { offSpline } from '../../along'
import { cosine, minus, norm, over, plus, shift, sine, times } from '../../dual'
import type { ConstraintLaw, Equation } from '../constraint-law'
import { size, sub } from '../formula'
import type { Terms } from '../terms'

/** That a point lies on a curve, or on its continuation. */
export function pointOnCurve(t: Terms, point: number, curve: number): Equation {
  const c = t.curve(curve)
  switch (c.kind) {
    case 'line':
      return (g) => t.offLine(g, t.point(g, point), curve)
    case 'circle':
    case 'arc':
      return (g) => minus(size(sub(t.point(g, point), t.point(g, c.centre))), t.radius(g, curve))
    case 'ellipse':
      return (g) => {
        const k = t.ownNumber(curve)
        const r = sub(t.point(g, point), t.point(g, c.centre))
        const [cos, sin] = [cosine(g(k + 2)), sine(g(k + 2))]
        const u = over(plus(times(r.x, cos), times(r.y, sin)), g(k)),
          v = over(minus(times(r.y, cos), times(r.x, sin)), g(k + 1))
        return times(shift(norm(u, v), -1), g(k + 1))
      }
    case 'spline':
      return {
        numbers: [...t.curveNumbers(curve), 2 * point, 2 * point + 1],
        measure: (d) => offSpline(d, d.curves[curve] as typeof c, d.points[point]),
      }
  }
}

export const onCurve: ConstraintLaw = {
  needs: 'a point and a curve',
  equations: (t, { points, curves }) =>
    points.length < 1 || curves.length !== 1 ? null : points.map((i) => pointOnCurve(t, i, curves[0])),
}
