/** Sets a body down by three touches: a face that goes to a plane, a direction in it, and a point that goes to the origin. */
import { compose, rotation, translation, type Affine } from '@/core/math/affine'
import { rotationBetween, applyPoint } from '@/core/math/affine'
import { cross, dot, length, normalize, scale, sub, type Vec3 } from '@/core/math/vec'
import { StepError } from '@/core/base/step-error'
import type { Touched } from '@/core/find/touch'

export type FaceGoes = 'under' | 'top' | 'front' | 'back' | 'left' | 'right'
/** Outward normal of a face that goes there. */
const normals: Record<FaceGoes, Vec3> = {
  under: [0, 0, -1],
  top: [0, 0, 1],
  front: [0, -1, 0],
  back: [0, 1, 0],
  left: [-1, 0, 0],
  right: [1, 0, 0],
}
export type Heading = 'x' | 'y' | 'z'
const headings: Record<Heading, Vec3> = { x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] }

/** The map of three touches (the 3-2-1 rule of datum systems, ISO 5459): plane, then direction, then point. */
export function threeTouch(
  plane: Touched,
  goes: FaceGoes,
  direction: Touched | null,
  heading: Heading,
  point: Touched | null,
): Affine {
  if (!plane.direction)
    throw new StepError('no-direction', 'The first touch must be a face or an axis.', { tryThis: 'Touch a flat face.' })
  const n = normals[goes]
  let map: Affine = rotationBetween(plane.direction, n)
  if (direction) {
    if (!direction.direction)
      throw new StepError('no-direction', 'The second touch must be a face, an axis or a line.', {
        tryThis: 'Touch an edge by two points, or a bore.',
      })
    const d = applyPoint(map, direction.direction)
    const flat = sub(d, scale(n, dot(d, n)))
    const want = sub(headings[heading], scale(n, dot(headings[heading], n)))
    if (length(flat) < 1e-6)
      throw new StepError(
        'square',
        'The second touch points straight out of the first face, so it gives no direction in it.',
        { tryThis: 'Touch something that runs along the face.' },
      )
    if (length(want) < 1e-6)
      throw new StepError('square', `A face that goes ${goes} cannot turn about ${heading}.`, {
        tryThis: 'Choose another heading.',
      })
    const u = normalize(flat),
      w = normalize(want)
    const angle = (Math.atan2(dot(cross(u, w), n), dot(u, w)) * 180) / Math.PI
    map = compose(rotation(n, angle), map)
  }
  // The face comes to lie in the plane through the origin; a point, where given, comes to the origin itself along it.
  const p = applyPoint(map, plane.point)
  let shift = scale(n, -dot(p, n))
  if (point) {
    const q = applyPoint(map, point.point)
    const inPlane = sub(q, scale(n, dot(q, n)))
    shift = [shift[0] - inPlane[0], shift[1] - inPlane[1], shift[2] - inPlane[2]]
  }
  return compose(translation(shift), map)
}

export type LineUp = 'concentric' | 'flush' | 'facing' | 'point'

/** The map that lines a touch of one body up with a touch of another: axes made one, faces in one plane or face to face, point on point. */
export function lineUp(how: LineUp, moving: Touched, still: Touched, gap: number): Affine {
  if (how === 'point') return translation(sub(still.point, moving.point))
  if (!moving.direction || !still.direction)
    throw new StepError('no-direction', 'Both touches must have a direction.', {
      tryThis: how === 'concentric' ? 'Touch round walls.' : 'Touch flat faces.',
    })
  if (how === 'concentric') {
    // An axis has no sense: the shorter turn is taken.
    const a = dot(moving.direction, still.direction) < 0 ? scale(moving.direction, -1) : moving.direction
    const turn = rotationBetween(a, still.direction)
    const p = applyPoint(turn, moving.point)
    const d = sub(still.point, p)
    return compose(translation(sub(d, scale(still.direction, dot(d, still.direction)))), turn)
  }
  const want = how === 'facing' ? scale(still.direction, -1) : still.direction
  const turn = rotationBetween(moving.direction, want)
  const p = applyPoint(turn, moving.point)
  const d = dot(sub(still.point, p), still.direction)
  return compose(translation(scale(still.direction, d + gap)), turn)
}
