import { by, over, times } from '../../dual'
import type { ConstraintLaw } from '../constraint-law'
import { cross, size, type Formula } from '../formula'

export const parallel: ConstraintLaw = {
  needs: 'two lines',
  equations(t, { points, curves }) {
    if (curves.length < 2 || !t.all(curves, 'line') || points.length) return null
    return curves.slice(1).map((i): Formula => (g) => {
      const [v, w] = [t.along(g, curves[0]), t.along(g, i)]
      return by(over(cross(v, w), times(size(v), size(w))), t.reach)
    })
  },
}
