import { z } from 'zod'
import { volumeText } from '@/core/base/say'
import { resolvePart } from '@/core/find/part'
import { replaceFace as run } from '@/core/kernels/exact/faces'
import { bodyRef, faceRef, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'

export const replaceFace = defineStep({
  kind: 'build/replace-face',
  version: 1,
  title: 'Replace face',
  order: 97,
  past: 'Replaced a face of',
  group: 'Sheets',
  facts: shown('volume', 'volumeChange', 'faces'),
  summary: 'Ends a solid at a sheet instead of at a flat face: it is drawn out, or cut back, up to the sheet.',
  settings: z.object({
    body: bodyRef(['solid'], 'Solid'),
    face: faceRef('Face'),
    by: bodyRef(['sheet'], 'Sheet', { listed: true }),
    keep: toggle('Keep the sheet as well').default(false),
  }),
  async run({ settings: s, exact }) {
    const solid = exact(s.body)
    const part = resolvePart(s.body, solid, 'face', s.face)
    const done = await run(solid, part.index, exact(s.by), s.by)
    const by = done.facts.volume - solid.facts.volume
    return {
      bodies: { [s.body]: done, ...(s.keep ? {} : { [s.by]: null }) },
      facts: { volume: done.facts.volume, volumeChange: by, faces: done.facts.faces },
      said: `"${part.name}" by ${s.by} · ${by < 0 ? '−' : '+'} ${volumeText(Math.abs(by))}`,
    }
  },
})
