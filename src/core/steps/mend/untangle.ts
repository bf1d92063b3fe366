import { z } from 'zod'
import { bodyRef, count } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { untangle as run } from '@/core/mend/untangle'
import { mendedPart } from './part'

export const untangle = defineStep({
  kind: 'mend/untangle',
  version: 3,
  title: 'Untangle',
  order: 90,
  past: 'Untangled',
  group: 'Skin',
  slow: true,
  facts: shown('removed', 'crossingsBefore', 'crossingsAfter'),
  summary: 'Takes out triangles that pass through each other with a ring round them, and fills the gaps.',
  settings: z.object({ body: bodyRef('mesh'), rounds: count('Rounds', { min: 1, max: 30, more: true }).default(8) }),
  run({ settings: s, mesh, work }) {
    const u = run(mesh(s.body).mesh, { rounds: s.rounds }, work)
    const out = mendedPart(
      s.body,
      mesh(s.body),
      u.mesh,
      u.before ? `crossings ${u.before} → ${u.after}` : 'no crossings',
      { crossingsBefore: u.before, crossingsAfter: u.after, removed: u.removed },
    )
    return Promise.resolve(
      u.after
        ? {
            ...out,
            warnings: [
              ...(out.warnings ?? []),
              `${u.after} crossings are left. Remove the place by hand and close the hole.`,
            ],
          }
        : out,
    )
  },
})
