import { z } from 'zod'
import { bodyRef, choice, factor, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { mm, num } from '@/core/base/say'
import { about, scaling } from '@/core/math/affine'
import { boundsCentre } from '@/core/mesh/tri-mesh'
import { boundsOf, sizeOf } from '@/core/kinds/registry'
import { StepError } from '@/core/base/step-error'
import { placed } from './placing'

export const unitAndSize = defineStep({
  kind: 'set-down/size',
  version: 1,
  title: 'Unit & size',
  order: 10,
  past: 'Scaled',
  group: 'Place',
  live: true,
  facts: shown('size', 'factor'),
  summary: 'Scales a body by a factor, to a size, or between mm and inch.',
  settings: z.object({
    body: bodyRef('any'),
    how: choice('Change', ['factor', 'size', 'inch-to-mm', 'mm-to-inch'], {
      factor: 'by a factor',
      size: 'to a size',
      'inch-to-mm': 'was inch, read as mm',
      'mm-to-inch': 'was mm, read as inch',
    }).default('factor'),
    factor: factor('Factor', { when: { field: 'how', is: ['factor'] } }).default(1),
    along: choice(
      'Measured along',
      ['x', 'y', 'z', 'longest'],
      { x: 'x', y: 'y', z: 'z', longest: 'longest side' },
      { when: { field: 'how', is: ['size'] } },
    ).default('longest'),
    size: lengthMm('Size', { min: 1e-4, when: { field: 'how', is: ['size'] } }).default(100),
    about: choice(
      'Kept in place',
      ['origin', 'centre'],
      { origin: 'the origin', centre: "the body's centre" },
      { more: true },
    ).default('origin'),
  }),
  async run({ settings: s, body }) {
    const b = body(s.body)
    const now = sizeOf(b)
    let k = s.factor
    if (s.how === 'inch-to-mm') k = 25.4
    else if (s.how === 'mm-to-inch') k = 1 / 25.4
    else if (s.how === 'size') {
      const side = s.along === 'longest' ? Math.max(...now) : now[{ x: 0, y: 1, z: 2 }[s.along]]
      if (!(side > 0))
        throw new StepError('flat', `"${s.body}" has no extent along ${s.along}.`, {
          tryThis: 'Measure along another side.',
        })
      k = s.size / side
    }
    const centre = s.about === 'centre' ? boundsCentre(boundsOf(b)) : ([0, 0, 0] as const)
    return placed(
      s.body,
      b,
      about(centre, scaling(k)),
      s.how === 'size' ? `scaled to ${mm(s.size)} (× ${num(k, 5)})` : `scaled × ${num(k, 5)}`,
      { factor: k },
    )
  },
})
