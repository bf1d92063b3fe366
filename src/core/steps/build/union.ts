import { z } from 'zod'
import { bodyRefs, lengthMm, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { joined } from './joining'

export const union = defineStep({
  kind: 'build/union',
  version: 1,
  title: 'Union',
  order: 30,
  past: 'Joined',
  group: 'Booleans',
  facts: shown('triangles', 'volume', 'chordToleranceMm', 'pieces', 'faces'),
  summary: 'Joins bodies into one. Exact bodies stay exact among themselves.',
  settings: z.object({
    bodies: bodyRefs({ can: 'surface' }, 'Bodies', { least: 2 }),
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
