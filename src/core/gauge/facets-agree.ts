/** Whether the exact figures of a body agree with its facets: two ways to one figure, of which a wrong one betrays itself. */
import { num } from '@/core/base/say'

export interface Figures {
  /** mm³; 0 for an open body. */
  readonly volume: number
  /** mm². */
  readonly area: number
}

/** Facets turn by so much at most, so that arcs between them lose little of their length. */
const areaShare = 0.03

/**
 * A sentence where they do not agree, else null. Facets lie within `chord` of the body, mm, so their volume differs by no more than its area
 * times that; their area by a small share.
 */
export function facetsDisagree(exact: Figures, facets: Figures, chord: number): string | null {
  const room = 1.5 * chord * exact.area + 1e-6 * exact.volume
  if (exact.volume && Math.abs(exact.volume - facets.volume) > room)
    return `by exact sums its volume is ${num(exact.volume, 3)} mm³, by its facets ${num(facets.volume, 3)} mm³; they should agree within ${num(room, 3)} mm³`
  if (Math.abs(exact.area - facets.area) > areaShare * exact.area + chord * chord)
    return `by exact sums its area is ${num(exact.area, 3)} mm², by its facets ${num(facets.area, 3)} mm²`
  return null
}
