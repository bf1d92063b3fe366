import { z } from 'zod'
import { bodyRef, regionRef } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { num } from '@/core/base/say'
import { shownSkin, boundsOf, moveBody } from '@/core/kinds/registry'
import { compose, rotationBetween, translation } from '@/core/math/affine'
import { planeOfTriangles } from '@/core/find/touch'
import { tagsIn } from '@/core/find/exact-face'
import { resolveRegion } from '@/core/find/region'
import { placed } from './placing'

export const faceToFloor = defineStep({
  kind: 'set-down/face-to-floor',
  version: 1,
  title: 'Face to floor',
  order: 40,
  past: 'Face to floor:',
  group: 'Place',
  live: true,
  facts: shown('size', 'planeRms'),
  summary: 'Turns a body so that a picked face or area lies on the mat.',
  settings: z.object({ body: bodyRef({ can: 'surface' }), region: regionRef('Face or area') }),
  async run({ settings: s, body }) {
    const b = body(s.body)
    const mesh = shownSkin(b)
    const flags = resolveRegion(mesh, s.region, tagsIn(b))
    const { normal, rms } = planeOfTriangles(
      mesh,
      Array.from(flags.keys()).filter((t) => flags[t]),
    )
    const turn = rotationBetween(normal, [0, 0, -1])
    const turned = await moveBody(b, turn)
    const map = compose(translation([0, 0, -boundsOf(turned).min[2]]), turn)
    const angle = (Math.acos(Math.max(-1, Math.min(1, -normal[2]))) * 180) / Math.PI
    return placed(s.body, b, map, `turned ${num(angle, 1)}° on to the picked face`, { turned: angle, planeRms: rms })
  },
})
