/** A shape fitted with what is asked of its direction, place and size. */
import { StepError } from '@/core/base/step-error'
import { addScaled, dot, length, normalize, type Vec3 } from '@/core/math/vec'
import { fitBest, fitKind, snapped, type Care, type Fitted, type Snap } from './fit-shape'
import type { Known } from './refine'
import type { Samples } from './samples'
import type { ShapeKind } from './shape'

export const holds = ['free', 'along', 'square', 'about'] as const
export type Hold = (typeof holds)[number]

/** What is asked of a fit. */
export interface FitWish {
  readonly shape: ShapeKind | 'best'
  readonly hold: Hold
  /** The direction that the axis runs along, square to, or about. */
  readonly way?: Vec3
  /** A place of the axis, when it is held about one. */
  readonly through?: Vec3
  /** Radius held (of a ring: of its tube), mm. */
  readonly radius?: number
  readonly snap: Snap
}

/** A fit, and what of it was given. */
export interface HeldFit {
  readonly fit: Fitted
  readonly known: Known
}

/** Throws StepError `too-few`, `no-shape`, and `along` for a shape whose axis runs along what it is to be square to. */
export function fitHeld(samples: Samples, wish: FitWish, care: Care = {}): HeldFit {
  const { shape, hold, way, radius } = wish
  let known: Known = radius ? { radius } : {}
  const fit = () => (shape === 'best' ? fitBest(samples, known, care) : fitKind(shape, samples, known, care))
  const done = (f: Fitted): HeldFit => ({ fit: radius ? f : snapped(f, samples, wish.snap, known, care), known })
  if (hold === 'free' || !way) return done(fit())
  const d = normalize(way)
  if (hold === 'along' || hold === 'about') {
    known = { ...known, axis: d, ...(hold === 'about' && wish.through ? { at: wish.through } : {}) }
    return done(fit())
  }
  const first = fit()
  if (!first.axis) return done(first)
  const square = addScaled(first.axis, d, -dot(first.axis, d))
  if (length(square) < 1e-3)
    throw new StepError('along', 'The shape runs along that direction: it cannot be square to it.', {
      tryThis: 'Hold it along the direction, or take another one.',
    })
  known = { ...known, axis: normalize(square) }
  return done(fitKind(first.kind, samples, known, care))
}
