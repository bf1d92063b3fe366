import { z } from 'zod'
import { isMesh } from '@/core/bodies/body'
import { bodyRef, choice, lengthMm, newBody, toggle } from '@/core/step/fields'
import { defineStep } from '@/core/step/step'
import { facetSolid } from '@/core/kernels/exact/open-cascade'
import { defaultChord } from '@/core/join/boolean'
import { splitByMesh } from '@/core/split/trim'
import { StepError } from '@/core/base/step-error'
import { halved } from './halved'

export const split = defineStep({
  kind: 'mend/split',
  version: 1,
  title: 'Split',
  namesItself: true,
  summary: 'Cuts a mesh with another body and keeps both sides, told apart.',
  settings: z.object({
    body: bodyRef('mesh'),
    by: bodyRef('any', 'Cut by', { changes: false }),
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
  async run({ settings: s, mesh, body, names, work }) {
    if (s.body === s.by)
      throw new StepError('same-body', 'A body cannot be cut by itself.', { tryThis: 'Pick another body to cut with.' })
    const cutter = body(s.by)
    const chord = s.chord ?? defaultChord([{ name: s.by, body: cutter }])
    const skin = isMesh(cutter) ? cutter.mesh : (await facetSolid(cutter, chord)).mesh
    return halved(s.body, s.other, names, await splitByMesh(s.body, mesh(s.body).mesh, skin, s.cap, work), s.keep)
  },
})
