import { by, minus, norm, over, times } from '../../dual'
import type { ConstraintLaw } from '../constraint-law'
import { dot, size, sub, type Get, type Pair } from '../formula'
import { isRound } from '../terms'

export const perpendicular: ConstraintLaw = {
  needs: 'two lines, a line and a circle or arc, or two curves that meet',
  equations(t, { points, curves }) {
    if (curves.length !== 2 || points.length) return null
    const [a, b] = curves
    const meet = t.shared(a, b)
    const both = (g: Get): (Pair | null)[] => {
      if (t.all(curves, 'line')) return [t.along(g, a), t.along(g, b)]
      return meet ? [t.out(g, a, meet[0]), t.out(g, b, meet[1])] : [null]
    }
    if (both(t.standing).every((w) => w))
      return [
        (g) => {
          const [v, w] = both(g) as [Pair, Pair]
          return by(over(dot(v, w), times(size(v), size(w))), t.reach)
        },
      ]
    const line = curves.find((i) => t.curve(i).kind === 'line'),
      round = curves.find((i) => isRound(t.curve(i)))
    // A line square to a circle goes through its centre; two circles square to each other hold Pythagoras.
    if (line !== undefined && round !== undefined) return [(g) => t.offLine(g, t.centre(g, round), line)]
    if (curves.every((i) => isRound(t.curve(i))))
      return [(g) => minus(size(sub(t.centre(g, a), t.centre(g, b))), norm(t.radius(g, a), t.radius(g, b)))]
    return null
  },
}
