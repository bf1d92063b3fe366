/** Round walls that touch two flat ones, as a fillet does: they are told best by their middle, since their ends run into the flats. */
import { num } from '@/core/base/say'
import { offShape, type Shape } from '@/core/fit/shape'
import { addScaled, cross, distance, dot, length, sub, type Vec3 } from '@/core/math/vec'
import { said, type Regularities } from './finder'

/** Where the axis of a cylinder is when it touches two planes on the sides where it lies; null where they are nearly parallel. */
export function touchingPlace(s: Shape, planes: readonly Shape[]): Vec3 | null {
  const [p, q] = planes
  const c = dot(p.axis!, q.axis!)
  if (1 - c * c < 0.0025) return null
  // In the plane square to the axis: signed distances to both are the radius.
  const want = [p, q].map((x) => Math.sign(dot(sub(s.at, x.at), x.axis!)) * s.radius!)
  const [dp, dq] = [want[0] - dot(sub(s.at, p.at), p.axis!), want[1] - dot(sub(s.at, q.at), q.axis!)]
  const a = (dp - c * dq) / (1 - c * c),
    b = (dq - c * dp) / (1 - c * c)
  return addScaled(addScaled(s.at, p.axis!, a), q.axis!, b)
}

/** A wall nearly touches when it is off by less than this share of its radius. */
const nearlyTouching = 0.08
/** Of a fillet's turn the middle part tells its radius. */
const middlePart = 0.6
const searches = 60

/** The radius that the middle of a fillet between two planes has, by golden section. */
function radiusBetween(
  s: Shape,
  planes: readonly Shape[],
  points: readonly Vec3[],
): { radius: number; rms: number } | null {
  const [p, q] = planes.map((x) => {
    const side = Math.sign(dot(sub(s.at, x.at), x.axis!))
    return [x.axis![0] * -side, x.axis![1] * -side, x.axis![2] * -side] as Vec3
  })
  // Directions from the axis to where it touches both, and the middle of them.
  const between: Vec3 = [p[0] + q[0], p[1] + q[1], p[2] + q[2]]
  const l = length(between)
  const half = Math.acos(Math.max(-1, Math.min(1, dot(p, q)))) / 2
  const limit = Math.cos(half * middlePart)
  const inner = points.filter((v) => {
    const d = sub(v, s.at)
    const out = addScaled(d, s.axis!, -dot(d, s.axis!))
    return dot(out, between) > limit * length(out) * l
  })
  if (inner.length < 4 || !(l > 1e-6)) return null
  const bad = (radius: number) => {
    const at = touchingPlace({ ...s, radius }, planes)
    return at ? inner.reduce((sum, v) => sum + offShape({ ...s, radius, at }, v) ** 2, 0) : Infinity
  }
  const g = (Math.sqrt(5) - 1) / 2
  let [lo, hi] = [s.radius! * 0.8, s.radius! * 1.25]
  let [x, y] = [hi - g * (hi - lo), lo + g * (hi - lo)]
  let [fx, fy] = [bad(x), bad(y)]
  for (let i = 0; i < searches; i++)
    if (fx < fy) {
      hi = y
      y = x
      fy = fx
      x = hi - g * (hi - lo)
      fx = bad(x)
    } else {
      lo = x
      x = y
      fx = fy
      y = lo + g * (hi - lo)
      fy = bad(y)
    }
  const radius = (lo + hi) / 2
  return { radius, rms: Math.sqrt(bad(radius) / inner.length) }
}

export function touching(r: Regularities): void {
  const planes = r.shapes.flatMap((s, i) => (s.kind === 'plane' ? [i] : []))
  r.shapes.forEach((s, i) => {
    if (s.kind !== 'cylinder') return
    const near = planes
      .map((k) => {
        const p = r.shapes[k]
        const off = Math.abs(Math.abs(dot(sub(s.at, p.at), p.axis!)) - s.radius!)
        return { k, off, along: Math.abs(dot(p.axis!, s.axis!)) < 1e-6, beside: r.beside(i, k) }
      })
      .filter((x) => x.along && x.beside && x.off <= Math.max(3 * r.close, nearlyTouching * s.radius!))
      .sort((a, b) => a.off - b.off)
      .slice(0, 2)
      .map((x) => x.k)
    if (near.length !== 2) return
    const pair = near.map((k) => r.shapes[k])
    if (length(cross(pair[0].axis!, pair[1].axis!)) < 0.05) return
    // Places of a drawn part lie on it to the last digit; those of a scan leave the radius to its middle.
    const middle = r.drawn ? null : radiusBetween(s, pair, r.points(i))
    const radius = middle?.radius ?? s.radius!
    const sure = !!middle && middle.rms <= r.close
    const at = touchingPlace({ ...s, radius }, pair)
    if (!at) return
    const before = distance(at, s.at)
    const text = () => `cylinder of radius ${num(radius, 3)} at ${said(at)} touches two planes`
    if (before < 1e-12 || r.take('touching', text, new Map([[i, { ...s, radius, at }]]), 1, () => sure))
      r.touched.set(i, near)
  })
}
