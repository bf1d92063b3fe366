/** First guesses of shapes from oriented points: good enough for least squares to end at the right place. */
import { symmetricEigen } from '@/core/math/eigen'
import { solveDense } from '@/core/math/least-squares'
import { circleThrough, meanOf, spreadOf, sphereThrough } from '@/core/math/through'
import { addScaled, cross, dot, length, normalize, perpendicular, scale, sub, type Vec3 } from '@/core/math/vec'
import { axisFromNormals } from '@/core/find/cylinder-fit'
import type { Samples } from './samples'
import type { Shape, ShapeKind } from './shape'

function plane({ points, normals }: Samples): Shape {
  const at = meanOf(points)
  const n = points.length > 3 ? symmetricEigen(spreadOf(points, at)).vectors[0] : normalize(meanOf(normals))
  return { kind: 'plane', at, axis: dot(n, meanOf(normals)) < 0 ? scale(n, -1) : n }
}

function sphere({ points }: Samples): Shape | null {
  const s = sphereThrough(points)
  return s && { kind: 'sphere', at: s.centre, radius: s.radius }
}

/** A circle in a plane of two directions through a middle. */
const circleIn = (points: readonly Vec3[], m: Vec3, u: Vec3, v: Vec3) =>
  circleThrough(
    points.map((p) => {
      const d = sub(p, m)
      return [dot(d, u), dot(d, v)] as const
    }),
  )

/** A cylinder about a direction. */
export function cylinderAlong({ points }: Samples, axis: Vec3): Shape | null {
  const m = meanOf(points)
  const u = perpendicular(axis)
  const v = cross(axis, u)
  const c = circleIn(points, m, u, v)
  return c && { kind: 'cylinder', at: addScaled(addScaled(m, u, c.x), v, c.y), axis, radius: c.r }
}

const cylinder = (s: Samples): Shape | null => cylinderAlong(s, axisFromNormals(s.normals, s.weights).axis)

/** Normals of a cone lie on a circle of the unit sphere; the planes square to them all pass through its tip. */
function cone({ points, normals }: Samples): Shape | null {
  const middle = meanOf(normals)
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
  const into = dot(sub(meanOf(points), at), n) < 0 ? scale(n, -1) : n
  // An outer wall looks back to its tip by the sine of the half angle; an inner one away from it.
  const half = Math.asin(Math.min(1, Math.abs(dot(middle, into))))
  return { kind: 'cone', at, axis: into, halfAngle: (half * 180) / Math.PI }
}

/**
 * The axis that all normals of a surface of revolution pass through: of the linear complexes of lines the one nearest to them (Pottmann &
 * Randrup 1998, Rotational and helical surface approximation for reverse engineering).
 */
export function axisOfRevolution({ points, normals }: Samples): { at: Vec3; axis: Vec3 } | null {
  const m = meanOf(points)
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
  const solved = [0, 1, 2].map((c) =>
    solveDense(
      nn.map((r) => [...r]),
      [nq[0][c], nq[1][c], nq[2][c]],
    ),
  )
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
