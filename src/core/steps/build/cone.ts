import { z } from 'zod'
import { direction, lengthMm, newBody, point } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'
import { num, volumeText } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { makeCone, makeCylinder } from '@/core/kernels/exact/primitives'
import { normalize } from '@/core/math/vec'

export const cone = defineStep({
  kind: 'build/cone',
  version: 1,
  title: 'Cone',
  order: 22,
  past: 'Cone',
  group: 'Shapes',
  live: true,
  facts: shown('volume', 'faces'),
  summary: 'An exact cone, pointed or cut off, from the middle of its base.',
  settings: z.object({
    name: newBody('Name', { base: 'cone' }),
    radius: lengthMm('Radius').default(5),
    top: lengthMm('Radius at the top', { help: '0: it ends in a point' }).default(0),
    height: lengthMm('Height', { min: 1e-3 }).default(10),
    at: point('Middle of the base', { pick: 'face' }).default([0, 0, 0]),
    axis: direction('Axis').default([0, 0, 1]),
  }),
  async run({ settings: s, names }) {
    freeName(names, s.name)
    if (!(Math.max(s.radius, s.top) > 0))
      throw new StepError('no-size', 'Both radii of the cone are zero.', { tryThis: 'Give one of them a size.' })
    const body =
      Math.abs(s.radius - s.top) < 1e-9
        ? await makeCylinder(s.radius, s.height, s.at, normalize(s.axis), s.name)
        : await makeCone(s.radius, s.top, s.height, s.at, normalize(s.axis), s.name)
    return {
      bodies: { [s.name]: body },
      facts: { volume: body.facts.volume, faces: body.facts.faces },
      said: `Ø ${num(2 * s.radius)} to ${num(2 * s.top)} × ${num(s.height)} mm · ${volumeText(body.facts.volume)}`,
    }
  },
})
