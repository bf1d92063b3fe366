import { z } from 'zod'
import { bodyRef } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { splitNonManifold as split } from '@/core/mend/split-non-manifold'
import { setApart } from '@/core/mend/set-apart'
import { mendedPart } from './part'

export const splitNonManifold = defineStep({
  kind: 'mend/split-non-manifold',
  version: 4,
  title: 'Split non-manifold',
  order: 80,
  past: 'Split',
  group: 'Skin',
  facts: shown('vertices', 'edges'),
  summary:
    'Cuts the skin where more than two triangles share an edge or fans share a vertex, and stitches what belongs together.',
  settings: z.object({ body: bodyRef('mesh') }),
  run({ settings: s, mesh }) {
    const c = split(mesh(s.body).mesh)
    return Promise.resolve(
      mendedPart(s.body, mesh(s.body), setApart(c.mesh).mesh, {
        said: c.edges || c.vertices ? `split ${c.edges} edges, ${c.vertices} vertices` : 'manifold already',
        facts: { edges: c.edges, vertices: c.vertices },
      }),
    )
  },
})
