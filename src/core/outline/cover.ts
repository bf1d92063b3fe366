/** Triangles that cover an area, for drawing it. */
import { ShapeUtils, Vector2 } from 'three'
import type { Place } from './drawing'
import type { Fill } from './fills'

/** Corners of triangles, three each (ear clipping; holes are bridged first). */
export function coverOf({ outer, holes }: Pick<Fill, 'outer' | 'holes'>): Place[] {
  const vectors = (row: readonly Place[]) => row.map(([u, v]) => new Vector2(u, v))
  const [around, within] = [vectors(outer.places), holes.map((h) => vectors(h.places))]
  const all = [...around, ...within.flat()]
  return ShapeUtils.triangulateShape(around, within)
    .flat()
    .map((i): Place => [all[i].x, all[i].y])
}
