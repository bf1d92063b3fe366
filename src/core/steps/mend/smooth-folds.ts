import { z } from 'zod'
import { bodyRef, percent } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { smoothFolds as smooth } from '@/core/mend/folds'
import { mendedPart } from './part'

export const smoothFolds = defineStep({
  kind: 'mend/smooth-folds',
  version: 2,
  title: 'Smooth folds',
  order: 170,
  past: 'Smoothed folds of',
  group: 'Shape',
  facts: shown('foldsBefore', 'foldsAfter', 'kept', 'fresh'),
  summary: 'Relaxes the places where the skin lies back on itself.',
  settings: z.object({ body: bodyRef('mesh'), strength: percent('Strength', { min: 1 }).default(60) }),
  run({ settings: s, mesh, work }) {
    const f = smooth(mesh(s.body).mesh, { strength: s.strength / 100 }, work)
    return Promise.resolve(
      mendedPart(s.body, mesh(s.body), f.after < f.before ? f.mesh : mesh(s.body).mesh, {
        said: f.before ? `folds ${f.before} → ${f.after}` : 'no folds',
        facts: { foldsBefore: f.before, foldsAfter: f.after },
      }),
    )
  },
})
