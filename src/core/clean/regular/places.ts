/** Places at round numbers: planes along the axes of the world, round walls beside them. */
import { num, plural } from '@/core/base/say'
import { type Shape } from '@/core/fit/shape'
import type { Vec3 } from '@/core/math/vec'
import { groupsOf, radiusOf, roundOf, roundSteps, shapeNames, type Regularities } from './finder'

const straight = (d: Vec3) => [0, 1, 2].find((k) => Math.abs(Math.abs(d[k]) - 1) < 1e-12)

export function planePlaces(r: Regularities): void {
  const planes = r.shapes.flatMap((s, i) => {
    const k = s.kind === 'plane' ? straight(s.axis!) : undefined
    return k === undefined ? [] : [{ i, k, v: s.at[k] }]
  })
  for (const k of [0, 1, 2])
    for (const group of groupsOf(
      planes.filter((p) => p.k === k),
      r.close,
    )) {
      const mean = group.reduce((s, x) => s + x.v, 0) / group.length
      const v = roundOf(mean, Math.min(...group.map((x) => r.near(x.i))), roundSteps)
      if (v === null) continue
      const to = (s: Shape): Shape => ({ ...s, at: s.at.map((c, j) => (j === k ? v : c)) as unknown as Vec3 })
      r.take(
        'round',
        (n) => `${plural(n.length, 'plane')} at ${'xyz'[k]} ${num(v, 5)}`,
        new Map(group.map((x) => [x.i, to(r.shapes[x.i])])),
      )
    }
}

/** Round walls that touch flat ones stay where they do. */
export function roundPlaces(r: Regularities): void {
  r.shapes.forEach((s, i) => {
    if (s.kind === 'plane' || r.touched.has(i)) return
    const k = s.axis ? straight(s.axis) : undefined
    if (s.axis && k === undefined) return
    const at = s.at.map((c, j) =>
      j === k && s.kind === 'cylinder' ? c : (roundOf(c, r.near(i), roundSteps) ?? c),
    ) as unknown as Vec3
    if (at.every((c, j) => c === s.at[j])) return
    const where = at
      .flatMap((c, j) => (j === k && s.kind === 'cylinder' ? [] : [`${'xyz'[j]} ${num(c, 5)}`]))
      .join(', ')
    r.take(
      'round',
      () => `${shapeNames[s.kind]} of radius ${num(radiusOf(s) ?? 0, 4)} at ${where}`,
      new Map([[i, { ...s, at }]]),
    )
  })
}
