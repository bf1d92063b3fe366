import { z } from 'zod'
import { bodyRef, regionRef } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { plural } from '@/core/base/say'
import { resolveRegion } from '@/core/find/region'
import { mendedPart } from './part'

export const flipPicked = defineStep({
  kind: 'mend/flip',
  version: 2,
  title: 'Flip picked',
  order: 60,
  past: 'Flipped in',
  group: 'Skin',
  facts: shown('triangles', 'turned'),
  summary: 'Turns the picked triangles to face the other way.',
  settings: z.object({ body: bodyRef('mesh'), region: regionRef() }),
  run({ settings: s, mesh }) {
    const m = mesh(s.body).mesh
    const flags = resolveRegion(m, s.region, mesh(s.body).tags)
    const triangles = m.triangles.slice()
    let turned = 0
    for (let t = 0; t < flags.length; t++) {
      if (!flags[t]) continue
      const b = triangles[3 * t + 1]
      triangles[3 * t + 1] = triangles[3 * t + 2]
      triangles[3 * t + 2] = b
      turned++
    }
    return Promise.resolve(
      mendedPart(
        s.body,
        mesh(s.body),
        { positions: m.positions, triangles },
        {
          said: `flipped ${plural(turned, 'triangle')}`,
          facts: {
            turned,
          },
        },
      ),
    )
  },
})
