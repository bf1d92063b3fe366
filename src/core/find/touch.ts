/** What a touch on a body means: the plane, axis, line or point found there. */
import { z } from 'zod'
import { triple } from './triple'
import { boreAt, boreField, growFrom } from './bore'
import { axisFromNormals, fitCylinder } from './cylinder-fit'
import { symmetricEigen } from '@/core/math/eigen'
import { dot, length, normalize, sub, type Vec3 } from '@/core/math/vec'
import { MeshSearch } from '@/core/mesh/closest'
import { corners, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'
import { mm } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'

/** plane: the flat area round a place; axis: of the round wall there; line: from one point to another; point: the place itself. */
export const touchSchema = z
  .object({ as: z.enum(['plane', 'axis', 'line', 'point']), at: triple, to: triple.optional() })
  .strict()
export type TouchAs = z.output<typeof touchSchema>['as']
export type Touch = z.output<typeof touchSchema>

export interface Touched {
  readonly point: Vec3
  /** Unit normal of a plane (outward), or direction of an axis or line; null for a point. */
  readonly direction: Vec3 | null
  /** Of an axis: the wall's diameter, mm. */
  readonly diameter?: number
  readonly rms: number
}

/** Area-weighted best plane through triangles: middle, outward normal and rms distance, mm. */
export function planeOfTriangles(mesh: TriMesh, list: readonly number[]): { point: Vec3; normal: Vec3; rms: number } {
  let total = 0
  const mean = [0, 0, 0],
    sum = [0, 0, 0]
  const points: [Vec3, number][] = []
  for (const t of list) {
    const c = crossOf(mesh, t)
    const w = length(c) / 6
    for (let k = 0; k < 3; k++) sum[k] += c[k]
    for (const p of corners(mesh, t)) {
      points.push([p, w])
      total += w
      for (let k = 0; k < 3; k++) mean[k] += w * p[k]
    }
  }
  if (!(total > 0)) throw new StepError('flat', 'The picked area has no size.', { tryThis: 'Pick a larger area.' })
  const m: Vec3 = [mean[0] / total, mean[1] / total, mean[2] / total]
  const cov = [0, 0, 0, 0, 0, 0]
  for (const [p, w] of points) {
    const d = sub(p, m)
    cov[0] += w * d[0] * d[0]
    cov[1] += w * d[0] * d[1]
    cov[2] += w * d[0] * d[2]
    cov[3] += w * d[1] * d[1]
    cov[4] += w * d[1] * d[2]
    cov[5] += w * d[2] * d[2]
  }
  const { vectors, values } = symmetricEigen(cov)
  const n = vectors[0]
  const out: Vec3 =
    list.length === 1
      ? normalize(sum as unknown as Vec3)
      : dot(n, sum as unknown as Vec3) < 0
        ? [-n[0], -n[1], -n[2]]
        : n
  return { point: m, normal: out, rms: Math.sqrt(Math.max(0, values[0]) / total) }
}

/** A touch further from the skin than this share of the diagonal, and a little, means nothing on it. */
const farShare = 0.05

/** Finds what was touched on a mesh. Throws StepError when there is no such thing at the place. */
export function resolveTouch(mesh: TriMesh, touch: Touch): Touched {
  if (touch.as === 'point') return { point: touch.at, direction: null, rms: 0 }
  if (touch.as === 'line') {
    if (!touch.to || length(sub(touch.to, touch.at)) < 1e-9)
      throw new StepError('no-line', 'A line needs two points apart from each other.', {
        tryThis: 'Pick a second point.',
      })
    return { point: touch.at, direction: normalize(sub(touch.to, touch.at)), rms: 0 }
  }
  const near = new MeshSearch(mesh).nearest(touch.at)
  if (!near) throw new StepError('empty', 'There is no skin to touch.')
  const field = boreField(mesh)
  if (touch.as === 'plane') {
    const off = near.distance
    if (off > 1 + farShare * field.scale)
      throw new StepError('lost-part', `No face lies there: the nearest place of the skin is ${mm(off, 1)} away.`, {
        where: { point: touch.at },
        tryThis: 'Pick the face again.',
      })
    // Only what faces as the touched triangle does, so that a scan's soft corner does not bend the plane.
    const n0: Vec3 = [
      field.normals[3 * near.triangle],
      field.normals[3 * near.triangle + 1],
      field.normals[3 * near.triangle + 2],
    ]
    const limit = Math.cos((12 * Math.PI) / 180)
    const list = growFrom(
      field,
      near.triangle,
      10,
      (t) => field.normals[3 * t] * n0[0] + field.normals[3 * t + 1] * n0[1] + field.normals[3 * t + 2] * n0[2] > limit,
      200_000,
    )
    const { normal, rms, point } = planeOfTriangles(mesh, list)
    // The plane's point nearest to the touch, so that what is lined up is what was touched.
    const d = dot(sub(touch.at, point), normal)
    return {
      point: [touch.at[0] - d * normal[0], touch.at[1] - d * normal[1], touch.at[2] - d * normal[2]],
      direction: normal,
      rms,
    }
  }
  const bore = boreAt(field, touch.at, near.triangle, 0.02 * field.scale)
  if (bore) return { point: bore.centre, direction: bore.axis, diameter: bore.diameter, rms: bore.rms }
  // A peg or any round wall.
  const list = growFrom(field, near.triangle, 25, () => true, 20_000)
  const { axis, flatness } = axisFromNormals(
    list.map((t): Vec3 => [field.normals[3 * t], field.normals[3 * t + 1], field.normals[3 * t + 2]]),
    list.map((t) => length(crossOf(mesh, t))),
  )
  const c =
    flatness < 0.15
      ? fitCylinder(
          list.flatMap((t) => corners(mesh, t)).filter((_, i) => i % Math.max(1, Math.floor(list.length / 1500)) === 0),
          axis,
        )
      : null
  if (!c || c.rms > 0.05 * c.radius)
    throw new StepError('no-axis', `There is no round wall at ${touch.at.map((v) => v.toFixed(1)).join(', ')}.`, {
      where: { point: touch.at },
      tryThis: 'Touch a bore, a peg or another round wall.',
    })
  return { point: c.point, direction: c.axis, diameter: 2 * c.radius, rms: c.rms }
}
