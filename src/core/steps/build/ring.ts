import { z } from 'zod'
import { direction, lengthMm, newBody, point } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'
import { num, volumeText } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { makeRing } from '@/core/kernels/exact/primitives'
import { normalize } from '@/core/math/vec'

export const ring = defineStep({
  kind: 'build/ring',
  version: 1,
  title: 'Ring',
  order: 26,
  past: 'Ring',
  group: 'Shapes',
  live: true,
  facts: shown('volume', 'faces'),
  summary: 'An exact ring: a round tube bent to a circle.',
  settings: z.object({
    name: newBody('Name', { base: 'ring' }),
    radius: lengthMm('Radius of the circle', { min: 1e-3 }).default(10),
    thickness: lengthMm('Radius of the tube', { min: 1e-3 }).default(2),
    at: point('Middle', { pick: 'face' }).default([0, 0, 0]),
    axis: direction('Axis').default([0, 0, 1]),
  }),
  async run({ settings: s, names }) {
    freeName(names, s.name)
    if (s.thickness >= s.radius)
      throw new StepError(
        'crosses',
        `A tube of radius ${num(s.thickness)} mm on a circle of ${num(s.radius)} mm would cross itself.`,
        {
          tryThis: 'Take a thinner tube or a larger circle.',
          offer: { set: 'thickness', to: Math.floor(s.radius * 990) / 1000 },
        },
      )
    const body = await makeRing(s.radius, s.thickness, s.at, normalize(s.axis), s.name)
    return {
      bodies: { [s.name]: body },
      facts: { volume: body.facts.volume, faces: body.facts.faces },
      said: `Ø ${num(2 * s.radius)} mm of Ø ${num(2 * s.thickness)} mm · ${volumeText(body.facts.volume)}`,
    }
  },
})
