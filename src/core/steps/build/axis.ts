import { z } from 'zod'
import { bodyRef, choice, direction, newBody, point, touch } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { mm, num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { addScaled, cross, dot, length, normalize, sub, type Vec3 } from '@/core/math/vec'
import { datumResult, drawnFor, drawnSize, touched } from './datums'

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
    body: bodyRef('any', 'On body', { changes: false, when: { field: 'by', is: ['wall', 'planes'] } }).optional(),
    wall: touch('Round wall', { on: 'body', means: ['axis'], when: { field: 'by', is: ['wall'] } }).optional(),
    face: touch('Face', { on: 'body', means: ['plane'], when: { field: 'by', is: ['planes'] } }).optional(),
    other: bodyRef('any', 'Other body', {
      changes: false,
      when: { field: 'by', is: ['planes'] },
      help: 'left empty: the same body',
    }).optional(),
    otherFace: touch('Other face', {
      on: 'other',
      same: 'body',
      means: ['plane'],
      when: { field: 'by', is: ['planes'] },
    }).optional(),
    drawn: drawnSize(),
  }),
  run({ settings: s, names, body }) {
    const need = <T>(value: T | undefined, what: string): T => {
      if (value === undefined)
        throw new StepError('no-pick', `No ${what} is picked for the axis.`, {
          tryThis: `Click the ${what} on the bench.`,
        })
      return value
    }
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
      const on = need(s.body, 'body')
      const t = touched(on, body(on), need(s.wall, 'round wall'))
      at = t.point
      way = t.direction!
      if (t.diameter) facts.diameter = t.diameter
      facts.rms = t.rms
    } else if (s.by === 'planes') {
      const on = need(s.body, 'body')
      const a = touched(on, body(on), need(s.face, 'face')),
        b = touched(s.other ?? on, body(s.other ?? on), need(s.otherFace, 'other face'))
      const [m, n] = [a.direction!, b.direction!]
      const line = cross(m, n)
      if (length(line) < 1e-6)
        throw new StepError('parallel', 'The two faces are parallel, so they do not meet.', {
          where: { point: b.point },
          tryThis: 'Pick two faces at an angle.',
        })
      way = normalize(line)
      const c = dot(m, n),
        k = 1 - c * c
      const [d, e] = [dot(m, a.point), dot(n, b.point)]
      const on0: Vec3 = addScaled(addScaled([0, 0, 0], m, (d - c * e) / k), n, (e - c * d) / k)
      // Drawn where the two touches are.
      at = addScaled(on0, way, dot(sub(addScaled(a.point, sub(b.point, a.point), 0.5), on0), way))
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
