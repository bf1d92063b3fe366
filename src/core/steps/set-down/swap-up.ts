import { z } from 'zod'
import { bodyRef, choice } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { rotation, type Affine } from '@/core/math/affine'
import { placed } from './placing'

const maps: Record<'y' | '-y' | 'x' | '-x' | '-z', Affine> = {
  y: rotation([1, 0, 0], 90),
  '-y': rotation([1, 0, 0], -90),
  x: rotation([0, 1, 0], -90),
  '-x': rotation([0, 1, 0], 90),
  '-z': rotation([1, 0, 0], 180),
}

export const swapUp = defineStep({
  kind: 'set-down/swap-up',
  version: 1,
  title: 'Swap up axis',
  order: 110,
  past: 'Swapped up axis of',
  group: 'Place',
  live: true,
  facts: shown('size'),
  summary: 'Takes another axis of the file as up: quarter turns about the origin.',
  settings: z.object({
    body: bodyRef('any'),
    up: choice('Up in the file', ['y', '-y', 'x', '-x', '-z'], {
      y: '+ y',
      '-y': '− y',
      x: '+ x',
      '-x': '− x',
      '-z': '− z',
    }).default('y'),
  }),
  run({ settings: s, body }) {
    return placed(s.body, body(s.body), maps[s.up], `${s.up} of the file is up now`)
  },
})
