import { z } from 'zod'
import { shownSkin } from '@/core/kinds/registry'
import { bodyRef, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, type Facts } from '@/core/step/step'
import { num } from '@/core/base/say'
import { diagonal, meshBounds } from '@/core/mesh/tri-mesh'
import { deviation as run } from '@/core/gauge/deviation'
import { StepError } from '@/core/base/step-error'

export const deviation = defineStep({
  kind: 'prove/deviation',
  version: 1,
  title: 'Deviation',
  order: 10,
  past: 'Deviation of',
  slow: true,
  facts: shown('rms', 'max', 'p95', 'mean', 'tolerance', 'within'),
  summary: 'How far one body lies from another, both ways, as figures, histogram and coloured map; changes nothing.',
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
    return Promise.resolve({
      bodies: {},
      facts: {
        tolerance,
        ...(d.both as unknown as Facts),
        there: d.there as unknown as Facts,
        back: d.back as unknown as Facts,
        histogram: d.histogram as unknown as Facts,
        against: s.against,
      },
      said: `mean ${num(d.both.mean, 3)}, rms ${num(d.both.rms, 3)}, 95 % ${num(d.both.p95, 3)}, max ${num(d.both.max, 3)} mm · ${num(100 * (d.both.within ?? 1), 1)} % within ${num(tolerance, 3)}`,
    })
  },
})
