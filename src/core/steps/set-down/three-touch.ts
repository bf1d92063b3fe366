import { z } from 'zod'
import { shownSkin } from '@/core/kinds/registry'
import { bodyRef, choice, touch } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { threeTouch as place } from '@/core/place/three-touch'
import { resolveTouch } from '@/core/find/touch'
import { placed } from './placing'

const faces = ['under', 'top', 'front', 'back', 'left', 'right'] as const

export const threeTouch = defineStep({
  kind: 'set-down/three-touch',
  version: 1,
  title: 'Three-touch',
  order: 60,
  past: 'Set down by touches:',
  group: 'By touch',
  facts: shown('size', 'planeRms'),
  summary: 'Sets a body down by its own faces: a face, then a direction, then a point that becomes the origin.',
  settings: z.object({
    body: bodyRef({ can: 'surface' }),
    face: touch('1 Face', { means: ['plane', 'axis'] }),
    goes: choice('The face goes', faces, {
      under: 'under',
      top: 'on top',
      front: 'to the front',
      back: 'to the back',
      left: 'to the left',
      right: 'to the right',
    }).default('under'),
    direction: touch('2 Direction', { means: ['line', 'plane', 'axis'] }).optional(),
    heading: choice('It runs along', ['x', 'y', 'z'], { x: 'x', y: 'y', z: 'z' }).default('x'),
    point: touch('3 Point to the origin', { means: ['point', 'axis'] }).optional(),
  }),
  run({ settings: s, body }) {
    const b = body(s.body)
    const skin = shownSkin(b)
    const face = resolveTouch(skin, s.face)
    const map = place(
      face,
      s.goes,
      s.direction ? resolveTouch(skin, s.direction) : null,
      s.heading,
      s.point ? resolveTouch(skin, s.point) : null,
    )
    return placed(
      s.body,
      b,
      map,
      `face ${s.goes}${s.direction ? `, along ${s.heading}` : ''}${s.point ? ', point at the origin' : ''}`,
      { planeRms: Number(face.rms.toFixed(6)) },
    )
  },
})
