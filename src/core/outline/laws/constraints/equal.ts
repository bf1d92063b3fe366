import { minus, type Dual } from '../../dual'
import type { ConstraintLaw } from '../constraint-law'
import { size, type Formula, type Get } from '../formula'
import { isRound } from '../terms'

export const equal: ConstraintLaw = {
  needs: 'two curves of one sort: lines, round ones or ellipses',
  equations(t, { points, curves }) {
    if (curves.length < 2 || points.length) return null
    const [first, ...rest] = curves
    const asFirst = (figure: (get: Get, curve: number) => Dual): Formula[] =>
      rest.map((i) => (g) => minus(figure(g, i), figure(g, first)))
    if (t.all(curves, 'line')) return asFirst((g, i) => size(t.along(g, i)))
    if (curves.every((i) => isRound(t.curve(i)))) return asFirst((g, i) => t.radius(g, i))
    if (!t.all(curves, 'ellipse')) return null
    return rest.flatMap((i) =>
      [0, 1].map(
        (k): Formula =>
          (g) =>
            minus(g(t.ownNumber(i) + k), g(t.ownNumber(first) + k)),
      ),
    )
  },
}
