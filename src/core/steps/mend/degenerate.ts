import { z } from 'zod'
import { bodyRef } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { removeDegenerate as clear } from '@/core/mend/slivers'
import { mendedPart } from './part'

export const removeDegenerate = defineStep({
  kind: 'mend/degenerate',
  version: 3,
  title: 'Remove degenerate',
  order: 70,
  past: 'Cleared',
  group: 'Skin',
  facts: shown('left', 'kept', 'fresh'),
  summary: 'Takes out triangles without area and triangles that stand twice.',
  settings: z.object({ body: bodyRef('mesh') }),
  run({ settings: s, mesh }) {
    const c = clear(mesh(s.body).mesh)
    return Promise.resolve(
      mendedPart(s.body, mesh(s.body), c.degenerate || c.duplicates ? c.mesh : mesh(s.body).mesh, {
        said:
          c.degenerate || c.duplicates
            ? `removed ${c.degenerate} degenerate, ${c.duplicates} duplicate${c.left ? `; ${c.left} left` : ''}`
            : 'none found',
        facts: { degenerate: c.degenerate, duplicates: c.duplicates, left: c.left },
      }),
    )
  },
})
