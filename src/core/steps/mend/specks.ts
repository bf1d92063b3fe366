import { z } from 'zod'
import { bodyRef, choice, lengthMm, percent } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { plural } from '@/core/base/say'
import { clearSpecks as clear } from '@/core/mend/specks'
import { mendedPart } from './part'

export const clearSpecks = defineStep({
  kind: 'mend/specks',
  version: 2,
  title: 'Clear specks',
  order: 40,
  past: 'Cleared specks of',
  group: 'Skin',
  facts: shown('removed', 'kept', 'fresh'),
  summary: 'Removes stray pieces by size or share, near or far from the largest one.',
  settings: z.object({
    body: bodyRef('mesh'),
    by: choice('Specks are', ['share', 'size'], {
      share: 'below a share of the largest',
      size: 'smaller than',
    }).default('share'),
    share: percent('Share of area', { max: 99, when: { field: 'by', is: ['share'] } }).default(1),
    size: lengthMm('Size', { when: { field: 'by', is: ['size'] } }).default(5),
    beyond: lengthMm('Only further away than', { help: 'Left empty: at any distance', more: true }).optional(),
  }),
  run({ settings: s, mesh }) {
    const c = clear(mesh(s.body).mesh, {
      ...(s.by === 'share' ? { share: s.share / 100 } : { smallerThan: s.size }),
      ...(s.beyond ? { furtherThan: s.beyond } : {}),
    })
    return Promise.resolve(
      mendedPart(s.body, mesh(s.body), c.mesh, {
        said: c.removed ? `cleared ${plural(c.removed, 'speck')}, ${plural(c.triangles, 'triangle')}` : 'no specks',
        facts: { removed: c.removed, removedTriangles: c.triangles },
        chosen: true,
        gone: true,
      }),
    )
  },
})
