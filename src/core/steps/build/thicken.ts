import { z } from 'zod'
import { meshBody } from '@/core/bodies/body'
import { bodyRef, choice, lengthMm, regionRef, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { many, mm, volumeText } from '@/core/base/say'
import { meshVolume, triangleCount } from '@/core/mesh/tri-mesh'
import { resolveRegion } from '@/core/find/region'
import { offsetEdge } from '@/core/skin/offset'
import { thicken as run } from '@/core/skin/thicken'

export const thicken = defineStep({
  kind: 'build/thicken',
  version: 2,
  title: 'Thicken',
  order: 80,
  past: 'Thickened',
  group: 'Walls',
  slow: true,
  facts: shown('triangles', 'volume'),
  summary: 'Gives an open mesh, or a picked area of one, a wall.',
  settings: z.object({
    body: bodyRef('mesh'),
    whole: toggle('The whole body').default(true),
    region: regionRef('Area', { when: { field: 'whole', is: [false] } }).optional(),
    by: lengthMm('Thickness', { min: 1e-3 }).default(2),
    side: choice('To', ['outward', 'inward', 'both'], { outward: 'outside', inward: 'inside', both: 'both' }).default(
      'inward',
    ),
    edge: lengthMm('Edge length', {
      min: 1e-4,
      help: 'where a new skin is needed; left empty: from the size',
      more: true,
    }).optional(),
  }),
  run({ settings: s, mesh, work }) {
    const m = mesh(s.body).mesh
    const out = run(
      m,
      s.whole ? null : resolveRegion(m, s.region ?? []),
      s.by,
      s.side,
      s.edge ?? offsetEdge(m, s.by),
      work,
    )
    return Promise.resolve({
      bodies: { [s.body]: meshBody(out.mesh) },
      facts: { triangles: triangleCount(out.mesh), volume: meshVolume(out.mesh), reskinned: out.reskinned },
      warnings: out.reskinned ? ['The plain wall would cross itself, so a new skin was laid over it.'] : [],
      said: `${mm(s.by)} thick · ${volumeText(meshVolume(out.mesh))} · ${many(triangleCount(out.mesh))} triangles`,
    })
  },
})
