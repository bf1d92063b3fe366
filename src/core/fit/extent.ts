/** How far a region reaches on the shape that it lies on. */
import { addScaled, cross, dot, perpendicular, sub, type Vec3 } from '@/core/math/vec'
import { offShape, type Shape } from './shape'

export interface Extent {
  /** Along the axis from `at`, mm; of a plane across its first direction. */
  readonly from: number
  readonly to: number
  /** Round the axis from the first direction, degrees, `turn` on; of a plane across its second direction in mm. */
  readonly start: number
  readonly turn: number
  /** First direction square to the axis. */
  readonly x: Vec3
}

/** Gaps round an axis smaller than this are no gaps, degrees: the shape goes all round. */
const noGap = 40

/**
 * @param within samples farther off the shape do not count, mm
 */
export function extentOf(shape: Shape, points: readonly Vec3[], within: number): Extent {
  const axis = shape.axis ?? ([0, 0, 1] as Vec3)
  const on = points.filter((p) => Math.abs(offShape(shape, p)) <= within)
  let x = perpendicular(axis)
  if (shape.kind === 'plane') {
    // Turned so that the rectangle round the points is small: of some directions the best.
    let least = Infinity
    const [a, b] = [x, cross(axis, x)]
    for (let i = 0; i < 90; i++) {
      const t = (i * Math.PI) / 180
      const u = [0, 1, 2].map((k) => Math.cos(t) * a[k] + Math.sin(t) * b[k]) as unknown as Vec3
      const r = rangesOf(on, shape.at, u, cross(axis, u))
      const area = (r[1] - r[0]) * (r[3] - r[2])
      if (area < least * (1 - 1e-9)) {
        least = area
        x = u
      }
    }
    const [from, to, start, end] = rangesOf(on, shape.at, x, cross(axis, x))
    return { from, to, start, turn: end - start, x }
  }
  const y = cross(axis, x)
  let [from, to] = [Infinity, -Infinity]
  const angles: number[] = []
  for (const p of on) {
    const d = sub(p, shape.at)
    const t = dot(d, axis)
    from = Math.min(from, t)
    to = Math.max(to, t)
    const out = addScaled(d, axis, -t)
    angles.push((Math.atan2(dot(out, y), dot(out, x)) * 180) / Math.PI)
  }
  angles.sort((a, b) => a - b)
  let gap = -1,
    after = 0
  angles.forEach((a, i) => {
    const next = i + 1 < angles.length ? angles[i + 1] : angles[0] + 360
    if (next - a > gap) {
      gap = next - a
      after = next
    }
  })
  const whole = gap < noGap
  return { from, to, start: whole ? 0 : after, turn: whole ? 360 : 360 - gap, x }
}

function rangesOf(points: readonly Vec3[], at: Vec3, u: Vec3, v: Vec3): [number, number, number, number] {
  const r: [number, number, number, number] = [Infinity, -Infinity, Infinity, -Infinity]
  for (const p of points) {
    const d = sub(p, at)
    const [a, b] = [dot(d, u), dot(d, v)]
    r[0] = Math.min(r[0], a)
    r[1] = Math.max(r[1], a)
    r[2] = Math.min(r[2], b)
    r[3] = Math.max(r[3], b)
  }
  return r
}
