import { z } from 'zod'
import { angleDeg, choice, direction, newBody, point, size3 } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, freeName } from '@/core/step/step'
import { sizeText, volumeText } from '@/core/base/say'
import { makeBlock } from '@/core/kernels/exact/primitives'
import { applyPoint, rotation } from '@/core/math/affine'
import { addScaled, cross, frame, normalize, type Vec3 } from '@/core/math/vec'

/** Edges along x and y while the axis is z; else some edge square to the axis, turned as asked. */
function blockFrame(axis: Vec3, turn: number): [Vec3, Vec3, Vec3] {
  const n = normalize(axis)
  const x0: Vec3 = Math.abs(n[2]) > 1 - 1e-12 ? [1, 0, 0] : frame(n)[0]
  const x = applyPoint(rotation(n, turn), x0)
  return [x, cross(n, x), n]
}

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
    const [x, y, n] = blockFrame(s.axis, s.turn)
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
