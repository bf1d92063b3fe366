/** Equal round walls that lie mirrored about the middle between two opposite planes. */
import { num, plural } from '@/core/base/say'
import { type Shape } from '@/core/fit/shape'
import { addScaled, dot, length, sub, type Vec3 } from '@/core/math/vec'
import { radiusOf, type Regularities } from './finder'

export function mirrored(r: Regularities): void {
  for (const k of [0, 1, 2]) {
    const across = r.shapes.filter((s) => s.kind === 'plane' && Math.abs(Math.abs(s.axis![k]) - 1) < 1e-12)
    if (across.length < 2) continue
    const ends = across.map((s) => s.at[k])
    const middle = (Math.min(...ends) + Math.max(...ends)) / 2
    const round = r.shapes.flatMap((s, i) =>
      s.kind === 'plane' || r.touched.has(i) || (s.axis && Math.abs(s.axis[k]) > 1e-9) ? [] : [i],
    )
    const pairs: [number, number][] = []
    for (const i of round)
      for (const j of round) {
        const [a, b] = [r.shapes[i], r.shapes[j]]
        if (i >= j || a.kind !== b.kind || radiusOf(a) !== radiusOf(b) || Math.abs(a.at[k] - b.at[k]) < 4 * r.close)
          continue
        const other = a.at.map((c, d) => (d === k ? 2 * middle - c : c)) as unknown as Vec3
        const gap = sub(other, b.at)
        const axis = b.axis
        const off = axis && b.kind === 'cylinder' ? length(addScaled(gap, axis, -dot(gap, axis))) : length(gap)
        if (off <= 2 * r.close) pairs.push([i, j])
      }
    if (!pairs.length) continue
    const changes = new Map<number, Shape>()
    for (const [i, j] of pairs) {
      const half = (r.shapes[j].at[k] - r.shapes[i].at[k]) / 2
      const moved = (s: Shape, v: number): Shape => ({
        ...s,
        at: s.at.map((c, d) => (d === k ? v : c)) as unknown as Vec3,
      })
      changes.set(i, moved(r.shapes[i], middle - half))
      changes.set(j, moved(r.shapes[j], middle + half))
    }
    r.take('mirrored', () => `${plural(pairs.length, 'pair')} mirrored about ${'xyz'[k]} ${num(middle, 4)}`, changes)
  }
}
