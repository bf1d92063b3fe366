import { angleOf, by, shift, times } from '../../dual'
import { extentOf } from '../../extent'
import { lengthOf, sampleCurve } from '../../sample'
import type { Dimension } from '../../constraint'
import { apart, type DimensionLaw, type Figure } from '../dimension-law'
import { cross, dot, size, sub } from '../formula'
import type { Terms } from '../terms'

/** Splines and ellipses are measured along chords this share of the drawing fine. */
const chord = 1e-5

function wholeLength(t: Terms, i: number, along: Dimension['along']): Figure {
  const c = t.curve(i)
  if (c.kind === 'line') return apart(t, c.from, c.to, along)
  if (c.kind === 'circle') return (g) => by(t.radius(g, i), 2 * Math.PI)
  if (c.kind !== 'arc')
    return {
      numbers: t.curveNumbers(i),
      measure: (d) => lengthOf(sampleCurve(d, d.curves[i], extentOf(d) * chord)),
    }
  const sense = c.ccw ? 1 : -1
  return (g) => {
    const [v, w] = [c.from, c.to].map((k) => sub(t.point(g, k), t.point(g, c.centre)))
    const turn = by(angleOf(cross(v, w), dot(v, w)), sense)
    return times(size(v), turn.v <= 1e-9 ? shift(turn, 2 * Math.PI) : turn)
  }
}

export const length: DimensionLaw = {
  needs: 'one curve',
  figure: (t, c) => (c.curves.length === 1 && !c.points.length ? wholeLength(t, c.curves[0], c.along) : null),
}

export const arcLength: DimensionLaw = {
  needs: 'one arc or spline',
  figure: (t, c) => (t.all(c.curves, 'line') ? null : length.figure(t, c)),
}
