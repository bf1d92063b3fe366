/** Drawings under an affine map of the plane: exact where the map keeps circles round or makes ellipses of them. */
import type { Curve, Drawing, Place } from './drawing'
import { Draft, piecesBetween } from './split'

/** x' = a x + c y + e, y' = b x + d y + f: the order of SVG's matrix(). */
export type Flat = readonly [a: number, b: number, c: number, d: number, e: number, f: number]

export const flatIdentity: Flat = [1, 0, 0, 1, 0, 0]
export const applyFlat = ([a, b, c, d, e, f]: Flat, [x, y]: Place): Place => [a * x + c * y + e, b * x + d * y + f]
/** First `n`, then `m`. */
export const composeFlat = (m: Flat, n: Flat): Flat => [
  m[0] * n[0] + m[2] * n[1],
  m[1] * n[0] + m[3] * n[1],
  m[0] * n[2] + m[2] * n[3],
  m[1] * n[2] + m[3] * n[3],
  m[0] * n[4] + m[2] * n[5] + m[4],
  m[1] * n[4] + m[3] * n[5] + m[5],
]
export const turnFlat = (degrees: number): Flat => {
  const a = (degrees * Math.PI) / 180
  return [Math.cos(a), Math.sin(a), -Math.sin(a), Math.cos(a), 0, 0]
}

/** The ellipse that two half diameters of it tell, as half widths and turn in degrees (Rytz; by the singular values of the map). */
function axesOf(u: Place, v: Place): { long: number; short: number; turn: number } {
  // The angle at which the ellipse u cos t + v sin t is widest.
  const t = Math.atan2(2 * (u[0] * v[0] + u[1] * v[1]), u[0] ** 2 + u[1] ** 2 - v[0] ** 2 - v[1] ** 2) / 2
  const p: Place = [u[0] * Math.cos(t) + v[0] * Math.sin(t), u[1] * Math.cos(t) + v[1] * Math.sin(t)]
  const q: Place = [v[0] * Math.cos(t) - u[0] * Math.sin(t), v[1] * Math.cos(t) - u[1] * Math.sin(t)]
  return { long: Math.hypot(...p), short: Math.hypot(...q), turn: (Math.atan2(p[1], p[0]) * 180) / Math.PI }
}

/**
 * A drawing under a map. Circles and ellipses become ellipses where the map is uneven, arcs then splines that follow them.
 * Constraints and dimensions are left out: they may hold no longer.
 */
export function transformed(d: Drawing, m: Flat): Drawing {
  const [a, b, c, e] = m
  const det = a * e - b * c
  const size = Math.sqrt(Math.abs(det))
  const even =
    Math.abs(a * c + b * e) < 1e-9 * size * size && Math.abs(Math.hypot(a, b) - Math.hypot(c, e)) < 1e-9 * size
  const way = ([x, y]: Place): Place => [a * x + c * y, b * x + e * y]
  let from = d
  if (!even && d.curves.some((k) => k.kind === 'arc')) {
    // An arc is cut out of its own ellipse: as a spline before the map, which maps exactly.
    const draft = new Draft(d)
    draft.curves.forEach((k, i) => {
      if (k.kind !== 'arc') return
      const p = d.points[k.from],
        q = d.points[k.centre]
      const radius = Math.hypot(p[0] - q[0], p[1] - q[1])
      const at = (r: Place) => Math.atan2(r[1] - q[1], r[0] - q[0]) / (2 * Math.PI)
      const whole: Curve = { kind: 'ellipse', centre: k.centre, long: radius, short: radius, turn: 0 }
      const [s, t] = k.ccw ? [k.from, k.to] : [k.to, k.from]
      const first = at(d.points[s])
      let last = at(d.points[t])
      while (last <= first + 1e-12) last++
      const [piece] = piecesBetween(draft, d, whole, [first, last], [s, t])
      if (piece) draft.curves[i] = k.construction ? { ...piece, construction: true } : piece
    })
    from = { points: draft.points, curves: draft.curves }
  }
  return {
    points: from.points.map((p) => applyFlat(m, p)),
    curves: from.curves.map((k): Curve => {
      switch (k.kind) {
        case 'arc':
          return { ...k, ccw: det < 0 ? !k.ccw : k.ccw }
        case 'circle': {
          if (even) return { ...k, radius: k.radius * size }
          const guide = k.construction ? { construction: true } : {}
          return { kind: 'ellipse', centre: k.centre, ...axesOf(way([k.radius, 0]), way([0, k.radius])), ...guide }
        }
        case 'ellipse': {
          const t = (k.turn * Math.PI) / 180
          const [cos, sin] = [Math.cos(t), Math.sin(t)]
          return {
            ...k,
            ...axesOf(way([k.long * cos, k.long * sin]), way([-k.short * sin, k.short * cos])),
          }
        }
        default:
          return k
      }
    }),
  }
}
