import { z } from 'zod'
import { bodyRef, bodyRefs, lengthMm, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { joined } from './joining'

export const difference = defineStep({
  kind: 'build/difference',
  version: 1,
  title: 'Difference',
  order: 40,
  past: 'Cut',
  group: 'Booleans',
  facts: shown('triangles', 'volume', 'chordToleranceMm', 'pieces', 'faces'),
  summary: 'Cuts bodies out of another. Exact bodies stay exact among themselves.',
  settings: z.object({
    from: bodyRef({ can: 'surface' }, 'Cut from'),
    take: bodyRefs({ can: 'surface' }, 'Take away'),
    keep: toggle('Keep the cutters').default(false),
    dropLoose: toggle('Leave out loose pieces', { help: 'that the cut parts from the body' }).default(false),
    chord: lengthMm('Chord tolerance', {
      min: 1e-4,
      max: 10,
      help: 'For exact bodies that meet a mesh; left empty: from the size',
      more: true,
    }).optional(),
  }),
  subject: (s) => `${String(s.from)} by ${(s.take as string[] | undefined)?.join(', ') ?? ''}`,
  run: ({ settings: s, body, work }) => joined('difference', [s.from, ...s.take], body, s, work),
})
