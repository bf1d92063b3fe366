import { z } from 'zod'
import { bodyRef, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { plural } from '@/core/base/say'
import { weldMesh } from '@/core/mesh/weld'
import { mendedPart } from './part'

export const weld = defineStep({
  kind: 'mend/weld',
  version: 2,
  title: 'Weld',
  order: 30,
  past: 'Welded',
  group: 'Skin',
  facts: shown('joined', 'kept', 'fresh'),
  summary: 'Joins vertices that stand closer than a distance.',
  settings: z.object({
    body: bodyRef('mesh'),
    within: lengthMm('Within', { max: 1000, help: 'Left empty: a 100 000th of the diagonal' }).optional(),
  }),
  run({ settings: s, mesh }) {
    const w = weldMesh(mesh(s.body).mesh, s.within)
    return Promise.resolve(
      mendedPart(s.body, mesh(s.body), w.joined ? w.mesh : mesh(s.body).mesh, {
        said: w.joined ? `joined ${plural(w.joined, 'vertex', 'vertices')}` : 'nothing to join',
        facts: { joined: w.joined },
      }),
    )
  },
})
