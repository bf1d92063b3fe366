import { z } from 'zod'
import { plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { cageBody, isCage, type Body } from '@/core/bodies/body'
import { sideBySide } from '@/core/cage/side-by-side'
import { bodyRefs } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'

export const joinCages = defineStep({
  kind: 'convert/join-cages',
  version: 1,
  title: 'Join cages',
  order: 61.6,
  past: 'Joined',
  group: 'Cages',
  live: true,
  facts: shown('faces'),
  summary: 'Puts cages into one, side by side: their rims can then be bridged or welded by Edit cage.',
  settings: z.object({ bodies: bodyRefs('cage', 'Cages', { least: 2 }) }),
  run({ settings: s, body }) {
    if (new Set(s.bodies).size !== s.bodies.length)
      throw new StepError('same-body', 'The same cage is picked twice.', { tryThis: 'Pick another.' })
    const cages = s.bodies.map((n) => {
      const b = body(n)
      if (!isCage(b)) throw new StepError('wrong-kind', `"${n}" is no cage.`, { where: { body: n } })
      return b.cage
    })
    const all = sideBySide(cages)
    const bodies: Record<string, Body | null> = { [s.bodies[0]]: cageBody(all) }
    for (const n of s.bodies.slice(1)) bodies[n] = null
    const faces = all.quads.length / 4
    return Promise.resolve({
      bodies,
      facts: { faces, bodies: s.bodies.length },
      said: `${plural(cages.length, 'cage')} as one · ${plural(faces, 'face')}`,
    })
  },
})
