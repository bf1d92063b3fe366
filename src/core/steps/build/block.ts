import { z } from 'zod'
import { angleDeg, choice, direction, newBody, point, size3 } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'
import { sizeText, volumeText } from '@/core/base/say'
import { makeBlock } from '@/core/kernels/exact/primitives'
import { standing } from '@/core/math/affine'
import { addScaled, type Vec3 } from '@/core/math/vec'

export const block = defineStep({
  kind: 'build/block',
  version: 1,
  title: 'Block',
  order: 10,
  past: 'Block',
  group: 'Shapes',
  live: true,
  facts: shown('volume', 'faces'),
  summary: 'An exact block, placed by numbers or on a clicked face.',
  settings: z.object({
    name: newBody('Name', { base: 'block' }),
    size: size3('Size').default([20, 20, 10]),
    at: point('At', { pick: 'face' }).default([0, 0, 0]),
    from: choice('Which is its', ['base', 'centre', 'corner'], {
      base: 'middle of the base',
      centre: 'centre',
      corner: 'lowest corner',
    }).default('base'),
    axis: direction('Up', { more: true }).default([0, 0, 1]),
    turn: angleDeg('Turned', { more: true }).default(0),
  }),
  async run({ settings: s, names }) {
    freeName(names, s.name)
    const [x, y, n] = standing(s.axis, s.turn)
    let corner: Vec3 = s.at
    if (s.from !== 'corner') corner = addScaled(addScaled(corner, x, -s.size[0] / 2), y, -s.size[1] / 2)
    if (s.from === 'centre') corner = addScaled(corner, n, -s.size[2] / 2)
    const body = await makeBlock(s.size, corner, n, x, s.name)
    return {
      bodies: { [s.name]: body },
      facts: { volume: body.facts.volume, faces: body.facts.faces },
      said: `${sizeText(s.size)} · ${volumeText(body.facts.volume)}`,
    }
  },
})
