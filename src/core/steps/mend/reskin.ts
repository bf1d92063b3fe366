import { z } from 'zod'
import { meshBody } from '@/core/bodies/body'
import { bodyRef, choice, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, type Facts } from '@/core/step/step'
import { many, mm, num } from '@/core/base/say'
import { checkUp, faultCount, faultWords } from '@/core/mesh/check-up'
import { meshArea } from '@/core/mesh/measures'
import { triangleCount } from '@/core/mesh/tri-mesh'
import { loyaltyFacts, loyaltyOfDeviation, loyaltyWarning, loyaltyWords } from '@/core/gauge/loyalty'
import { deviation } from '@/core/gauge/deviation'
import { StepError } from '@/core/base/step-error'
import { span } from '@/core/base/work'
import { defaultEdge, estimateReskin, reskin as run } from '@/core/skin/reskin'

const most = 3_000_000

export const reskin = defineStep({
  kind: 'mend/reskin',
  version: 3,
  title: 'Reskin',
  order: 210,
  past: 'Reskinned',
  group: ['First', 'Shape'],
  slow: true,
  facts: shown('triangles', 'deviationMaxMm', 'deviation95Mm', 'edgeMm', 'kept', 'fresh'),
  takesBadNumbers: true,
  summary: 'Lays a new closed clean skin over anything: open, crossing, in several pieces.',
  settings: z.object({
    body: bodyRef('mesh'),
    edge: lengthMm('Edge length', { min: 1e-4, help: 'left empty: a 200th of the diagonal' }).optional(),
    gap: lengthMm('Bridge gaps up to', { help: 'slots and gaps narrower than this are closed' }).default(0),
    holes: choice('Holes', ['close', 'leave'], { close: 'close', leave: 'leave open' }).default('close'),
  }),
  run({ settings: s, mesh, work }) {
    const m = mesh(s.body).mesh
    const edge = s.edge ?? defaultEdge(m)
    const expected = estimateReskin(meshArea(m), edge)
    if (expected.triangles > most)
      throw new StepError(
        'too-fine',
        `An edge of ${mm(edge, 3)} means about ${many(expected.triangles)} triangles; ${many(most)} are the most.`,
        { tryThis: 'Choose a longer edge.' },
      )
    const out = run(m, { edge, gap: s.gap, holes: s.holes }, span(work, 0, 0.85))
    const { facts } = checkUp(out, span(work, 0.85, 0.93))
    const d = deviation(out, m, { samples: 30_000 }, span(work, 0.93, 1))
    const { both, there, histogram } = d
    const loyalty = loyaltyOfDeviation(d, m, out)
    const bad = faultCount(facts) - (s.holes === 'leave' ? facts.openEdges : 0)
    return Promise.resolve({
      bodies: { [s.body]: meshBody(out) },
      facts: {
        triangles: triangleCount(out),
        edgeMm: Number(edge.toFixed(6)),
        expectedTriangles: expected.triangles,
        deviationMaxMm: both.max,
        deviation95Mm: both.p95,
        deviation: there as unknown as Facts,
        histogram: histogram as unknown as Facts,
        after: facts as unknown as Facts,
        ...loyaltyFacts(loyalty),
      },
      warnings: [...loyaltyWarning(loyalty), ...(bad ? [`Left: ${faultWords(facts)}. Try a shorter edge.`] : [])],
      said: `${many(triangleCount(m))} → ${many(triangleCount(out))} triangles at ${mm(edge, 2)} · 95 % within ${num(both.p95, 3)} mm · ${loyaltyWords(loyalty)}`,
    })
  },
})
