import { z } from 'zod'
import { bodyRef, choice, lengthMm, points } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { num, plural } from '@/core/base/say'
import { closeHoles as close } from '@/core/mend/close-holes'
import { StepError } from '@/core/base/step-error'
import { mendedPart } from './part'

export const closeHoles = defineStep({
  kind: 'mend/close-holes',
  version: 4,
  title: 'Close holes',
  order: 110,
  past: 'Closed holes in',
  group: ['First', 'Holes'],
  facts: shown('closed', 'left', 'longestEdgeMm', 'kept', 'fresh'),
  summary:
    'Fills all holes, those up to a length, or the picked ones: flat, tangent to their surroundings, or continuing their curvature.',
  settings: z.object({
    body: bodyRef('mesh'),
    how: choice('Fill', ['smooth', 'curvature', 'flat'], {
      smooth: 'tangent',
      curvature: 'curvature',
      flat: 'flat',
    }).default('smooth'),
    which: choice('Which', ['all', 'up-to', 'picked'], { all: 'all', 'up-to': 'up to', picked: 'picked' }).default(
      'all',
    ),
    longest: lengthMm('Longest rim', { when: { field: 'which', is: ['up-to'] } }).optional(),
    picked: points('Picked rims', { pick: 'rims', when: { field: 'which', is: ['picked'] } }).default([]),
  }),
  run({ settings: s, mesh, work }) {
    if (s.which === 'picked' && !s.picked.length)
      throw new StepError('no-pick', 'No rim is picked.', { tryThis: 'Click near the rims to close, or choose all.' })
    const longest = s.which === 'picked' ? undefined : s.longest
    const c = close(
      mesh(s.body).mesh,
      { how: s.how, longest, picked: s.which === 'picked' ? s.picked : undefined, scraps: true },
      work,
    )
    const total = c.closed + c.left
    const out = mendedPart(s.body, mesh(s.body), c.mesh, {
      said: c.closed
        ? `closed ${c.closed}${c.left ? ` of ${total}` : ''} ${total === 1 ? 'hole' : 'holes'} · longest rim ${num(c.longest, 1)} mm`
        : 'no hole to close',
      facts: {
        ...{ closed: c.closed, left: c.left, longestEdgeMm: c.longest, scraps: c.scraps },
        crossing: c.crossing,
      },
      firstNew: c.firstNew,
    })
    return Promise.resolve(
      c.crossing
        ? {
            ...out,
            warnings: [
              ...(out.warnings ?? []),
              `${plural(c.crossing, 'patch', 'patches')} could not be laid without passing through the skin. Untangle, or close the hole in parts.`,
            ],
          }
        : out,
    )
  },
})
