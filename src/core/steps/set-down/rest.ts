import { z } from 'zod'
import { bodyRef } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { mm } from '@/core/base/say'
import { translation } from '@/core/math/affine'
import { boundsOf } from '@/core/kinds/registry'
import { placed } from './placing'

export const restOnFloor = defineStep({
  kind: 'set-down/rest',
  version: 1,
  title: 'Rest on floor',
  order: 30,
  past: 'Rested on the floor:',
  group: 'Place',
  live: true,
  facts: shown('size', 'moved'),
  summary: 'Lowers or lifts a body until its lowest point stands on the mat.',
  settings: z.object({ body: bodyRef('any') }),
  run({ settings: s, body }) {
    const z0 = boundsOf(body(s.body)).min[2]
    return placed(
      s.body,
      body(s.body),
      translation([0, 0, -z0]),
      Math.abs(z0) < 1e-6 ? 'stood on the floor already' : `${z0 > 0 ? 'lowered' : 'lifted'} ${mm(Math.abs(z0))}`,
      { moved: -z0 },
    )
  },
})
