import { z } from 'zod'
import { bodyRef, count, points } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { mm, plural } from '@/core/base/say'
import { smoothRims } from '@/core/mend/smooth-rim'
import { mendedPart } from './part'

export const smoothRim = defineStep({
  kind: 'mend/smooth-rim',
  version: 2,
  title: 'Smooth rim',
  order: 150,
  past: 'Smoothed rims of',
  group: 'Holes',
  facts: shown('movedMm', 'rims', 'kept', 'fresh'),
  summary: 'Smooths the rims of holes as curves, before they are closed or trimmed.',
  settings: z.object({
    body: bodyRef('mesh'),
    picked: points('Rims', { pick: 'rims', help: 'none picked: all rims' }).default([]),
    passes: count('Passes', { min: 1, max: 500 }).default(10),
  }),
  run({ settings: s, mesh }) {
    const out = smoothRims(mesh(s.body).mesh, s.passes, s.picked)
    return Promise.resolve(
      mendedPart(s.body, mesh(s.body), out.mesh, {
        said: `${plural(out.rims, 'rim')}, moved up to ${mm(out.moved, 3)}`,
        facts: {
          rims: out.rims,
          movedMm: Number(out.moved.toFixed(6)),
        },
      }),
    )
  },
})
