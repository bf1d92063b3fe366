import { z } from 'zod'
import { bodyRef, choice, lengthMm, newBody, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { defaultChord } from '@/core/join/boolean'
import { splitByMesh } from '@/core/split/trim'
import { StepError } from '@/core/base/step-error'
import { halved } from './halved'

export const split = defineStep({
  kind: 'mend/split',
  version: 1,
  title: 'Split',
  order: 250,
  past: 'Split',
  group: 'Cut',
  facts: shown('cutLength', 'capArea'),
  namesItself: true,
  summary: 'Cuts a mesh with another body and keeps both sides, told apart.',
  settings: z.object({
    body: bodyRef('mesh'),
    by: bodyRef({ can: 'surface' }, 'Cut by', { changes: false }),
    keep: choice('Keep', ['both', 'a', 'b'], { both: 'both', a: 'outside', b: 'inside' }).default('both'),
    cap: toggle('Cover the cut').default(true),
    other: newBody('Name of the inner side', { when: { field: 'keep', is: ['both'] } }).optional(),
    chord: lengthMm('Chord tolerance', {
      min: 1e-4,
      max: 10,
      help: 'For an exact cutter; left empty: from the size',
      more: true,
    }).optional(),
  }),
  async run({ settings: s, mesh, body, surface, names, work }) {
    if (s.body === s.by)
      throw new StepError('same-body', 'A body cannot be cut by itself.', { tryThis: 'Pick another body to cut with.' })
    const cutter = body(s.by)
    const { mesh: skin } = await surface(s.by, s.chord ?? defaultChord([{ name: s.by, body: cutter }]))
    return halved(s.body, s.other, names, await splitByMesh(s.body, mesh(s.body).mesh, skin, s.cap, work), s.keep)
  },
})
