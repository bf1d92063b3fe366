/** Shapes whose axes lie in one line. */
import { addScaled, dot, length, sub, type Vec3 } from '@/core/math/vec'
import { angle, listed, said, type Regularities } from './finder'

export function axes(r: Regularities): void {
  const round = r.shapes.flatMap((s, i) => (s.kind === 'plane' ? [] : [i]))
  const left = new Set(round.sort((a, b) => r.weight(b) - r.weight(a) || a - b))
  for (const seed of left) {
    const s = r.shapes[seed]
    if (!s.axis) continue
    left.delete(seed)
    const group = [...left].filter((i) => {
      const o = r.shapes[i]
      if (o.axis && angle(o.axis, s.axis!) > 1e-3) return false
      const d = sub(o.at, s.at)
      return length(addScaled(d, s.axis!, -dot(d, s.axis!))) <= 3 * r.close
    })
    if (!group.length) continue
    const onto = (p: Vec3) => addScaled(s.at, s.axis!, dot(sub(p, s.at), s.axis!))
    const changes = new Map(group.map((i) => [i, { ...r.shapes[i], at: onto(r.shapes[i].at) }]))
    r.take('coaxial', (n) => `${listed([s, ...n.map((i) => r.shapes[i])])} on one axis, through ${said(s.at)}`, changes)
    for (const i of group) left.delete(i)
  }
}
