import { z } from 'zod'
import { bodyRef } from '@/core/step/fields'
import { defineStep } from '@/core/step/step'
import { mm } from '@/core/base/say'
import { translation } from '@/core/math/affine'
import { bodyBounds } from '@/core/kinds/move-body'
import { placed } from './placing'

export const restOnFloor = defineStep({
  kind: 'set-down/rest',
  version: 1,
  title: 'Rest on floor',
  summary: 'Lowers or lifts a body until its lowest point stands on the mat.',
  settings: z.object({ body: bodyRef(['mesh', 'solid']) }),
  run({ settings: s, body }) {
    const z0 = bodyBounds(body(s.body)).min[2]
    return placed(
      s.body,
      body(s.body),
      translation([0, 0, -z0]),
      Math.abs(z0) < 1e-6 ? 'stood on the floor already' : `${z0 > 0 ? 'lowered' : 'lifted'} ${mm(Math.abs(z0))}`,
      { moved: -z0 },
    )
  },
})
