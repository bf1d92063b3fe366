/** How far places of a skin lie off the quadric over a plane that fits them best (linear least squares). */
import { solveDense } from '@/core/math/least-squares'
import { cross, dot, perpendicular, sub, type Vec3 } from '@/core/math/vec'
import { vertex, type TriMesh } from '@/core/mesh/tri-mesh'

/** Numbers that tell a quadric over a plane. */
export const quadricNumbers = 6

/**
 * Sum of the squares of what corners lie off it, mm²; null where they do not tell one.
 *
 * @param z unit normal of the plane
 * @param hair what holds numbers that corners in two rows, as of a strip, leave free
 */
export function squaresOffQuadric(mesh: TriMesh, corners: readonly number[], z: Vec3, hair = 0): number | null {
  const x = perpendicular(z)
  const y = cross(z, x)
  const origin = vertex(mesh, corners[0])
  const local = corners.map((v) => {
    const d = sub(vertex(mesh, v), origin)
    return [dot(d, x), dot(d, y), dot(d, z)] as const
  })
  const size = Math.max(...local.map((p) => Math.hypot(p[0], p[1]))) || 1
  const rows = local.map(([u, v]) => {
    const [a, b] = [u / size, v / size]
    return [1, a, b, a * a, a * b, b * b]
  })
  const each = Array.from({ length: quadricNumbers }, (_, i) => i)
  const c = solveDense(
    each.map((i) => each.map((j) => rows.reduce((s, r) => s + r[i] * r[j], 0) + (i === j ? hair : 0))),
    each.map((i) => rows.reduce((s, r, q) => s + r[i] * local[q][2], 0)),
  )
  if (!c) return null
  return rows.reduce((s, r, q) => s + (local[q][2] - r.reduce((w, a, i) => w + a * c[i], 0)) ** 2, 0)
}
