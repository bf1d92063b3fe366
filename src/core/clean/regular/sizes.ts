/** Radii and angles that are equal or round. */
import { num } from '@/core/base/say'
import { type Shape } from '@/core/fit/shape'
import { addScaled, dot, sub } from '@/core/math/vec'
import { groupsOf, listed, radiusOf, roundOf, roundSteps, withRadius, type Regularities } from './finder'
import { touchingPlace } from './touching'

const roundAngles = [5, 1, 0.5, 0.25, 0.1]

/** A shape with another radius; one that touches planes moves so that it still does. */
function resized(r: Regularities, i: number, v: number): Shape {
  const s = withRadius(r.shapes[i], v)
  const planes = r.touched.get(i)
  const at =
    planes &&
    touchingPlace(
      s,
      planes.map((k) => r.shapes[k]),
    )
  return at ? { ...s, at } : s
}

export function sizes(r: Regularities): void {
  const near = r.shapes.flatMap((s, i) => (radiusOf(s) === undefined ? [] : [{ i, v: radiusOf(s)! }]))
  for (const group of groupsOf(near, 4 * r.close)) {
    const whole = group.reduce((s, x) => s + r.weight(x.i), 0)
    const mean = group.reduce((s, x) => s + x.v * r.weight(x.i), 0) / whole
    const to = (v: number) => new Map(group.map((x) => [x.i, resized(r, x.i, v)]))
    // A fillet is told by its middle: its ends run into the flats and would hold against every change.
    const sure = (v: number) => (i: number) => r.touched.has(i) && Math.abs(v - radiusOf(r.shapes[i])!) <= 2 * r.close
    const rounded = roundOf(2 * mean, 2 * Math.min(...group.map((x) => r.near(x.i))), roundSteps)
    const word = (n: readonly number[]) => listed(n.map((i) => r.shapes[i]))
    if (rounded !== null && rounded > 0) {
      const v = rounded / 2
      if (r.take('round', (n) => `${word(n)} of radius ${num(v, 5)}`, to(v), 1, sure(v))) continue
    }
    if (group.length > 1) r.take('equal', (n) => `${word(n)} of one radius, ${num(mean, 4)}`, to(mean), 2, sure(mean))
  }
  // A ring's circle, a cone's angle.
  r.shapes.forEach((s, i) => {
    if (s.kind === 'ring') {
      const v = roundOf(s.radius!, r.near(i), roundSteps)
      if (v !== null) r.take('round', () => `ring's circle of radius ${num(v, 5)}`, new Map([[i, { ...s, radius: v }]]))
    }
  })
  const cones = r.shapes.flatMap((s, i) => (s.kind === 'cone' ? [{ i, v: s.halfAngle! }] : []))
  for (const group of groupsOf(cones, 0.5)) {
    const mean = group.reduce((s, x) => s + x.v, 0) / group.length
    for (const step of roundAngles) {
      const v = Number((Math.round(mean / step) * step).toFixed(6))
      if (Math.abs(v - mean) > 0.3) continue
      const held = group.every(({ i }) => r.holds(i, coneOf(r, i, v)))
      if (!held) continue
      r.take(
        'round',
        (n) => `${listed(n.map((i) => r.shapes[i]))} with half angle ${num(v, 3)}°`,
        new Map(group.map(({ i }) => [i, coneOf(r, i, v)])),
      )
      break
    }
  }
}

/** A cone of another angle: the tip slides so that the wall stays where most of it is. */
function coneOf(r: Regularities, i: number, halfAngle: number): Shape {
  const s = r.shapes[i]
  let along = 0
  const points = r.points(i)
  for (const p of points) along += dot(sub(p, s.at), s.axis!) / points.length
  const widen = Math.tan((s.halfAngle! * Math.PI) / 180) / Math.tan((halfAngle * Math.PI) / 180)
  return { ...s, halfAngle, at: addScaled(s.at, s.axis!, along * (1 - widen)) }
}
