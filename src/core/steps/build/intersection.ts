import { z } from 'zod'
import { bodyRefs, lengthMm, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { joined } from './joining'

export const intersection = defineStep({
  kind: 'build/intersection',
  version: 1,
  title: 'Intersection',
  order: 50,
  past: 'Common of',
  group: 'Booleans',
  facts: shown('triangles', 'volume', 'chordToleranceMm', 'pieces', 'faces'),
  summary: 'Keeps what all the bodies have in common.',
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
  run: ({ settings: s, body, work }) => joined('intersection', s.bodies, body, s, work),
})
