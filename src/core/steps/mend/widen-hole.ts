import { z } from 'zod'
import { bodyRef, choice, count, points, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { plural } from '@/core/base/say'
import { closeHoles } from '@/core/mend/close-holes'
import { widenHoles } from '@/core/mend/widen-hole'
import { mendedPart } from './part'

export const widenHole = defineStep({
  kind: 'mend/widen-hole',
  version: 3,
  title: 'Widen hole',
  order: 140,
  past: 'Widened holes of',
  group: 'Holes',
  facts: shown('removed', 'closed', 'kept', 'fresh'),
  summary: 'Eats rings of bad triangles round a hole, and closes it against sound ones.',
  settings: z.object({
    body: bodyRef('mesh'),
    picked: points('Rims', { pick: 'rims', help: 'none picked: all holes' }).default([]),
    rings: count('Rings', { min: 1, max: 50 }).default(2),
    close: toggle('Then close').default(true),
    how: choice(
      'Fill',
      ['smooth', 'flat', 'curvature'],
      { smooth: 'tangent', flat: 'flat', curvature: 'curvature' },
      { when: { field: 'close', is: [true] } },
    ).default('smooth'),
  }),
  run({ settings: s, mesh, work }) {
    const w = widenHoles(mesh(s.body).mesh, s.rings, s.picked)
    const out = s.close
      ? closeHoles(w.mesh, { how: s.how, picked: s.picked.length ? s.picked : undefined, scraps: true }, work)
      : null
    return Promise.resolve(
      mendedPart(s.body, mesh(s.body), out?.mesh ?? w.mesh, {
        said: `${plural(w.removed, 'triangle')} eaten${out ? `, closed ${plural(out.closed, 'hole')}` : ''}`,
        facts: { removed: w.removed, closed: out?.closed ?? 0 },
        firstNew: out?.firstNew,
        chosen: true,
      }),
    )
  },
})
