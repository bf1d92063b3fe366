import { z } from 'zod'
import { isOutline, type Body } from '@/core/bodies/body'
import { angleDeg, bodyRef, choice, direction, lengthMm, newBody, point, regionRef, touch } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { mm, num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { touched } from '@/core/find/touched'
import { tagsIn } from '@/core/find/exact-face'
import { resolveRegion } from '@/core/find/region'
import { planeOfTriangles } from '@/core/find/touch'
import { curveNear } from '@/core/kinds/outline'
import { shownSkin } from '@/core/kinds/registry'
import { applyPoint, rotation } from '@/core/math/affine'
import { addScaled, cross, dot, length, normalize, sub, type Vec3 } from '@/core/math/vec'
import { corners } from '@/core/mesh/tri-mesh'
import { datumResult, drawnFor, drawnSize, otherFaceFields, picked, twoFaceFields, twoFaces, whereMeet } from './datums'

const ways = ['direction', 'points', 'face', 'region', 'midway', 'turned', 'square', 'tangent'] as const

const settings = z.object({
  name: newBody('Name', { base: 'plane' }),
  by: choice('By', ways, {
    direction: 'place and direction',
    points: 'three points',
    face: 'a flat face',
    region: 'an area, averaged',
    midway: 'midway between two faces',
    turned: 'turned about an axis',
    square: 'square to a curve',
    tangent: 'tangent to a round wall',
  }).default('direction'),
  at: point('Through', {
    pick: 'face',
    when: { field: 'by', is: ['direction', 'points', 'turned', 'square'] },
  }).default([0, 0, 0]),
  normal: direction('Square to', { when: { field: 'by', is: ['direction', 'turned'] } }).default([0, 0, 1]),
  second: point('Second point', { pick: 'point', when: { field: 'by', is: ['points'] } }).default([10, 0, 0]),
  third: point('Third point', { pick: 'point', when: { field: 'by', is: ['points'] } }).default([0, 10, 0]),
  curve: bodyRef('outline', 'Curve of', {
    changes: false,
    listed: true,
    when: { field: 'by', is: ['square'] },
  }).optional(),
  ...twoFaceFields(['face', 'midway'], ['face', 'region', 'midway', 'tangent']),
  wall: touch('Round wall', { on: 'body', means: ['axis'], when: { field: 'by', is: ['tangent'] } }).optional(),
  region: regionRef('Area', { on: 'body', when: { field: 'by', is: ['region'] } }).optional(),
  ...otherFaceFields(['midway']),
  axis: direction('Axis to turn about', { when: { field: 'by', is: ['turned'] } }).default([1, 0, 0]),
  angle: angleDeg('Turned by', { when: { field: 'by', is: ['turned'] } }).default(45),
  offset: lengthMm('Moved along its direction by', { min: -1e5 }).default(0),
  drawn: drawnSize(),
})
type Settings = z.output<typeof settings>

interface FoundPlane {
  readonly at: Vec3
  readonly normal: Vec3
  readonly rms?: number
  /** What lies furthest off it, mm. */
  readonly max?: number
}

function throughPoints({ at, second, third }: Settings): FoundPlane {
  const square = cross(sub(second, at), sub(third, at))
  const size = Math.max(length(sub(second, at)), length(sub(third, at)))
  if (!(length(square) > 1e-9 * size * size))
    throw new StepError('in-line', 'The three points lie on one line, so they tell no plane.', {
      where: { point: third },
      tryThis: 'Pick a third point beside the line of the other two.',
    })
  return { at, normal: normalize(square) }
}

function throughRegion(s: Settings, body: BodyOf): FoundPlane {
  const on = picked(s.body, 'body')
  const mesh = shownSkin(body(on))
  const flags = resolveRegion(mesh, picked(s.region, 'area'), tagsIn(body(on)))
  const list = Array.from(flags.keys()).filter((t) => flags[t])
  if (!list.length)
    throw new StepError('empty-region', `No triangle of "${on}" is picked.`, {
      where: { body: on },
      tryThis: 'Pick an area of it.',
    })
  const { point: at, normal, rms } = planeOfTriangles(mesh, list)
  const max = list.reduce((m, t) => Math.max(m, ...corners(mesh, t).map((p) => Math.abs(dot(sub(p, at), normal)))), 0)
  return { at, normal, rms, max }
}

function midway(s: Settings, body: BodyOf): FoundPlane {
  const [a, b] = twoFaces(s, body)
  const [m, n] = [a.direction!, b.direction!]
  // Faces of a wall look away from each other, faces of a gap towards: either way between them.
  const same: Vec3 = dot(m, n) < 0 ? [-n[0], -n[1], -n[2]] : n
  // Not parallel: the bisector runs through the line where both meet.
  const line = whereMeet({ point: a.point, normal: m }, { point: b.point, normal: same })
  return {
    at: line?.at ?? addScaled(a.point, sub(b.point, a.point), 0.5),
    normal: normalize([m[0] + same[0], m[1] + same[1], m[2] + same[2]]),
  }
}

function squareToCurve(s: Settings, body: BodyOf): FoundPlane {
  const on = body(picked(s.curve, 'outline with the curve'))
  const near = isOutline(on) ? curveNear(on, s.at) : null
  if (!near) throw new StepError('empty', `"${s.curve}" holds no curve.`, { tryThis: 'Pick an outline with curves.' })
  return { at: near.at, normal: near.way, max: near.distance }
}

function tangentToWall(s: Settings, body: BodyOf): FoundPlane {
  const on = picked(s.body, 'body')
  const wall = picked(s.wall, 'round wall')
  const t = touched(on, body(on), wall)
  const along = dot(sub(wall.at, t.point), t.direction!)
  const foot = addScaled(t.point, t.direction!, along)
  const out = sub(wall.at, foot)
  if (!(length(out) > 0))
    throw new StepError('in-line', 'The place lies on the axis of the wall: it tells no side of it.', {
      tryThis: 'Click the wall itself.',
    })
  const normal = normalize(out)
  // The wall's own radius, where it is known: the place may lie on a facet.
  return { at: addScaled(foot, normal, t.diameter ? t.diameter / 2 : length(out)), normal, rms: t.rms }
}

type BodyOf = (name: string) => Body

/** The plane as its way of being told has it. */
function planeBy(s: Settings, body: BodyOf): FoundPlane {
  switch (s.by) {
    case 'direction':
      return { at: s.at, normal: normalize(s.normal) }
    case 'points':
      return throughPoints(s)
    case 'face': {
      const on = picked(s.body, 'body')
      const t = touched(on, body(on), picked(s.face, 'face'))
      return { at: t.point, normal: t.direction!, rms: t.rms }
    }
    case 'region':
      return throughRegion(s, body)
    case 'midway':
      return midway(s, body)
    case 'square':
      return squareToCurve(s, body)
    case 'tangent':
      return tangentToWall(s, body)
    case 'turned':
      return { at: s.at, normal: normalize(applyPoint(rotation(normalize(s.axis), s.angle), normalize(s.normal))) }
  }
}

export const plane = defineStep({
  kind: 'build/plane',
  version: 2,
  title: 'Plane',
  order: 110,
  past: 'Plane',
  group: 'Datum',
  facts: shown(
    { key: 'where', label: 'Through', as: 'count' },
    { key: 'rms', label: 'Rms', as: 'length' },
    { key: 'max', label: 'Furthest off', as: 'length' },
  ),
  summary:
    'A datum plane: by a direction, through points, flat on a face, fitted to an area, midway between two, turned about an axis, square to a curve, or tangent to a round wall.',
  settings,
  run({ settings: s, names, body }) {
    const { at: found, normal, rms, max } = planeBy(s, body)
    const at = addScaled(found, normal, s.offset)
    return Promise.resolve(
      datumResult(
        names,
        s.name,
        { datum: 'plane', at, direction: normal, drawn: s.drawn ?? drawnFor(s.body ? body(s.body) : null) },
        {
          where: at.map((v) => num(v, 3)).join(', '),
          ...(rms === undefined ? {} : { rms }),
          ...(max === undefined ? {} : { max }),
        },
        `square to ${normal.map((v) => num(v, 3)).join(', ')}${max === undefined ? '' : ` · off by at most ${mm(max, 3)}`}`,
      ),
    )
  },
})
