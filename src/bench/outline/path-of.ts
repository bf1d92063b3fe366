/** What parts of the drawing over the picture share. */
import type { Drawing, Place } from '@/core/outline/drawing'

/** A row of places as a path of an SVG. `at`: where a place stands in the picture, pixels. */
export const pathOf = (row: readonly Place[], at: (p: Place) => Place, close = false): string =>
  row
    .map(
      (p, i) =>
        `${i ? 'L' : 'M'}${at(p)
          .map((v) => v.toFixed(1))
          .join(' ')}`,
    )
    .join('') + (close ? 'Z' : '')

export interface Part {
  readonly d: Drawing
  readonly at: (p: Place) => Place
  readonly px: number
}
