import { z } from 'zod'
import { bodyRef } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { plural } from '@/core/base/say'
import { faceOutward as face } from '@/core/mesh/orient'
import { mendedPart } from './part'

export const faceOutward = defineStep({
  kind: 'mend/face-outward',
  version: 3,
  title: 'Face outward',
  order: 50,
  past: 'Faced outward:',
  group: 'Skin',
  facts: shown('turned'),
  summary: 'Makes all triangles of a piece run one way round and face outward; shells that line a hollow stay inward.',
  settings: z.object({ body: bodyRef('mesh') }),
  run({ settings: s, mesh, work }) {
    const o = face(mesh(s.body).mesh, work)
    return Promise.resolve(
      mendedPart(s.body, mesh(s.body), o.turned || o.cut ? o.mesh : mesh(s.body).mesh, {
        said: o.turned
          ? `turned ${plural(o.turned, 'triangle')}${o.cut ? `, cut a one-sided strip at ${plural(o.cut, 'edge')}` : ''}`
          : 'all faced outward already',
        facts: { turned: o.turned, cut: o.cut },
      }),
    )
  },
})
