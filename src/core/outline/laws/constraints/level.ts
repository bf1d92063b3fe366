import { level, type ConstraintLaw } from '../constraint-law'

const along = (axis: 0 | 1): ConstraintLaw => ({
  needs: 'a line or two points',
  equations(t, { points, curves }) {
    if (!t.all(curves, 'line') || points.length === 1 || points.length + curves.length === 0) return null
    return [
      ...curves.map((i) => level(axis, t.line(i).to, t.line(i).from)),
      ...points.slice(1).map((i) => level(axis, i, points[0])),
    ]
  },
})

export const horizontal = along(1)
export const vertical = along(0)
