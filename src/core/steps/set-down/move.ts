import { z } from 'zod'
import { bodyRef, point } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { num } from '@/core/base/say'
import { translation } from '@/core/math/affine'
import { placed } from './placing'

export const move = defineStep({
  kind: 'set-down/move',
  version: 1,
  title: 'Move',
  order: 90,
  past: 'Moved',
  group: 'Place',
  live: true,
  facts: shown('size'),
  summary: 'Moves a body by a distance along x, y and z.',
  settings: z.object({ body: bodyRef('any'), by: point('By').default([0, 0, 0]) }),
  run({ settings: s, body }) {
    return placed(s.body, body(s.body), translation(s.by), `moved by ${s.by.map((v) => num(v)).join(', ')} mm`)
  },
})
