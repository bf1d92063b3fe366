import { z } from 'zod'
import { bodyRef, choice, lengthMm, touch } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { lineUp as place } from '@/core/place/three-touch'
import { touched } from '@/core/find/touched'
import { StepError } from '@/core/base/step-error'
import { placed } from './placing'

const means = {
  by: 'how',
  of: { concentric: ['axis'], flush: ['plane'], facing: ['plane'], point: ['point'] },
} as const

export const lineUp = defineStep({
  kind: 'set-down/line-up',
  version: 2,
  title: 'Line up',
  order: 70,
  past: 'Lined up',
  group: 'By touch',
  facts: shown('size'),
  summary: 'Lines one body up with another: axes made one, faces in one plane or face to face, point on point.',
  settings: z.object({
    body: bodyRef({ can: 'surface' }, 'Body to move'),
    to: bodyRef(['mesh', 'solid', 'sheet', 'datum'], 'Body it lines up with', { changes: false }),
    how: choice('Line up', ['concentric', 'flush', 'facing', 'point'], {
      concentric: 'axes',
      flush: 'faces flush',
      facing: 'face to face',
      point: 'point on point',
    }).default('concentric'),
    touch: touch('Place on it', { on: 'body', means }),
    touchTo: touch('Place on the other', { on: 'to', means }),
    gap: lengthMm('Gap', { min: -1e4, max: 1e4, when: { field: 'how', is: ['flush', 'facing'] } }).default(0),
  }),
  run({ settings: s, body }) {
    if (s.body === s.to)
      throw new StepError('same-body', 'A body cannot be lined up with itself.', { tryThis: 'Pick two bodies.' })
    const as = s.how === 'concentric' ? 'axis' : s.how === 'point' ? 'point' : 'plane'
    const a = touched(s.body, body(s.body), { ...s.touch, as }),
      b = touched(s.to, body(s.to), { ...s.touchTo, as })
    const words = {
      concentric: 'axes made one',
      flush: 'faces flush',
      facing: 'face to face',
      point: 'point on point',
    }[s.how]
    return placed(s.body, body(s.body), place(s.how, a, b, s.gap), `${words} with ${s.to}`, {
      rms: Number(Math.max(a.rms, b.rms).toFixed(6)),
      ...(a.diameter && b.diameter
        ? { diameters: [Number(a.diameter.toFixed(4)), Number(b.diameter.toFixed(4))] }
        : {}),
    })
  },
})
