import { z } from 'zod'
import { num, plural } from '@/core/base/say'
import { draftFaces } from '@/core/kernels/exact/shell'
import { normalize } from '@/core/math/vec'
import { angleDeg, bodyRef, direction, faceRefs, point } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { changed, featureBody } from './features'

export const draft = defineStep({
  kind: 'build/draft',
  version: 1,
  title: 'Draft',
  order: 76,
  past: 'Leaned faces of',
  group: 'Edges and holes',
  facts: shown('volume', 'volumeChange', 'faces'),
  summary:
    'Leans faces of a solid by an angle, so that it leaves a mould; they stay where the neutral plane meets them.',
  settings: z.object({
    body: bodyRef(['solid', 'mesh'], 'Body'),
    faces: faceRefs('Faces'),
    angle: angleDeg('Angle', { min: -60, max: 60, help: 'above zero they lean inward along the direction' }).default(3),
    at: point('Neutral plane through').default([0, 0, 0]),
    normal: direction('Drawn out along').default([0, 0, 1]),
  }),
  async run({ settings: s, body, work }) {
    const on = await featureBody(s.body, body(s.body), work)
    const faces = on.faces(s.faces)
    const done = await draftFaces(on.exact, faces, s.angle, { at: s.at, normal: normalize(s.normal) })
    return changed(s.body, on, done, `${plural(faces.length, 'face')} by ${num(s.angle)}°`)
  },
})
