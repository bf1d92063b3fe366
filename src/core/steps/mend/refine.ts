import { z } from 'zod'
import { angleDeg, bodyRef, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, type Facts } from '@/core/step/step'
import { many, mm, num } from '@/core/base/say'
import { refine as run, trianglesFor } from '@/core/mend/refine'
import { meshArea } from '@/core/mesh/measures'
import { triangleCount } from '@/core/mesh/tri-mesh'
import { loyaltyOfDeviation } from '@/core/gauge/loyalty'
import { deviation } from '@/core/gauge/deviation'
import { StepError } from '@/core/base/step-error'
import { span } from '@/core/base/work'
import { mendedPart } from './part'

const most = 3_000_000

export const refine = defineStep({
  kind: 'mend/refine',
  version: 3,
  title: 'Refine',
  order: 200,
  past: 'Refined',
  group: 'Shape',
  slow: true,
  facts: shown('triangles', 'deviationMaxMm', 'deviation95Mm', 'edgeMm', 'kept', 'fresh'),
  summary:
    'Evens the triangles out to an edge length; shorter where the skin bends; sharp edges, rims and the shape are kept.',
  settings: z.object({
    body: bodyRef('mesh'),
    edge: lengthMm('Edge length', { min: 1e-4, help: 'left empty: for as many triangles as now' }).optional(),
    angle: angleDeg('Sharp edges bend more than', { min: 1, max: 179, more: true }).default(40),
  }),
  run({ settings: s, mesh, work }) {
    const m = mesh(s.body).mesh
    const area = meshArea(m)
    const edge = s.edge ?? Math.sqrt(area / Math.max(1, triangleCount(m)) / (Math.sqrt(3) / 4))
    const expected = trianglesFor(area, edge)
    if (expected > most)
      throw new StepError(
        'too-fine',
        `An edge of ${mm(edge, 3)} means about ${many(expected)} triangles; ${many(most)} are the most.`,
        { tryThis: 'Choose a longer edge.' },
      )
    const out = run(m, { edge, keepEdges: s.angle, most: 2 * most }, span(work, 0, 0.9))
    const d = deviation(out, m, { samples: 30_000 }, span(work, 0.9, 1))
    const { both } = d
    return Promise.resolve(
      mendedPart(s.body, mesh(s.body), out, {
        said: `${many(triangleCount(m))} → ${many(triangleCount(out))} triangles at ${mm(edge, 3)} · off by ${num(both.max, 3)} mm`,
        facts: {
          triangles: triangleCount(out),
          edgeMm: Number(edge.toFixed(6)),
          deviationMaxMm: both.max,
          deviation95Mm: both.p95,
          deviation: both as unknown as Facts,
        },
        loyalty: loyaltyOfDeviation(d, m, out),
      }),
    )
  },
})
