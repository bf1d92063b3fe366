import { z } from 'zod'
import { angleDeg, bodyRef, choice, direction } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { num } from '@/core/base/say'
import { about, rotation } from '@/core/math/affine'
import { normalize, type Vec3 } from '@/core/math/vec'
import { boundsCentre } from '@/core/mesh/tri-mesh'
import { boundsOf } from '@/core/kinds/registry'
import { placed } from './placing'

export const turn = defineStep({
  kind: 'set-down/turn',
  version: 1,
  title: 'Turn',
  order: 50,
  past: 'Turned',
  group: 'Place',
  live: true,
  facts: shown('size'),
  summary: 'Turns a body about x, y, z or a direction of its own.',
  settings: z.object({
    body: bodyRef('any'),
    axis: choice('Axis', ['x', 'y', 'z', 'own'], { x: 'x', y: 'y', z: 'z', own: 'direction' }).default('z'),
    direction: direction('Direction', { when: { field: 'axis', is: ['own'] } }).default([0, 0, 1]),
    angle: angleDeg('Angle').default(90),
    about: choice('About', ['centre', 'origin'], { centre: "the body's centre", origin: 'the origin' }).default(
      'centre',
    ),
  }),
  run({ settings: s, body }) {
    const axis: Vec3 =
      s.axis === 'own' ? normalize(s.direction) : ({ x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] } as const)[s.axis]
    const at: Vec3 = s.about === 'centre' ? boundsCentre(boundsOf(body(s.body))) : [0, 0, 0]
    return placed(
      s.body,
      body(s.body),
      about(at, rotation(axis, s.angle)),
      `turned ${num(s.angle)}° about ${s.axis === 'own' ? axis.map((v) => num(v)).join(', ') : s.axis}`,
    )
  },
})
