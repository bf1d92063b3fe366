import { by } from '../../dual'
import type { DimensionLaw } from '../dimension-law'
import { isRound } from '../terms'

const times = (factor: 1 | 2): DimensionLaw => ({
  needs: 'one circle or arc',
  figure(t, { points, curves }) {
    if (curves.length !== 1 || points.length || !isRound(t.curve(curves[0]))) return null
    return factor === 1 ? (g) => t.radius(g, curves[0]) : (g) => by(t.radius(g, curves[0]), factor)
  },
})
export const radius = times(1)
export const diameter = times(2)

const ofEllipse = (which: 0 | 1): DimensionLaw => ({
  needs: 'one ellipse',
  figure: (t, { points, curves }) =>
    curves.length !== 1 || points.length || !t.all(curves, 'ellipse') ? null : (g) => g(t.ownNumber(curves[0]) + which),
})
export const longRadius = ofEllipse(0)
export const shortRadius = ofEllipse(1)
