/** One triangle of a mesh: its cross product, area, normal and middle. */
import type { Vec3 } from '@/core/math/vec'
import { corners, triangleCount, type TriMesh } from './tri-mesh'

/** Cross product of two edges of triangle t: twice the area along the outward normal. */
export function crossOf(m: TriMesh, t: number): Vec3 {
  crossInto(m.positions, m.triangles, t, scratch)
  return [scratch[0], scratch[1], scratch[2]]
}

/** The same written to `out`, from coordinates and corners in whatever arrays they stand; gives its length. Nothing is made on the way. */
export function crossInto(p: ArrayLike<number>, k: ArrayLike<number>, t: number, out: Float64Array): number {
  const a = 3 * k[3 * t],
    b = 3 * k[3 * t + 1],
    c = 3 * k[3 * t + 2]
  const ux = p[b] - p[a],
    uy = p[b + 1] - p[a + 1],
    uz = p[b + 2] - p[a + 2]
  const vx = p[c] - p[a],
    vy = p[c + 1] - p[a + 1],
    vz = p[c + 2] - p[a + 2]
  out[0] = uy * vz - uz * vy
  out[1] = uz * vx - ux * vz
  out[2] = ux * vy - uy * vx
  return Math.sqrt(out[0] * out[0] + out[1] * out[1] + out[2] * out[2])
}

const scratch = new Float64Array(3)
/** Area of triangle t, mm². */
export const triangleArea = (m: TriMesh, t: number): number => crossInto(m.positions, m.triangles, t, scratch) / 2

/** Unit normals, x y z for each triangle; zero for triangles without area. */
export function triangleNormals(m: TriMesh): Float32Array {
  const n = triangleCount(m)
  const out = new Float32Array(3 * n)
  for (let t = 0; t < n; t++) {
    const c = crossOf(m, t)
    const l = Math.hypot(c[0], c[1], c[2])
    if (l > 0) {
      out[3 * t] = c[0] / l
      out[3 * t + 1] = c[1] / l
      out[3 * t + 2] = c[2] / l
    }
  }
  return out
}

/** The middle of a triangle. */
export function middleOf(m: TriMesh, t: number): Vec3 {
  const [a, b, c] = corners(m, t)
  return [(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3, (a[2] + b[2] + c[2]) / 3]
}
