import { z } from 'zod'
import { bodyRef, choice, count, percent, regionRef, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { mm, num } from '@/core/base/say'
import { smooth as run } from '@/core/mend/smooth'
import { resolveRegion } from '@/core/find/region'
import { mendedPart } from './part'

export const smooth = defineStep({
  kind: 'mend/smooth',
  version: 2,
  title: 'Smooth',
  order: 180,
  past: 'Smoothed',
  group: ['First', 'Shape'],
  facts: shown('movedMm', 'kept', 'fresh'),
  summary: 'Smooths a body or a picked area: evenly, by least bending, or with its edges kept sharp.',
  settings: z.object({
    body: bodyRef('mesh'),
    how: choice('How', ['even', 'fair', 'keep-sharp'], {
      even: 'evenly',
      fair: 'fair',
      'keep-sharp': 'keep sharp',
    }).default('even'),
    whole: toggle('The whole body').default(true),
    region: regionRef('Area', { when: { field: 'whole', is: [false] } }).optional(),
    strength: percent('Strength', { min: 1 }).default(50),
    passes: count('Passes', { min: 1, max: 200 }).default(5),
    rim: choice('Rim', ['pinned', 'free'], { pinned: 'pinned', free: 'free' }, { more: true }).default('pinned'),
  }),
  run({ settings: s, mesh, work }) {
    const m = mesh(s.body).mesh
    const out = run(
      m,
      {
        how: s.how,
        strength: s.strength / 100,
        passes: s.passes,
        rim: s.rim,
        region: s.whole ? undefined : resolveRegion(m, s.region ?? [], mesh(s.body).tags),
      },
      work,
    )
    return Promise.resolve(
      mendedPart(s.body, mesh(s.body), out.mesh, {
        said: `moved up to ${mm(out.moved, 3)}${s.whole ? ` · volume ${out.volumeShare >= 0 ? '+' : '−'} ${num(Math.abs(100 * out.volumeShare), 3)} %` : ''}`,
        facts: {
          movedMm: Number(out.moved.toFixed(6)),
          smoothed: out.vertices,
          volumeShare: Number(out.volumeShare.toFixed(8)),
        },
      }),
    )
  },
})
