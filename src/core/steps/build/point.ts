import { z } from 'zod'
import { bodyRef, choice, newBody, point, touch } from '@/core/step/fields'
import { defineStep } from '@/core/step/step'
import { num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { touched } from '@/core/find/touched'
import { addScaled, dot, sub, type Vec3 } from '@/core/math/vec'
import { datumResult, drawnFor, drawnSize, picked } from './datums'

export const datumPoint = defineStep({
  kind: 'build/point',
  version: 1,
  title: 'Point',
  order: 130,
  past: 'Point',
  group: 'Datum',
  summary:
    'A datum point: at a place, midway between two, at the middle of a bore, or where an axis passes through a face.',
  settings: z.object({
    name: newBody('Name', { base: 'point' }),
    by: choice('By', ['place', 'midway', 'bore', 'through'], {
      place: 'a place',
      midway: 'midway between two',
      bore: 'the middle of a bore',
      through: 'an axis through a face',
    }).default('place'),
    at: point('At', { pick: 'point', when: { field: 'by', is: ['place', 'midway'] } }).default([0, 0, 0]),
    to: point('Second place', { pick: 'point', when: { field: 'by', is: ['midway'] } }).default([10, 0, 0]),
    body: bodyRef('any', 'On body', { changes: false, when: { field: 'by', is: ['bore', 'through'] } }).optional(),
    wall: touch('Round wall', {
      on: 'body',
      means: ['axis'],
      when: { field: 'by', is: ['bore', 'through'] },
    }).optional(),
    other: bodyRef('any', 'Body of the face', {
      changes: false,
      when: { field: 'by', is: ['through'] },
      help: 'left empty: the same body',
    }).optional(),
    face: touch('Face', {
      on: 'other',
      same: 'body',
      means: ['plane'],
      when: { field: 'by', is: ['through'] },
    }).optional(),
    drawn: drawnSize(),
  }),
  run({ settings: s, names, body }) {
    let at: Vec3 = s.at
    if (s.by === 'midway') at = addScaled(s.at, sub(s.to, s.at), 0.5)
    else if (s.by !== 'place') {
      const on = picked(s.body, 'body')
      const wall = touched(on, body(on), picked(s.wall, 'round wall'))
      at = wall.point
      if (s.by === 'through') {
        const other = s.other ?? on
        const face = touched(other, body(other), picked(s.face, 'face'))
        const [w, n] = [wall.direction!, face.direction!]
        const c = dot(w, n)
        if (Math.abs(c) < 1e-6)
          throw new StepError('parallel', 'The axis runs along the face and does not pass through it.', {
            where: { point: face.point },
            tryThis: 'Pick a face that the axis meets.',
          })
        at = addScaled(wall.point, w, dot(sub(face.point, wall.point), n) / c)
      }
    }
    return Promise.resolve(
      datumResult(
        names,
        s.name,
        { datum: 'point', at, direction: [0, 0, 1], drawn: s.drawn ?? drawnFor(s.body ? body(s.body) : null) / 8 },
        {},
        `at ${at.map((v) => num(v, 3)).join(', ')}`,
      ),
    )
  },
})
