import { minus } from '../../dual'
import { apart, type DimensionLaw, type Figure } from '../dimension-law'
import { size, sub, type Get, type Pair } from '../formula'
import { isCentred, isRound, type Centred, type Terms } from '../terms'

/** Of a place from a line or a round curve. */
function fromCurve(t: Terms, place: (g: Get) => Pair, curve: number): Figure | null {
  if (t.curve(curve).kind === 'line') return t.positive((g) => t.offLine(g, place(g), curve))
  if (!isRound(t.curve(curve))) return null
  return t.positive((g) => minus(size(sub(place(g), t.centre(g, curve))), t.radius(g, curve)))
}

export const distance: DimensionLaw = {
  needs: 'two points, a point and a line or round curve, or two lines',
  figure(t, { points, curves, along }) {
    if (points.length === 2 && !curves.length) return apart(t, points[0], points[1], along)
    if (points.length === 1 && curves.length === 1) return fromCurve(t, (g) => t.point(g, points[0]), curves[0])
    if (points.length) return null
    const isLine = (i: number) => t.curve(i).kind === 'line'
    if (curves.length === 1)
      return isLine(curves[0]) ? apart(t, t.line(curves[0]).from, t.line(curves[0]).to, along) : null
    if (curves.length !== 2) return null
    const [line, other] = isLine(curves[1]) ? [curves[1], curves[0]] : curves
    if (isLine(line) && isLine(other)) return fromCurve(t, (g) => t.point(g, t.line(other).from), line)
    if (!isCentred(t.curve(other))) return null
    if (isLine(line)) return fromCurve(t, (g) => t.centre(g, other), line)
    if (!isCentred(t.curve(line))) return null
    const [m, n] = curves.map((i) => (t.curve(i) as Centred).centre)
    return apart(t, m, n, along)
  },
}
