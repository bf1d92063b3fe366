import { z } from 'zod'
import { bodyRef, choice, point, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { mm, plural } from '@/core/base/say'
import { closePart as close } from '@/core/mend/close-part'
import { mendedPart } from './part'

export const closePart = defineStep({
  kind: 'mend/close-part',
  version: 2,
  title: 'Close part',
  order: 120,
  past: 'Closed part of a hole in',
  group: 'Holes',
  facts: shown('acrossMm', 'covered', 'kept', 'fresh'),
  summary: 'Closes a hole from one picked rim point straight across to another; the rest of it stays open.',
  settings: z.object({
    body: bodyRef('mesh'),
    from: point('From this rim point', { pick: 'point' }),
    to: point('Across to this one', { pick: 'point' }),
    how: choice('Fill', ['smooth', 'flat'], { smooth: 'tangent', flat: 'flat' }).default('smooth'),
    other: toggle('The other part').default(false),
  }),
  run({ settings: s, mesh }) {
    const c = close(mesh(s.body).mesh, s.from, s.to, { how: s.how, other: s.other })
    return Promise.resolve(
      mendedPart(s.body, mesh(s.body), c.mesh, {
        said: `closed ${plural(c.covered, 'rim edge')}, ${mm(c.across)} across`,
        facts: { covered: c.covered, acrossMm: Number(c.across.toFixed(6)) },
        firstNew: c.firstNew,
      }),
    )
  },
})
