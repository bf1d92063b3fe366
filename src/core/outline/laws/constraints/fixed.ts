import type { ConstraintLaw } from '../constraint-law'

/** Asks nothing: its numbers are no unknowns (`lawsOf`). */
export const fixed: ConstraintLaw = {
  needs: 'a point or a curve',
  equations: (_t, { points, curves }) => (points.length + curves.length ? [] : null),
}
