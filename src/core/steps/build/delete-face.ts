import { z } from 'zod'
import { plural } from '@/core/base/say'
import { deleteFaces } from '@/core/kernels/exact/faces'
import { bodyRef, faceRefs } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { changed, featureBody } from './features'

export const deleteFace = defineStep({
  kind: 'build/delete-face',
  version: 1,
  title: 'Delete face',
  order: 78,
  past: 'Deleted faces of',
  group: 'Edges and holes',
  facts: shown('volume', 'volumeChange', 'faces'),
  summary: 'Takes a hole, a pocket or a boss out of a solid: its picked faces go, the faces round it close over.',
  settings: z.object({
    body: bodyRef(['solid', 'mesh'], 'Body'),
    faces: faceRefs('Faces'),
  }),
  async run({ settings: s, body, work }) {
    const on = await featureBody(s.body, body(s.body), work)
    const faces = on.faces(s.faces)
    const done = await deleteFaces(on.exact, faces)
    return changed(s.body, on, done, `${plural(faces.length, 'face')} healed over`)
  },
})
