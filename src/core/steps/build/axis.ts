import { z } from 'zod'
import { choice, direction, newBody, point, touch } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { mm, num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { touched } from '@/core/find/touched'
import { addScaled, length, normalize, sub, type Vec3 } from '@/core/math/vec'
import { datumResult, drawnFor, drawnSize, otherFaceFields, picked, twoFaceFields, twoFaces, whereMeet } from './datums'

export const axis = defineStep({
  kind: 'build/axis',
  version: 1,
  title: 'Axis',
  order: 120,
  past: 'Axis',
  group: 'Datum',
  facts: shown(
    { key: 'diameter', label: 'Diameter of the wall', as: 'length' },
    { key: 'rms', label: 'Rms', as: 'length' },
  ),
  summary: 'A datum axis: by a direction, through two points, of a round wall, or where two planes meet.',
  settings: z.object({
    name: newBody('Name', { base: 'axis' }),
    by: choice('By', ['direction', 'points', 'wall', 'planes'], {
      direction: 'place and direction',
      points: 'two points',
      wall: 'a bore or boss',
      planes: 'two faces that meet',
    }).default('direction'),
    at: point('Through', { pick: 'face', when: { field: 'by', is: ['direction', 'points'] } }).default([0, 0, 0]),
    direction: direction('Along', { when: { field: 'by', is: ['direction'] } }).default([0, 0, 1]),
    to: point('Second point', { pick: 'point', when: { field: 'by', is: ['points'] } }).default([0, 0, 10]),
    ...twoFaceFields(['planes'], ['wall', 'planes']),
    wall: touch('Round wall', { on: 'body', means: ['axis'], when: { field: 'by', is: ['wall'] } }).optional(),
    ...otherFaceFields(['planes']),
    drawn: drawnSize(),
  }),
  run({ settings: s, names, body }) {
    let at: Vec3 = s.at,
      way: Vec3 = normalize(s.direction)
    const facts: Record<string, number> = {}
    if (s.by === 'points') {
      if (length(sub(s.to, s.at)) < 1e-9)
        throw new StepError('no-line', 'The two points are one, so they tell no direction.', {
          where: { point: s.at },
          tryThis: 'Pick a second point apart from the first.',
        })
      way = normalize(sub(s.to, s.at))
      at = addScaled(s.at, sub(s.to, s.at), 0.5)
    } else if (s.by === 'wall') {
      const on = picked(s.body, 'body')
      const t = touched(on, body(on), picked(s.wall, 'round wall'))
      at = t.point
      way = t.direction!
      if (t.diameter) facts.diameter = t.diameter
      facts.rms = t.rms
    } else if (s.by === 'planes') {
      const [a, b] = twoFaces(s, body)
      const line = whereMeet({ point: a.point, normal: a.direction! }, { point: b.point, normal: b.direction! })
      if (!line)
        throw new StepError('parallel', 'The two faces are parallel, so they do not meet.', {
          where: { point: b.point },
          tryThis: 'Pick two faces at an angle.',
        })
      ;({ at, way } = line)
    }
    return Promise.resolve(
      datumResult(
        names,
        s.name,
        { datum: 'axis', at, direction: way, drawn: s.drawn ?? drawnFor(s.body ? body(s.body) : null) },
        facts,
        `along ${way.map((v) => num(v, 3)).join(', ')}${facts.diameter ? ` · of a wall of Ø ${mm(facts.diameter, 3)}` : ''}`,
      ),
    )
  },
})
