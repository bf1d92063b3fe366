/** First guesses of shapes from oriented points: good enough for least squares to end at the right place. */
import { symmetricEigen } from '@/core/math/eigen'
import { solveDense } from '@/core/math/least-squares'
import { addScaled, cross, dot, length, normalize, perpendicular, scale, sub, type Vec3 } from '@/core/math/vec'
import { axisFromNormals } from '@/core/find/cylinder-fit'
import type { Samples } from './samples'
import type { Shape, ShapeKind } from './shape'

const mean = (list: readonly Vec3[]): Vec3 =>
  scale(
    list.reduce<Vec3>((a, p) => [a[0] + p[0], a[1] + p[1], a[2] + p[2]], [0, 0, 0]),
    1 / list.length,
  )

/** Sums of products about a middle, as a symmetric matrix. */
function spreadOf(list: readonly Vec3[], middle: Vec3): number[] {
  const m = [0, 0, 0, 0, 0, 0]
  for (const p of list) {
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

function plane({ points, normals }: Samples): Shape {
  const at = mean(points)
  const n = points.length > 3 ? symmetricEigen(spreadOf(points, at)).vectors[0] : normalize(mean(normals))
  return { kind: 'plane', at, axis: dot(n, mean(normals)) < 0 ? scale(n, -1) : n }
}

/** Algebraic sphere through points (Pratt's simplest form, by linear least squares). */
function sphere({ points }: Samples): Shape | null {
  if (points.length < 4) return null
  const m = mean(points)
  const a = Array.from({ length: 4 }, () => [0, 0, 0, 0]),
    b = [0, 0, 0, 0]
  for (const p of points) {
    const d = sub(p, m)
    const row = [d[0], d[1], d[2], 1],
      z = dot(d, d)
    for (let i = 0; i < 4; i++) {
      b[i] += row[i] * z
      for (let j = 0; j < 4; j++) a[i][j] += row[i] * row[j]
    }
  }
  const s = solveDense(a, b)
  if (!s) return null
  const r2 = s[3] + (s[0] * s[0] + s[1] * s[1] + s[2] * s[2]) / 4
  return r2 > 0 ? { kind: 'sphere', at: addScaled(m, [s[0], s[1], s[2]], 0.5), radius: Math.sqrt(r2) } : null
}

/** Kåsa's circle in a plane of two directions through a middle. */
function circleIn(points: readonly Vec3[], m: Vec3, u: Vec3, v: Vec3): { x: number; y: number; r: number } | null {
  const a = Array.from({ length: 3 }, () => [0, 0, 0]),
    b = [0, 0, 0]
  for (const p of points) {
    const d = sub(p, m)
    const row = [dot(d, u), dot(d, v), 1]
    const z = row[0] ** 2 + row[1] ** 2
    for (let i = 0; i < 3; i++) {
      b[i] += row[i] * z
      for (let j = 0; j < 3; j++) a[i][j] += row[i] * row[j]
    }
  }
  const s = solveDense(a, b)
  if (!s) return null
  const r2 = s[2] + (s[0] * s[0] + s[1] * s[1]) / 4
  return r2 > 0 ? { x: s[0] / 2, y: s[1] / 2, r: Math.sqrt(r2) } : null
}

/** A cylinder about a direction. */
export function cylinderAlong({ points }: Samples, axis: Vec3): Shape | null {
  const m = mean(points)
  const u = perpendicular(axis)
  const v = cross(axis, u)
  const c = circleIn(points, m, u, v)
  return c && { kind: 'cylinder', at: addScaled(addScaled(m, u, c.x), v, c.y), axis, radius: c.r }
}

const cylinder = (s: Samples): Shape | null => cylinderAlong(s, axisFromNormals(s.normals, s.weights).axis)

/** Normals of a cone lie on a circle of the unit sphere; the planes square to them all pass through its tip. */
function cone({ points, normals }: Samples): Shape | null {
  const middle = mean(normals)
  const n = symmetricEigen(spreadOf(normals, middle)).vectors[0]
  const a = Array.from({ length: 3 }, () => [0, 0, 0]),
    b = [0, 0, 0]
  points.forEach((p, i) => {
    const w = normals[i]
    const d = dot(p, w)
    for (let k = 0; k < 3; k++) {
      b[k] += w[k] * d
      for (let j = 0; j < 3; j++) a[k][j] += w[k] * w[j]
    }
  })
  const tip = solveDense(a, b)
  if (!tip) return null
  const at: Vec3 = [tip[0], tip[1], tip[2]]
  const into = dot(sub(mean(points), at), n) < 0 ? scale(n, -1) : n
  // An outer wall looks back to its tip by the sine of the half angle; an inner one away from it.
  const half = Math.asin(Math.min(1, Math.abs(dot(middle, into))))
  return { kind: 'cone', at, axis: into, halfAngle: (half * 180) / Math.PI }
}

/**
 * The axis that all normals of a surface of revolution pass through: of the linear complexes of lines the one nearest to them (Pottmann &
 * Randrup 1998, Rotational and helical surface approximation for reverse engineering).
 */
export function axisOfRevolution({ points, normals }: Samples): { at: Vec3; axis: Vec3 } | null {
  const m = mean(points)
  const size = Math.sqrt(points.reduce((s, p) => s + dot(sub(p, m), sub(p, m)), 0) / points.length) || 1
  const zero = () => Array.from({ length: 3 }, () => [0, 0, 0])
  const [nn, nq, qq] = [zero(), zero(), zero()]
  points.forEach((p, i) => {
    const n = normals[i]
    const q = scale(cross(sub(p, m), n), 1 / size)
    for (let r = 0; r < 3; r++)
      for (let c = 0; c < 3; c++) {
        nn[r][c] += n[r] * n[c]
        nq[r][c] += n[r] * q[c]
        qq[r][c] += q[r] * q[c]
      }
  })
  // A flat spread of normals leaves the moment free along one way: a little weight holds it near the middle.
  const weight = 1e-9 * points.length
  for (let k = 0; k < 3; k++) nn[k][k] += weight
  const solved = [0, 1, 2].map((c) => solveDense(nn.map((r) => [...r]), [nq[0][c], nq[1][c], nq[2][c]])) // prettier-ignore
  if (solved.some((s) => !s)) return null
  const reduced = zero()
  for (let r = 0; r < 3; r++)
    for (let c = 0; c < 3; c++) reduced[r][c] = qq[r][c] - [0, 1, 2].reduce((s, k) => s + nq[k][r] * solved[c]![k], 0)
  const { vectors } = symmetricEigen([
    reduced[0][0],
    (reduced[0][1] + reduced[1][0]) / 2,
    (reduced[0][2] + reduced[2][0]) / 2,
    reduced[1][1],
    (reduced[1][2] + reduced[2][1]) / 2,
    reduced[2][2],
  ])
  const g = vectors[0]
  const moment = [0, 1, 2].map((k) => -[0, 1, 2].reduce((s, c) => s + solved[c]![k] * g[c], 0)) as unknown as Vec3
  // The foot of the axis from the middle.
  return { at: addScaled(m, cross(g, moment), size), axis: g }
}

/** A ring about a given axis: its tube is a circle of the half plane. */
function ringAbout({ points }: Samples, at: Vec3, axis: Vec3): Shape | null {
  const half = points.map((p): Vec3 => {
    const d = sub(p, at)
    const along = dot(d, axis)
    return [length(addScaled(d, axis, -along)), along, 0]
  })
  const c = circleIn(half, [0, 0, 0], [1, 0, 0], [0, 1, 0])
  return c && c.x > 0 ? { kind: 'ring', at: addScaled(at, axis, c.y), axis, radius: c.x, thickness: c.r } : null
}

const ring = (s: Samples): Shape | null => {
  const about = axisOfRevolution(s)
  return about && ringAbout(s, about.at, about.axis)
}

/** A first guess from all samples; null where they tell none. */
export function startOf(kind: ShapeKind, s: Samples): Shape | null {
  switch (kind) {
    case 'plane':
      return plane(s)
    case 'cylinder':
      return cylinder(s)
    case 'cone':
      return cone(s)
    case 'sphere':
      return sphere(s)
    case 'ring':
      return ring(s)
  }
}
