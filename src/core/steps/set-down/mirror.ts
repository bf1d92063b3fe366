import { z } from 'zod'
import { bodyRef, choice, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { num } from '@/core/base/say'
import { mirror } from '@/core/math/affine'
import { placed } from './placing'

export const mirrorBody = defineStep({
  kind: 'set-down/mirror',
  version: 1,
  title: 'Mirror',
  order: 100,
  past: 'Mirrored',
  group: 'Place',
  live: true,
  facts: shown('size'),
  summary: 'Mirrors a body in a plane square to x, y or z; its skin keeps facing outward.',
  settings: z.object({
    body: bodyRef('any'),
    across: choice('Plane square to', ['x', 'y', 'z'], { x: 'x', y: 'y', z: 'z' }).default('x'),
    at: lengthMm('Plane at', { min: -1e5 }).default(0),
  }),
  run({ settings: s, body }) {
    const n = ({ x: [1, 0, 0], y: [0, 1, 0], z: [0, 0, 1] } as const)[s.across]
    return placed(
      s.body,
      body(s.body),
      mirror([n[0] * s.at, n[1] * s.at, n[2] * s.at], n),
      `mirrored at ${s.across} = ${num(s.at)}`,
    )
  },
})
