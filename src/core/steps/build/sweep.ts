import { z } from 'zod'
import { isOutline } from '@/core/bodies/body'
import { StepError } from '@/core/base/step-error'
import { makeSweep } from '@/core/kernels/exact/loft'
import { normalize } from '@/core/math/vec'
import { profileOf } from '@/core/outline/profile'
import { bodyRef, choice, direction } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { requireNoCrossing } from './crossing'
import { laid, requireResult, resultFields } from './results'

export const sweep = defineStep({
  kind: 'build/sweep',
  version: 1,
  title: 'Sweep',
  order: 5,
  past: 'Swept',
  group: 'Outlines',
  facts: shown('volume', 'faces', 'triangles', 'chordToleranceMm'),
  summary: 'Carries an outline along the curves of another.',
  subject: (s) => `${String(s.outline ?? '')} along ${String(s.path ?? '')}`,
  settings: z.object({
    outline: bodyRef('outline', 'Section', { changes: false }),
    path: bodyRef('outline', 'Path', { changes: false }),
    keeps: choice('The section', ['follows', 'upright'], {
      follows: 'follows the path',
      upright: 'stays upright',
    }).default('follows'),
    up: direction('Upright along', { when: { field: 'keeps', is: ['upright'] } }).default([0, 0, 1]),
    corners: choice('Corners', ['sharp', 'round'], { sharp: 'sharp', round: 'round' }, { more: true }).default('sharp'),
    ...resultFields('sweep'),
  }),
  async run({ settings: s, names, body, work }) {
    requireResult(s, names)
    const profile = (name: string) => {
      const o = body(name)
      if (!isOutline(o)) throw new StepError('wrong-kind', `"${name}" is no outline.`)
      return profileOf(name, o, [])
    }
    const path = profile(s.path)
    // Where curves of the path meet between their ends they come divided.
    if (new Set(path.of).size < path.of.length)
      throw new StepError('crosses-itself', `The path "${s.path}" crosses itself, and so would the body.`, {
        where: { body: s.path },
        tryThis: 'Draw the path so that it does not meet itself.',
      })
    const made = await makeSweep({
      profile: profile(s.outline),
      path,
      round: s.corners === 'round',
      name: s.name,
      ...(s.keeps === 'upright' ? { upright: normalize(s.up) } : {}),
    })
    await requireNoCrossing(
      'The sweep',
      made,
      'Widen the path where it comes near itself, or take a smaller section.',
      work,
    )
    return laid(
      made,
      s,
      body,
      { volume: made.facts.volume, faces: made.facts.faces },
      `${s.outline} along ${s.path}`,
      work,
    )
  },
})
