import { z } from 'zod'
import { bodyRef, regionRef } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { plural } from '@/core/base/say'
import { keepTriangles, triangleCount } from '@/core/mesh/tri-mesh'
import { resolveRegion } from '@/core/find/region'
import { StepError } from '@/core/base/step-error'
import { mendedPart } from './part'

export const removePicked = defineStep({
  kind: 'mend/remove',
  version: 2,
  title: 'Remove picked',
  order: 100,
  past: 'Removed from',
  group: 'Skin',
  facts: shown('removed', 'kept', 'fresh'),
  summary: 'Takes the picked triangles out of a mesh and leaves a hole.',
  settings: z.object({ body: bodyRef('mesh'), region: regionRef() }),
  run({ settings: s, mesh }) {
    const m = mesh(s.body).mesh
    const flags = resolveRegion(m, s.region, mesh(s.body).tags)
    const kept = keepTriangles(
      m,
      flags.map((f) => (f ? 0 : 1)),
    )
    const removed = triangleCount(m) - kept.triangleFrom.length
    if (!kept.triangleFrom.length)
      throw new StepError('empty-result', 'That would remove the whole body.', {
        tryThis: 'Pick less, or take the body off with the bodies list.',
      })
    return Promise.resolve(
      mendedPart(s.body, mesh(s.body), kept.mesh, {
        said: `removed ${plural(removed, 'triangle')}`,
        facts: { removed },
        chosen: true,
        gone: true,
      }),
    )
  },
})
