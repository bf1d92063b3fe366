import { z } from 'zod'
import { direction, lengthMm, newBody, point } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'
import { num, volumeText } from '@/core/base/say'
import { makeCylinder } from '@/core/kernels/exact/primitives'
import { normalize } from '@/core/math/vec'

export const cylinder = defineStep({
  kind: 'build/cylinder',
  version: 1,
  title: 'Cylinder',
  order: 20,
  past: 'Cylinder',
  group: 'Shapes',
  live: true,
  facts: shown('volume', 'faces'),
  summary: 'An exact cylinder from the middle of its base, placed by numbers or on a clicked face.',
  settings: z.object({
    name: newBody('Name', { base: 'cylinder' }),
    radius: lengthMm('Radius', { min: 1e-3 }).default(5),
    height: lengthMm('Height', { min: 1e-3 }).default(20),
    at: point('Middle of the base', { pick: 'face' }).default([0, 0, 0]),
    axis: direction('Axis').default([0, 0, 1]),
  }),
  async run({ settings: s, names }) {
    freeName(names, s.name)
    const body = await makeCylinder(s.radius, s.height, s.at, normalize(s.axis), s.name)
    return {
      bodies: { [s.name]: body },
      facts: { volume: body.facts.volume, faces: body.facts.faces },
      said: `Ø ${num(2 * s.radius)} × ${num(s.height)} mm · ${volumeText(body.facts.volume)}`,
    }
  },
})
