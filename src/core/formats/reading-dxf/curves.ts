/** Curves of a DXF file as ours. */
import type { Curve, Drawing, Place } from '@/core/outline/drawing'
import { Draft, piecesBetween } from '@/core/outline/split'
import { flat, type Entity } from './entities'
import { splineDrawing } from './spline'

type Reader = (e: Entity, weights: readonly number[]) => Drawing | null

/** By the name of the entity; null where it has no size. */
const readers: Readonly<Record<string, Reader>> = {
  LINE: line,
  CIRCLE: (e) => ({ points: [flat(e.center)], curves: [{ kind: 'circle', centre: 0, radius: Number(e.radius) }] }),
  ARC: arc,
  ELLIPSE: ellipse,
  SPLINE: splineDrawing,
  POINT: (e) => ({ points: [flat(e.position)], curves: [] }),
}

/** Names of the entities that are one curve. */
export const curveNames: readonly string[] = Object.keys(readers)

/** `weights`: of a rational spline. Null for what is no curve, or has no size. */
export const curveOf: Reader = (e, weights) => (Object.hasOwn(readers, e.type) ? readers[e.type](e, weights) : null)

function line(e: Entity): Drawing | null {
  const [p, q] = [flat(e.vertices?.[0]), flat(e.vertices?.[1])]
  return p[0] === q[0] && p[1] === q[1] ? null : { points: [p, q], curves: [{ kind: 'line', from: 0, to: 1 }] }
}

function arc(e: Entity): Drawing | null {
  // The parser gives angles in radians.
  const m = flat(e.center),
    r = Number(e.radius),
    [a, b] = [Number(e.startAngle), Number(e.endAngle)]
  if (!(r > 0)) return null
  if (Math.abs(b - a) < 1e-12 || Math.abs(Math.abs(b - a) - 2 * Math.PI) < 1e-12)
    return { points: [m], curves: [{ kind: 'circle', centre: 0, radius: r }] }
  const at = (t: number): Place => [m[0] + r * Math.cos(t), m[1] + r * Math.sin(t)]
  return { points: [at(a), at(b), m], curves: [{ kind: 'arc', from: 0, to: 1, centre: 2, ccw: true }] }
}

function ellipse(e: Entity): Drawing | null {
  const m = flat(e.center),
    long = flat(e.majorAxisEndPoint)
  const l = Math.hypot(...long)
  const curve: Curve = {
    kind: 'ellipse',
    centre: 0,
    long: l,
    short: l * Number(e.axisRatio),
    turn: (Math.atan2(long[1], long[0]) * 180) / Math.PI,
  }
  const whole: Drawing = { points: [m], curves: [curve] }
  const share = (v: number) => v / (2 * Math.PI)
  const from = share(e.startAngle ?? 0),
    to = share(e.endAngle ?? 2 * Math.PI)
  if (!Number.isFinite(from) || !Number.isFinite(to)) return null
  // Angles beyond a turn mean what is left of them.
  const a = from - Math.floor(from)
  const b = Math.abs(to - from) === 1 ? a + 1 : to - Math.floor(to)
  if (!(l > 0) || !(curve.short > 0)) return null
  if (Math.abs(Math.abs(b - a) - 1) < 1e-9 || a === b) return whole
  const last = b > a ? b : b + 1
  const draft = new Draft(whole)
  const at = (t: number) => {
    const u = 2 * Math.PI * t
    const [x, y] = [l * Math.cos(u), curve.short * Math.sin(u)]
    return draft.point([m[0] + (long[0] * x - long[1] * y) / l, m[1] + (long[1] * x + long[0] * y) / l])
  }
  const ends = [at(a), at(last)]
  const [piece] = piecesBetween(draft, whole, curve, [a, last], ends)
  return piece ? { points: draft.points, curves: [piece] } : null
}
