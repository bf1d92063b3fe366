/**
 * Regularities among fitted shapes: parallel and square directions, walls that touch, equal radii, round numbers, one axis for several,
 * mirrored places. Each is taken only where the mesh still lies within the tolerance of the shape that it makes (after Li, Wu,
 * Chrysathou, Sharf, Cohen-Or & Mitra 2011, "GlobFit").
 */
import type { Shape } from '@/core/fit/shape'
import { axes } from './axes'
import { directions } from './directions'
import { Regularities, type Given, type Looks, type Regular } from './finder'
import { mirrored } from './mirrored'
import { planePlaces, roundPlaces } from './places'
import { sizes } from './sizes'
import { touching } from './touching'

export function regularise(given: readonly Given[], looks: Looks): { shapes: Shape[]; found: Regular[] } {
  const r = new Regularities(given, looks)
  directions(r)
  planePlaces(r)
  touching(r)
  sizes(r)
  roundPlaces(r)
  axes(r)
  mirrored(r)
  return { shapes: r.shapes, found: r.found }
}
