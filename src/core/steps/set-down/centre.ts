import { z } from 'zod'
import { bodyRef, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { translation } from '@/core/math/affine'
import { boundsCentre } from '@/core/mesh/tri-mesh'
import { boundsOf } from '@/core/kinds/registry'
import { placed } from './placing'

export const centre = defineStep({
  kind: 'set-down/centre',
  version: 1,
  title: 'Centre',
  order: 20,
  past: 'Centred',
  group: 'Place',
  live: true,
  facts: shown('size'),
  summary: 'Brings the middle of a body to the origin along the chosen axes.',
  settings: z.object({
    body: bodyRef('any'),
    x: toggle('Along x').default(true),
    y: toggle('Along y').default(true),
    z: toggle('Along z').default(false),
  }),
  async run({ settings: s, body }) {
    const c = boundsCentre(boundsOf(body(s.body)))
    const axes = (['x', 'y', 'z'] as const).filter((a) => s[a])
    return placed(
      s.body,
      body(s.body),
      translation([s.x ? -c[0] : 0, s.y ? -c[1] : 0, s.z ? -c[2] : 0]),
      axes.length ? `centred along ${axes.join(', ')}` : 'left where it was',
    )
  },
})
