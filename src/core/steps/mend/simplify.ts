import { z } from 'zod'
import { angleDeg, bodyRef, choice, count, lengthMm, percent, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, type Facts } from '@/core/step/step'
import { many, num } from '@/core/base/say'
import { loyaltyOfDeviation } from '@/core/gauge/loyalty'
import { simplify as run } from '@/core/mend/simplify'
import { diagonal, meshBounds, triangleCount } from '@/core/mesh/tri-mesh'
import { mendedPart } from './part'

export const simplify = defineStep({
  kind: 'mend/simplify',
  version: 4,
  title: 'Simplify',
  order: 190,
  past: 'Simplified',
  group: ['First', 'Shape'],
  facts: shown('triangles', 'deviationMaxMm', 'deviation95Mm', 'kept', 'fresh'),
  summary: 'Fewer triangles, to a share, a count or a greatest deviation; the deviation is measured both ways.',
  settings: z.object({
    body: bodyRef('mesh'),
    to: choice('Down to', ['share', 'count', 'deviation'], {
      share: 'share',
      count: 'count',
      deviation: 'deviation',
    }).default('share'),
    share: percent('Share of the triangles', { min: 0.01, when: { field: 'to', is: ['share'] } }).default(20),
    count: count('Triangles', { min: 4, when: { field: 'to', is: ['count'] } }).default(20_000),
    deviation: lengthMm('Greatest deviation', {
      min: 1e-6,
      help: 'left empty: a 2000th of the diagonal',
      when: { field: 'to', is: ['deviation'] },
    }).optional(),
    rims: toggle('Keep rims', { more: true }).default(true),
    sharp: toggle('Keep sharp edges', { more: true }).default(false),
    angle: angleDeg('Sharp is above', { min: 1, max: 179, more: true, when: { field: 'sharp', is: [true] } }).default(
      40,
    ),
  }),
  async run({ settings: s, mesh, work }) {
    const m = mesh(s.body).mesh
    const n = triangleCount(m)
    const target = s.to === 'share' ? Math.round((n * s.share) / 100) : s.to === 'count' ? s.count : undefined
    const r = await run(
      m,
      {
        triangles: target,
        deviation: s.to === 'deviation' ? (s.deviation ?? diagonal(meshBounds(m)) / 2000) : undefined,
        keepRims: s.rims,
        keepEdges: s.sharp ? s.angle : undefined,
      },
      work,
    )
    const left = triangleCount(r.mesh)
    const { both } = r.deviation
    const out = mendedPart(s.body, mesh(s.body), r.mesh, {
      said: `${many(n)} → ${many(left)} triangles · off by ${num(both.max, 3)} mm, 95 % within ${num(both.p95, 3)}`,
      facts: {
        triangles: left,
        deviationMaxMm: both.max,
        deviation95Mm: both.p95,
        deviation: both as unknown as Facts,
        histogram: r.deviation.histogram as unknown as Facts,
      },
      loyalty: loyaltyOfDeviation(r.deviation, m, r.mesh),
    })
    if (target === undefined && left === n)
      return {
        ...out,
        warnings: [
          ...(out.warnings ?? []),
          `No triangle could be taken out within that distance: the skin is rough by as much everywhere. Allow more, or ask for a share.`,
        ],
      }
    return target !== undefined && left > 1.05 * target
      ? {
          ...out,
          warnings: [
            ...(out.warnings ?? []),
            `Only down to ${many(left)} of ${many(target)} asked: fewer would fold, tear or lie too far off, or rims and edges that are kept allow no less.`,
          ],
        }
      : out
  },
})
