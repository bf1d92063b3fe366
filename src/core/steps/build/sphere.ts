import { z } from 'zod'
import { lengthMm, newBody, point } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'
import { num, volumeText } from '@/core/base/say'
import { makeSphere } from '@/core/kernels/exact/primitives'

export const sphere = defineStep({
  kind: 'build/sphere',
  version: 1,
  title: 'Sphere',
  order: 24,
  past: 'Sphere',
  group: 'Shapes',
  live: true,
  facts: shown('volume', 'faces'),
  summary: 'An exact sphere about a place.',
  settings: z.object({
    name: newBody('Name', { base: 'sphere' }),
    radius: lengthMm('Radius', { min: 1e-3 }).default(5),
    at: point('Middle', { pick: 'point' }).default([0, 0, 0]),
  }),
  async run({ settings: s, names }) {
    freeName(names, s.name)
    const body = await makeSphere(s.radius, s.at, s.name)
    return {
      bodies: { [s.name]: body },
      facts: { volume: body.facts.volume, faces: body.facts.faces },
      said: `Ø ${num(2 * s.radius)} mm · ${volumeText(body.facts.volume)}`,
    }
  },
})
