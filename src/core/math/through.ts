/** Shapes through points by linear least squares: quick first answers that geometric fits start from. */
import { solveDense } from './least-squares'
import { addScaled, dot, scale, sub, type Vec3 } from './vec'

export const meanOf = (points: readonly Vec3[]): Vec3 =>
  scale(
    points.reduce<Vec3>((a, p) => [a[0] + p[0], a[1] + p[1], a[2] + p[2]], [0, 0, 0]),
    1 / points.length,
  )

/** Sums of products about a middle: xx, xy, xz, yy, yz, zz. */
export function spreadOf(points: readonly Vec3[], middle: Vec3): number[] {
  const m = [0, 0, 0, 0, 0, 0]
  for (const p of points) {
    const d = sub(p, middle)
    m[0] += d[0] * d[0]
    m[1] += d[0] * d[1]
    m[2] += d[0] * d[2]
    m[3] += d[1] * d[1]
    m[4] += d[1] * d[2]
    m[5] += d[2] * d[2]
  }
  return m
}

/** The solution of a linear least-squares problem by its normal equations; null where it is singular. */
function solveRows(rows: readonly (readonly number[])[], right: readonly number[]): number[] | null {
  const n = rows[0]?.length ?? 0
  const a = Array.from({ length: n }, () => new Array<number>(n).fill(0)),
    b = new Array<number>(n).fill(0)
  rows.forEach((row, k) => {
    for (let i = 0; i < n; i++) {
      b[i] += row[i] * right[k]
      for (let j = 0; j < n; j++) a[i][j] += row[i] * row[j]
    }
  })
  return n ? solveDense(a, b) : null
}

/** Algebraic circle through plane points (Kåsa 1976). */
export function circleThrough(
  points: readonly (readonly [number, number])[],
): { x: number; y: number; r: number } | null {
  const s = solveRows(
    points.map(([x, y]) => [x, y, 1]),
    points.map(([x, y]) => x * x + y * y),
  )
  if (!s) return null
  const r2 = s[2] + (s[0] * s[0] + s[1] * s[1]) / 4
  return r2 > 0 ? { x: s[0] / 2, y: s[1] / 2, r: Math.sqrt(r2) } : null
}

/** Algebraic sphere through points; null when they do not tell one. */
export function sphereThrough(points: readonly Vec3[]): { centre: Vec3; radius: number } | null {
  if (points.length < 4) return null
  const m = meanOf(points)
  const off = points.map((p) => sub(p, m))
  const s = solveRows(
    off.map((d) => [d[0], d[1], d[2], 1]),
    off.map((d) => dot(d, d)),
  )
  if (!s) return null
  const r2 = s[3] + (s[0] * s[0] + s[1] * s[1] + s[2] * s[2]) / 4
  return r2 > 0 ? { centre: addScaled(m, [s[0], s[1], s[2]], 0.5), radius: Math.sqrt(r2) } : null
}
