import { by, minus, plus } from '../../dual'
import type { ConstraintLaw } from '../constraint-law'
import { size, sub, type Formula } from '../formula'
import { pointOnCurve } from './on-curve'

export const midpoint: ConstraintLaw = {
  needs: 'a point and a line or arc',
  equations(t, { points, curves }) {
    if (points.length !== 1 || curves.length !== 1) return null
    const [p] = points
    const curve = t.curve(curves[0])
    if (curve.kind === 'line')
      return [0, 1].map(
        (k): Formula =>
          (g) =>
            minus(by(plus(g(2 * curve.from + k), g(2 * curve.to + k)), 0.5), g(2 * p + k)),
      )
    if (curve.kind !== 'arc') return null
    return [
      pointOnCurve(t, p, curves[0]),
      (g) => minus(size(sub(t.point(g, p), t.point(g, curve.from))), size(sub(t.point(g, p), t.point(g, curve.to)))),
    ]
  },
}
