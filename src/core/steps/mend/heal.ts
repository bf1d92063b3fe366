import { z } from 'zod'
import { bodyRef, choice, regionRef } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { mm, plural } from '@/core/base/say'
import { cutAndRefill } from '@/core/mend/cut-and-refill'
import { StepError } from '@/core/base/step-error'
import { resolveRegion } from '@/core/find/region'
import { mendedPart } from './part'

export const healArea = defineStep({
  kind: 'mend/heal',
  version: 2,
  title: 'Heal area',
  order: 160,
  past: 'Healed',
  group: ['First', 'Holes'],
  facts: shown('removed', 'closed', 'longestRimMm', 'kept', 'fresh'),
  summary: 'Takes a picked area out and fills it from its surroundings: dents, lettering, old bosses, worn holes.',
  settings: z.object({
    body: bodyRef('mesh'),
    region: regionRef('Area'),
    how: choice('Fill', ['smooth', 'curvature', 'flat'], {
      smooth: 'tangent',
      curvature: 'curvature',
      flat: 'flat',
    }).default('smooth'),
  }),
  run({ settings: s, mesh, work }) {
    const m = mesh(s.body).mesh
    const r = cutAndRefill(m, resolveRegion(m, s.region, mesh(s.body).tags), { how: s.how, crumbs: 1e-4 }, work)
    if (!r) throw new StepError('empty-result', 'That would remove the whole body.', { tryThis: 'Pick less.' })
    const out = mendedPart(s.body, mesh(s.body), r.mesh, {
      said: `took out ${plural(r.removed, 'triangle')}, filled ${plural(r.closed, 'rim')} up to ${mm(r.longest, 1)} long`,
      facts: { removed: r.removed, closed: r.closed, longestRimMm: Number(r.longest.toFixed(4)) },
      firstNew: r.firstNew,
      chosen: true,
    })
    return Promise.resolve(
      r.left
        ? {
            ...out,
            warnings: [
              ...(out.warnings ?? []),
              `${plural(r.left, 'gap')} run out into a rim that was open before, and stay open.`,
            ],
          }
        : out,
    )
  },
})
