/** Circles about one centre: copies of circles that reach farther out or in, and the ring between two. */
import { Drawer, type Anchor } from './draw'
import type { Curve, Drawing } from './drawing'

const least = 1e-9
/** Circles nearer in radius than this share are one. */
const same = 1e-6

type Circle = Extract<Curve, { kind: 'circle' }>

/**
 * Circles about the centres of those that are picked, their radii greater by a distance, mm (less where it is below zero). They share the
 * centre's point, so that they stay concentric whatever moves.
 *
 * @returns null where no circle is picked, or one would shrink to nothing
 */
export function concentric(d: Drawing, picked: readonly number[], by: number): Drawing | null {
  const circles = picked.map((i) => d.curves[i]).filter((c): c is Circle => c.kind === 'circle')
  if (!circles.length || circles.some((c) => !(c.radius + by > least))) return null
  return {
    ...d,
    curves: [...d.curves, ...circles.map((c): Curve => ({ kind: 'circle', centre: c.centre, radius: c.radius + by }))],
  }
}

/**
 * Two circles about a centre, for the ring between them; a circle that is there already is taken for one of them.
 *
 * @returns null where they would be the same, or one nothing
 */
export function drawRing(d: Drawing, centre: Anchor, radii: readonly [number, number]): Drawing | null {
  const [a, b] = radii
  if (!(Math.min(a, b) > least) || Math.abs(a - b) < same * Math.max(a, b)) return null
  const w = new Drawer(d)
  const middle = w.point(centre)
  const there = (r: number) =>
    d.curves.some((c) => c.kind === 'circle' && c.centre === middle && Math.abs(c.radius - r) < same * r)
  for (const radius of radii) if (!there(radius)) w.curve({ kind: 'circle', centre: middle, radius })
  return w.drawing()
}
