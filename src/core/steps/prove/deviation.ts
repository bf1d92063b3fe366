import { z } from 'zod'
import { shownSkin } from '@/core/kinds/registry'
import { bodyRef, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, type Facts } from '@/core/step/step'
import { num } from '@/core/base/say'
import { diagonal, meshBounds } from '@/core/mesh/tri-mesh'
import { deviation as run, histogramOf } from '@/core/gauge/deviation'
import { StepError } from '@/core/base/step-error'

export const deviation = defineStep({
  kind: 'prove/deviation',
  version: 2,
  title: 'Deviation',
  order: 10,
  past: 'Deviation of',
  slow: true,
  facts: shown(
    'rms',
    'max',
    'p95',
    'mean',
    'tolerance',
    'within',
    { key: 'back.max', label: 'The other way at most', as: 'length' },
    { key: 'back.p95', label: 'The other way 95 % within', as: 'length' },
  ),
  summary:
    'How far one body lies from another, and that one from it, as figures, histogram and coloured map; changes nothing.',
  settings: z.object({
    body: bodyRef({ can: 'surface' }, 'Body', { changes: false }),
    against: bodyRef({ can: 'surface' }, 'Against', { changes: false }),
    tolerance: lengthMm('Tolerance', { min: 1e-6, help: 'left empty: a 1000th of the diagonal' }).optional(),
  }),
  run({ settings: s, body, work }) {
    if (s.body === s.against)
      throw new StepError('same-body', 'A body lies nowhere but on itself.', { tryThis: 'Pick two bodies.' })
    const a = shownSkin(body(s.body)),
      b = shownSkin(body(s.against))
    const tolerance = s.tolerance ?? Number((diagonal(meshBounds(b)) / 1000).toPrecision(2))
    const d = run(a, b, { tolerance, samples: 100_000 }, work)
    const reach = Math.max(1.5 * tolerance, 1.5 * d.there.p95, 1e-3 * d.there.max)
    return Promise.resolve({
      bodies: {},
      facts: {
        tolerance,
        // A sheet on a whole body lies near it; the body lies far from the sheet. Mixed, neither would be told.
        ...(d.there as unknown as Facts),
        there: d.there as unknown as Facts,
        back: d.back as unknown as Facts,
        histogram: histogramOf(d.samples.there, reach) as unknown as Facts,
        against: s.against,
      },
      said: `mean ${num(d.there.mean, 3)}, rms ${num(d.there.rms, 3)}, 95 % ${num(d.there.p95, 3)}, max ${num(d.there.max, 3)} mm · ${num(100 * (d.there.within ?? 1), 1)} % within ${num(tolerance, 3)} · the other way max ${num(d.back.max, 3)} mm`,
    })
  },
})
