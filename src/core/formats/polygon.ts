/** Cuts a face with many corners into triangles in its own plane (library: earcut); quads along the diagonal that keeps them flatter. */
import earcut from 'earcut'
import { cross, frame, normalize, sub, dot, length, type Vec3 } from '@/core/math/vec'

/**
 * Steps of about 10 ns that the cutting of one file's faces with many corners may take: it grows with the square of the corners, and with the
 * cube where points repeat (measured on the library).
 */
const patience = 4e8
/** Faces with fewer corners are not counted. */
const fewCorners = 64

/** Keeps count over one file, so that a file of nothing but huge faces ends in reasonable time. */
export class Knife {
  private left = patience
  private fans = 0
  /** Whether a face of so many corners may still be cut with care; else it is cut as a fan, and noted. */
  may(points: readonly Vec3[]): boolean {
    const n = points.length
    if (n < fewCorners) return true
    const repeated = n - new Set(points.map(String)).size
    this.left -= n * n + (repeated * repeated * n) / 25
    if (this.left >= 0) return true
    this.fans++
    return false
  }
  notes(): string[] {
    return this.fans ? [`${this.fans} faces with very many corners were cut as fans and may lie askew`] : []
  }
}

/** Corner numbers (0 .. n - 1) three by three; faces without area give a fan. */
export function cutPolygon(knife: Knife, points: readonly Vec3[]): number[] {
  const n = points.length
  if (n < 3) return []
  if (n === 3) return [0, 1, 2]
  // Newell's normal serves non-planar faces as well.
  let normal: Vec3 = [0, 0, 0]
  for (let i = 0; i < n; i++) {
    const a = points[i],
      b = points[(i + 1) % n]
    normal = [
      normal[0] + (a[1] - b[1]) * (a[2] + b[2]),
      normal[1] + (a[2] - b[2]) * (a[0] + b[0]),
      normal[2] + (a[0] - b[0]) * (a[1] + b[1]),
    ]
  }
  const fan = Array.from({ length: n - 2 }, (_, i) => [0, i + 1, i + 2]).flat()
  if (length(normal) === 0 || !knife.may(points) || !points.every((p) => p.every(Number.isFinite))) return fan
  const unit = normalize(normal)
  if (n === 4) {
    const facing = (a: Vec3, b: Vec3, c: Vec3) => dot(cross(sub(b, a), sub(c, a)), unit)
    const [p, q, r, s] = points
    const first = Math.min(facing(p, q, r), facing(p, r, s)),
      second = Math.min(facing(p, q, s), facing(q, r, s))
    return first >= second - 1e-9 * Math.abs(first) ? [0, 1, 2, 0, 2, 3] : [0, 1, 3, 1, 2, 3]
  }
  const [x, y] = frame(unit)
  const cut = earcut(points.flatMap((p) => [dot(p, x), dot(p, y)]))
  return cut.length === fan.length ? cut : fan
}
