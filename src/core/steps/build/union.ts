import { z } from 'zod'
import { bodyRefs, lengthMm, toggle } from '@/core/step/fields'
import { defineStep } from '@/core/step/step'
import { joined } from './joining'

export const union = defineStep({
  kind: 'build/union',
  version: 1,
  title: 'Union',
  summary: 'Joins bodies into one. Exact bodies stay exact among themselves.',
  settings: z.object({
    bodies: bodyRefs(['mesh', 'solid'], 'Bodies', { least: 2 }),
    keep: toggle('Keep the others').default(false),
    chord: lengthMm('Chord tolerance', {
      min: 1e-4,
      max: 10,
      help: 'For exact bodies that meet a mesh; left empty: from the size',
      more: true,
    }).optional(),
  }),
  run: ({ settings: s, body, work }) => joined('union', s.bodies, body, s, work),
})
