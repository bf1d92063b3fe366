/** Best cylinder through points: start from the normals' common perpendicular, then geometric least squares (Eberly, Least Squares Fitting of Data, 2000; Marquardt 1963). */
import { levenbergMarquardt } from '@/core/math/least-squares'
import { circleThrough } from '@/core/math/through'
import { symmetricEigen } from '@/core/math/eigen'
import { addScaled, cross, dot, frame, length, normalize, sub, type Vec3 } from '@/core/math/vec'

export interface Cylinder {
  /** A point on the axis, mm. */
  readonly point: Vec3
  readonly axis: Vec3
  readonly radius: number
  /** Root mean square and greatest distance of the points from the surface, mm. */
  readonly rms: number
  readonly max: number
}

/** The direction most square to all normals; `weights` may be areas. */
export function axisFromNormals(
  normals: readonly Vec3[],
  weights: readonly number[],
): { axis: Vec3; flatness: number } {
  const m = [0, 0, 0, 0, 0, 0]
  normals.forEach((n, i) => {
    const w = weights[i]
    m[0] += w * n[0] * n[0]
    m[1] += w * n[0] * n[1]
    m[2] += w * n[0] * n[2]
    m[3] += w * n[1] * n[1]
    m[4] += w * n[1] * n[2]
    m[5] += w * n[2] * n[2]
  })
  const { values, vectors } = symmetricEigen(m)
  const total = values[0] + values[1] + values[2]
  return { axis: vectors[0], flatness: total > 0 ? values[0] / total : 1 }
}

/** Cylinder through at least six points, started from an axis direction; null when none fits. */
export function fitCylinder(points: readonly Vec3[], startAxis: Vec3): Cylinder | null {
  if (points.length < 6) return null
  const middle: Vec3 = [0, 1, 2].map((k) => points.reduce((s, p) => s + p[k], 0) / points.length) as unknown as Vec3
  const [u, v, w] = frame(normalize(startAxis))
  const local = points.map((p): Vec3 => {
    const d = sub(p, middle)
    return [dot(d, u), dot(d, v), dot(d, w)]
  })
  const c = circleThrough(local.map((p): [number, number] => [p[0], p[1]]))
  if (!c) return null
  // Parameters: axis point (x, y) at z = 0, slope (a, b) of the axis, radius.
  const { x } = levenbergMarquardt([c.x, c.y, 0, 0, c.r], local.length, (i, s, grad) => {
    const p = local[i]
    const k = 1 + s[2] * s[2] + s[3] * s[3]
    const dx = p[0] - s[0],
      dy = p[1] - s[1],
      dz = p[2]
    const along = (dx * s[2] + dy * s[3] + dz) / k
    const ex = dx - along * s[2],
      ey = dy - along * s[3],
      ez = dz - along
    const d = Math.hypot(ex, ey, ez) || 1e-300
    if (grad) {
      grad[0] = -ex / d
      grad[1] = -ey / d
      grad[2] = (-along * ex) / d
      grad[3] = (-along * ey) / d
      grad[4] = -1
    }
    return d - s[4]
  })
  const axisLocal = normalize([x[2], x[3], 1])
  let axis: Vec3 = [0, 1, 2].map(
    (k) => axisLocal[0] * u[k] + axisLocal[1] * v[k] + axisLocal[2] * w[k],
  ) as unknown as Vec3
  axis = normalize(axis)
  const point: Vec3 = [0, 1, 2].map((k) => middle[k] + x[0] * u[k] + x[1] * v[k]) as unknown as Vec3
  const radius = Math.abs(x[4])
  let sum = 0,
    max = 0
  for (const p of points) {
    const e = Math.abs(distanceToAxis(p, point, axis) - radius)
    sum += e * e
    if (e > max) max = e
  }
  if (!Number.isFinite(sum) || !Number.isFinite(radius)) return null
  return { point, axis, radius, rms: Math.sqrt(sum / points.length), max }
}

/** Distance of a point from a line through `point` along `axis` (unit), mm. */
export const distanceToAxis = (p: Vec3, point: Vec3, axis: Vec3): number => length(cross(sub(p, point), axis))

/** The foot of p on the axis, and how far along it lies from `point`. */
export function alongAxis(p: Vec3, point: Vec3, axis: Vec3): { at: number; foot: Vec3 } {
  const at = dot(sub(p, point), axis)
  return { at, foot: addScaled(point, axis, at) }
}
