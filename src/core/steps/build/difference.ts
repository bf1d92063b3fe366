import { z } from 'zod'
import { bodyRef, bodyRefs, lengthMm, toggle } from '@/core/step/fields'
import { defineStep } from '@/core/step/step'
import { joined } from './joining'

export const difference = defineStep({
  kind: 'build/difference',
  version: 1,
  title: 'Difference',
  summary: 'Cuts bodies out of another. Exact bodies stay exact among themselves.',
  settings: z.object({
    from: bodyRef(['mesh', 'solid'], 'Cut from'),
    take: bodyRefs(['mesh', 'solid'], 'Take away'),
    keep: toggle('Keep the cutters').default(false),
    chord: lengthMm('Chord tolerance', {
      min: 1e-4,
      max: 10,
      help: 'For exact bodies that meet a mesh; left empty: from the size',
      more: true,
    }).optional(),
  }),
  run: ({ settings: s, body, work }) => joined('difference', [s.from, ...s.take], body, s, work),
})
