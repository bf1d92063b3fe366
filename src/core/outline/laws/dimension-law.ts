/** What one kind of dimension measures on a drawing. */
import type { Dimension } from '../constraint'
import { minus } from '../dual'
import { size, sub, type Formula } from './formula'
import type { Measured, Terms } from './terms'

/** mm, or radians of an angle; told by a formula, or only measured. */
export type Figure = Formula | Measured

export interface DimensionLaw {
  /** What it takes, in words that go on after "needs". */
  readonly needs: string
  /** What it measures; null for points and curves that it cannot take. */
  figure(t: Terms, c: Dimension): Figure | null
}

/** From one point to another: straight, or only across or up. */
export function apart(t: Terms, i: number, j: number, along: Dimension['along']): Formula {
  const axis = along === 'x' ? 0 : 1
  return along
    ? t.positive((g) => minus(g(2 * j + axis), g(2 * i + axis)))
    : (g) => size(sub(t.point(g, i), t.point(g, j)))
}
