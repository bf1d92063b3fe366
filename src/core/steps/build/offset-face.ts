import { z } from 'zod'
import { num, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { offsetFaces } from '@/core/kernels/exact/faces'
import { bodyRef, faceRefs, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { changed, featureBody } from './features'

export const offsetFace = defineStep({
  kind: 'build/offset-face',
  version: 1,
  title: 'Offset face',
  order: 77,
  past: 'Moved faces of',
  group: 'Walls',
  facts: shown('volume', 'volumeChange', 'faces'),
  summary: 'Moves flat faces of a solid in or out along themselves.',
  settings: z.object({
    body: bodyRef(['solid', 'mesh'], 'Body'),
    faces: faceRefs('Faces'),
    by: lengthMm('By', { min: -1e5, help: 'below zero: into the body' }).default(2),
  }),
  async run({ settings: s, body, work }) {
    if (Math.abs(s.by) < 1e-7)
      throw new StepError('no-height', 'The faces would stay where they are.', { tryThis: 'Give a distance.' })
    const on = await featureBody(s.body, body(s.body), work)
    const faces = on.faces(s.faces)
    const done = await offsetFaces(on.exact, faces, s.by)
    return changed(s.body, on, done, `${plural(faces.length, 'face')} by ${num(s.by)} mm`)
  },
})
