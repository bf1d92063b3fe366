/** Round shapes through a few facets. */
import { StepError } from '@/core/base/step-error'
import type { SkinField } from '@/core/find/smooth-surface'
import { fitKind, type Fitted } from '../fit-shape'
import type { ShapeKind } from '../shape'
import { cornersOf, liesOn, type Facet } from './facets'

/** Radii of more than so many times the part's size are none. */
const mostRadius = 5

const round: readonly ShapeKind[] = ['cylinder', 'cone', 'sphere', 'ring']

/** A fit that is so many tolerances off before its last and longest steps does not come down to one: all but balls have long valleys. */
const hopeless: Record<ShapeKind, number> = { plane: 1.5, cylinder: 10, cone: 3, sphere: 1.5, ring: 10 }

/** Round shapes through some facets, all of whose corners lie on them. */
export function through(f: SkinField, chosen: readonly Facet[], within: number, size: number, kinds = round): Fitted[] {
  const samples = cornersOf(f, chosen)
  return kinds.flatMap((kind): Fitted[] => {
    try {
      // What is far off after some steps stays off.
      const quick = fitKind(kind, samples, {}, { lots: 0, patient: 'some' })
      if (quick.max > hopeless[kind] * within) return []
      const fit = quick.max > within ? fitKind(kind, samples, {}, { lots: 0 }) : quick
      const large = Math.max(fit.radius ?? 0, fit.thickness ?? 0) > mostRadius * size
      const blunt = fit.kind === 'cone' && (fit.halfAngle! < 0.3 || fit.halfAngle! > 89.7)
      return large || blunt || fit.max > within || !chosen.every((c) => liesOn(f, c, fit, within)) ? [] : [fit]
    } catch (error) {
      if (!(error instanceof StepError)) throw error
      return []
    }
  })
}
