/** Directions that are one, or square to each other, or along the axes of the world. */
import { type Shape } from '@/core/fit/shape'
import { addScaled, cross, dot, normalize, scale, sub, type Vec3 } from '@/core/math/vec'
import { angle, listed, said, unsigned, type Regularities } from './finder'

/** Directions within this of each other may be one, degrees; the mesh has to agree. */
const closeAngle = 6

/** A shape with its axis turned about the middle of what it explains. */
function turnedTo(s: Shape, axis: Vec3, points: readonly Vec3[]): Shape {
  const way = dot(s.axis!, axis) < 0 ? scale(axis, -1) : axis
  if (s.kind === 'cone' || s.kind === 'ring') return { ...s, axis: way }
  let m: Vec3 = [0, 0, 0]
  for (const p of points) m = addScaled(m, p, 1 / points.length)
  // The place of the axis nearest to the middle stays.
  const at =
    s.kind === 'plane'
      ? addScaled(m, s.axis!, -dot(sub(m, s.at), s.axis!))
      : addScaled(s.at, s.axis!, dot(sub(m, s.at), s.axis!))
  return { ...s, at, axis: way }
}

export function directions(r: Regularities): void {
  const withAxis = r.shapes.flatMap((s, i) => (s.axis ? [i] : []))
  const left = new Set(withAxis.sort((a, b) => r.weight(b) - r.weight(a) || a - b))
  const world: readonly (readonly [string, Vec3])[] = [
    ['x', [1, 0, 0]],
    ['y', [0, 1, 0]],
    ['z', [0, 0, 1]],
  ]
  const main: Vec3[] = []
  for (const seed of left) {
    const own = unsigned(r.shapes[seed].axis!)
    const group = [...left].filter((i) => angle(r.shapes[i].axis!, own) <= closeAngle)
    // The weighted mean of those that agree.
    let mean: Vec3 = [0, 0, 0]
    for (const i of group) {
      const d = r.shapes[i].axis!
      mean = addScaled(mean, dot(d, own) < 0 ? scale(d, -1) : d, r.weight(i))
    }
    const middle = normalize(mean)
    const to = (axis: Vec3) => new Map(group.map((i) => [i, turnedTo(r.shapes[i], axis, r.points(i))]))
    let axis: Vec3 | null = null
    const straight = world.find(([, w]) => angle(w, middle) <= closeAngle)
    if (
      straight &&
      r.take('along', (n) => `${listed(n.map((i) => r.shapes[i]))} along ${straight[0]}`, to(straight[1]))
    )
      axis = straight[1]
    if (!axis && main.length) {
      // Square to what was found before: to two of them their common square, else the nearest square to one.
      const square = main.filter((m) => Math.abs(90 - angle(m, middle)) <= closeAngle)
      const wanted =
        square.length > 1
          ? normalize(cross(square[0], square[1]))
          : square.length
            ? normalize(addScaled(middle, square[0], -dot(middle, square[0])))
            : null
      if (
        wanted &&
        r.take(
          'square',
          (n) => `${listed(n.map((i) => r.shapes[i]))} along ${said(unsigned(wanted))}, square to ${said(square[0])}`,
          to(wanted),
        )
      )
        axis = wanted
    }
    if (
      !axis &&
      group.length > 1 &&
      r.take(
        'parallel',
        (n) => `${listed(n.map((i) => r.shapes[i]))} parallel, along ${said(unsigned(middle))}`,
        to(middle),
        2,
      )
    )
      axis = middle
    for (const i of group) left.delete(i)
    if (axis || group.length) main.push(axis ?? middle)
  }
}
