/** Affine maps as 12 numbers, row by row: [r00 r01 r02 tx, r10 r11 r12 ty, r20 r21 r22 tz]. */
import { cross, dot, frame, length, normalize, perpendicular, type Vec3 } from './vec'

export type Affine = readonly number[]

export const identity: Affine = [1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0]
export const translation = (t: Vec3): Affine => [1, 0, 0, t[0], 0, 1, 0, t[1], 0, 0, 1, t[2]]
export const scaling = (x: number, y = x, z = x): Affine => [x, 0, 0, 0, 0, y, 0, 0, 0, 0, z, 0]

/** The map that first does `b`, then `a`. */
export function compose(a: Affine, b: Affine): Affine {
  const out: number[] = []
  for (let r = 0; r < 3; r++) {
    for (let c = 0; c < 4; c++) {
      let v = c === 3 ? a[r * 4 + 3] : 0
      for (let k = 0; k < 3; k++) v += a[r * 4 + k] * b[k * 4 + c]
      out.push(v)
    }
  }
  return out
}

/** Runs `map` about `centre` in place of the origin. */
export function about(centre: Vec3, map: Affine): Affine {
  return compose(translation(centre), compose(map, translation([-centre[0], -centre[1], -centre[2]])))
}

export function applyPoint(m: Affine, p: Vec3): Vec3 {
  return [
    m[0] * p[0] + m[1] * p[1] + m[2] * p[2] + m[3],
    m[4] * p[0] + m[5] * p[1] + m[6] * p[2] + m[7],
    m[8] * p[0] + m[9] * p[1] + m[10] * p[2] + m[11],
  ]
}

/** Factor by which volumes grow under the map; below zero it mirrors. */
export function determinant(m: Affine): number {
  return m[0] * (m[5] * m[10] - m[6] * m[9]) - m[1] * (m[4] * m[10] - m[6] * m[8]) + m[2] * (m[4] * m[9] - m[5] * m[8])
}

/** Rotation about a unit axis through the origin, angle in degrees (Rodrigues). Right angles come out exact. */
export function rotation(axis: Vec3, degrees: number): Affine {
  const [x, y, z] = normalize(axis)
  const quarter = degrees / 90
  const exact = Number.isInteger(quarter)
  const turn = ((quarter % 4) + 4) % 4
  const c = exact ? [1, 0, -1, 0][turn] : Math.cos((degrees * Math.PI) / 180)
  const s = exact ? [0, 1, 0, -1][turn] : Math.sin((degrees * Math.PI) / 180)
  const t = 1 - c
  return [
    t * x * x + c,
    t * x * y - s * z,
    t * x * z + s * y,
    0,
    t * x * y + s * z,
    t * y * y + c,
    t * y * z - s * x,
    0,
    t * x * z - s * y,
    t * y * z + s * x,
    t * z * z + c,
    0,
  ]
}

/** The shortest rotation that takes direction `from` to direction `to`. */
export function rotationBetween(from: Vec3, to: Vec3): Affine {
  const a = normalize(from),
    b = normalize(to)
  const c = dot(a, b)
  const axis = cross(a, b)
  if (length(axis) < 1e-12) return c > 0 ? identity : rotation(perpendicular(a), 180)
  return rotation(axis, (Math.atan2(length(axis), c) * 180) / Math.PI)
}

/** Mirror in the plane through `point` square to `normal`. */
export function mirror(point: Vec3, normal: Vec3): Affine {
  const n = normalize(normal)
  const m = [
    1 - 2 * n[0] * n[0],
    -2 * n[0] * n[1],
    -2 * n[0] * n[2],
    0,
    -2 * n[1] * n[0],
    1 - 2 * n[1] * n[1],
    -2 * n[1] * n[2],
    0,
    -2 * n[2] * n[0],
    -2 * n[2] * n[1],
    1 - 2 * n[2] * n[2],
    0,
  ]
  return about(point, m)
}

/** Unit directions of a thing that stands along an axis: its first edge along x while the axis is z, else square to the axis, turned, degrees. */
export function standing(axis: Vec3, turn: number): [Vec3, Vec3, Vec3] {
  const n = normalize(axis)
  const x0: Vec3 = Math.abs(n[2]) > 1 - 1e-12 ? [1, 0, 0] : frame(n)[0]
  const x = applyPoint(rotation(n, turn), x0)
  return [x, cross(n, x), n]
}

/** From a thing about 0 that stands along z to where it stands along an axis, turned, at a place. */
export function placeOn(at: Vec3, axis: Vec3, turn: number): Affine {
  const [x, y, z] = standing(axis, turn)
  return [0, 1, 2].flatMap((k) => [x[k], y[k], z[k], at[k]])
}
