/** How the parts of a drawing are called in sentences: "line 2", "tangent of line 2 and arc 3", "length of line 1 (40 mm)". */
import { constraintWords, dimensionWords, type Constraint, type Dimension } from './constraint'
import type { Drawing } from './drawing'
import type { Owner } from './laws/formula'

export const curveWord = (d: Drawing, i: number): string => `${d.curves[i].kind} ${i + 1}`
export const pointWord = (i: number): string => `point ${i + 1}`

function parts(d: Drawing, c: Pick<Constraint, 'points' | 'curves'>): string {
  const list = [...c.points.map(pointWord), ...c.curves.map((i) => curveWord(d, i))]
  return list.length > 1 ? `${list.slice(0, -1).join(', ')} and ${list[list.length - 1]}` : (list[0] ?? '')
}

export const constraintWord = (d: Drawing, c: Constraint): string => `${constraintWords[c.kind]}: ${parts(d, c)}`

export const dimensionWord = (d: Drawing, c: Dimension): string =>
  c.name ? `dimension "${c.name}"` : `${dimensionWords[c.kind]} of ${parts(d, c)}`

/** What a law belongs to, in words. */
export function ownerWord(d: Drawing, o: Owner): string {
  if (o.of === 'constraint') return constraintWord(d, d.constraints![o.index])
  if (o.of === 'arc') return `roundness of ${curveWord(d, o.index)}`
  const dim = d.dimensions![o.index]
  return `${dimensionWord(d, dim)}${dim.value === undefined ? '' : ` (${dim.value}${dim.kind === 'angle' ? '°' : ' mm'})`}`
}
