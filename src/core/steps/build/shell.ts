import { z } from 'zod'
import { num, plural } from '@/core/base/say'
import { shellBody } from '@/core/kernels/exact/shell'
import { bodyRef, choice, faceRefs, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { changed, featureBody } from './features'

export const shell = defineStep({
  kind: 'build/shell',
  version: 1,
  title: 'Shell',
  order: 74,
  past: 'Shelled',
  group: 'Walls',
  facts: shown('volume', 'volumeChange', 'faces'),
  summary: 'Hollows a solid, or a mesh of flat faces, to a wall, open at the faces picked.',
  settings: z.object({
    body: bodyRef(['solid', 'mesh'], 'Body'),
    open: faceRefs('Open faces', { help: 'none: a closed hollow' }).optional(),
    wall: lengthMm('Wall', { min: 1e-3 }).default(2),
    side: choice('Wall lies', ['in', 'out'], { in: 'inside', out: 'outside' }).default('in'),
  }),
  async run({ settings: s, body, work }) {
    const on = await featureBody(s.body, body(s.body), work)
    const open = s.open ? on.faces(s.open) : []
    const done = await shellBody(on.exact, open, s.wall, s.side === 'out')
    return changed(
      s.body,
      on,
      done,
      `wall ${num(s.wall)} mm, ${open.length ? `open at ${plural(open.length, 'face')}` : 'closed'}`,
    )
  },
})
