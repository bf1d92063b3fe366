import { StepError } from '@/core/base/step-error'
import { pointsOf, type Drawing } from '../drawing'

/** Throws StepError `bad-drawing` where a curve, constraint or dimension names a number that is not there. */
export function inRange(d: Drawing): void {
  const refuse = (what: string, n: number, k: number) => {
    throw new StepError('bad-drawing', `${what} ${n + 1} names ${k} that is not there.`, {
      tryThis: 'Numbers begin at 0 and run to one less than there are.',
    })
  }
  d.curves.forEach((c, i) => {
    for (const p of pointsOf(c)) if (p >= d.points.length) refuse('Curve', i, p)
  })
  const each = (what: string, list: readonly { points: number[]; curves: number[] }[]) =>
    list.forEach((c, i) => {
      for (const p of c.points) if (p >= d.points.length) refuse(what, i, p)
      for (const k of c.curves) if (k >= d.curves.length) refuse(what, i, k)
    })
  each('Constraint', d.constraints ?? [])
  each('Dimension', d.dimensions ?? [])
  d.lettering?.forEach((l, i) => {
    if (l.at >= d.points.length) refuse('Lettering', i, l.at)
    if (l.around !== undefined && l.around >= d.curves.length) refuse('Lettering', i, l.around)
  })
}
