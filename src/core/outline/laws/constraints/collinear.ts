import type { ConstraintLaw } from '../constraint-law'
import type { Formula } from '../formula'

export const collinear: ConstraintLaw = {
  needs: 'two lines',
  equations(t, { points, curves }) {
    if (curves.length < 2 || !t.all(curves, 'line') || points.length) return null
    return curves.slice(1).flatMap((i) =>
      [t.line(i).from, t.line(i).to].map(
        (end): Formula =>
          (g) =>
            t.offLine(g, t.point(g, end), curves[0]),
      ),
    )
  },
}
