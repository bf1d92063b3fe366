import { together, type ConstraintLaw } from '../constraint-law'

export const coincident: ConstraintLaw = {
  needs: 'two points',
  equations: (_t, { points, curves }) =>
    points.length < 2 || curves.length ? null : points.slice(1).flatMap((i) => together(i, points[0])),
}
