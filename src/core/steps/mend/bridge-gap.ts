import { z } from 'zod'
import { bodyRef, choice, lengthMm, point, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { mm } from '@/core/base/say'
import { bridgeGap as bridge } from '@/core/mend/bridge-gap'
import { mendedPart } from './part'

export const bridgeGap = defineStep({
  kind: 'mend/bridge-gap',
  version: 2,
  title: 'Bridge gap',
  order: 130,
  past: 'Bridged a gap in',
  group: 'Holes',
  facts: shown('gapMm', 'kept', 'fresh'),
  summary: 'Joins two rims all round, or lays a strip between two picked rim points.',
  settings: z.object({
    body: bodyRef('mesh'),
    from: point('From this rim point', { pick: 'point' }),
    to: point('To this one', { pick: 'point' }),
    how: choice('Bridge', ['round', 'strip'], { round: 'all round', strip: 'a strip' }).default('round'),
    width: lengthMm('Width', { min: 0.01, when: { field: 'how', is: ['strip'] } }).default(5),
    flat: toggle('Straight, not smooth', { more: true }).default(false),
  }),
  run({ settings: s, mesh }) {
    const b = bridge(mesh(s.body).mesh, s.from, s.to, { width: s.how === 'strip' ? s.width : undefined, flat: s.flat })
    return Promise.resolve(
      mendedPart(s.body, mesh(s.body), b.mesh, {
        said: `bridged a gap of ${mm(b.gap)}${b.whole ? ' all round' : ''}`,
        facts: { gapMm: Number(b.gap.toFixed(6)), rimEdges: b.edges },
        firstNew: b.firstNew,
      }),
    )
  },
})
