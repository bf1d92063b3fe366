import { angleOf } from '../../dual'
import type { DimensionLaw } from '../dimension-law'
import { cross, dot, type Get, type Pair } from '../formula'

export const angle: DimensionLaw = {
  needs: 'two lines, or one line against the first direction',
  figure(t, { points, curves }) {
    if (points.length || !curves.length || curves.length > 2 || !t.all(curves, 'line')) return null
    const [a, b] = curves
    if (b === undefined)
      return t.positive((g) => {
        const v = t.along(g, a)
        return angleOf(v.y, v.x)
      })
    const meet = t.shared(a, b)
    const both = (g: Get): [Pair, Pair] =>
      meet ? [t.out(g, a, meet[0])!, t.out(g, b, meet[1])!] : [t.along(g, a), t.along(g, b)]
    return t.positive((g) => {
      const [v, w] = both(g)
      return angleOf(cross(v, w), dot(v, w))
    })
  },
}
