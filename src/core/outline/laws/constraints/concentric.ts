import { together, type ConstraintLaw } from '../constraint-law'
import { isCentred } from '../terms'

export const concentric: ConstraintLaw = {
  needs: 'two curves with a centre',
  equations(t, { points, curves }) {
    const centres = curves.map((i) => t.curve(i)).filter(isCentred)
    if (curves.length + points.length < 2 || !curves.length || centres.length < curves.length) return null
    const [first, ...rest] = [...centres.map((c) => c.centre), ...points]
    return rest.flatMap((m) => (m === first ? [] : together(m, first)))
  },
}
