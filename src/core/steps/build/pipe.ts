import { z } from 'zod'
import { isOutline } from '@/core/bodies/body'
import { num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { makeSweep, pathStart } from '@/core/kernels/exact/loft'
import { drawingPlane, type Drawing } from '@/core/outline/drawing'
import { profileOf } from '@/core/outline/profile'
import { bodyRef, choice, lengthMm } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { laid, requireResult, resultFields } from './results'

export const pipe = defineStep({
  kind: 'build/pipe',
  version: 1,
  title: 'Pipe',
  order: 28,
  past: 'Pipe along',
  group: 'Shapes',
  facts: shown('volume', 'faces', 'triangles', 'chordToleranceMm'),
  summary: 'A round bar or tube along the curves of an outline.',
  subject: (s) => String(s.path ?? ''),
  settings: z.object({
    path: bodyRef('outline', 'Path', { changes: false }),
    radius: lengthMm('Outer radius', { min: 1e-3 }).default(3),
    inner: lengthMm('Inner radius', { help: '0: a solid bar' }).default(0),
    corners: choice('Corners', ['round', 'sharp'], { round: 'round', sharp: 'sharp' }).default('round'),
    ...resultFields('pipe'),
  }),
  async run({ settings: s, names, body, work }) {
    requireResult(s, names)
    if (s.inner >= s.radius)
      throw new StepError(
        'no-wall',
        `An inner radius of ${num(s.inner)} mm leaves no wall in a pipe of ${num(s.radius)} mm.`,
        {
          tryThis: 'Make it smaller than the outer one.',
          offer: { set: 'inner', to: Math.floor(s.radius * 800) / 1000 },
        },
      )
    const o = body(s.path)
    if (!isOutline(o)) throw new StepError('wrong-kind', `"${s.path}" is no outline.`)
    const path = profileOf(s.path, o, [])
    const { at, way } = pathStart(path)
    const drawing: Drawing = {
      points: [[0, 0]],
      curves: [s.radius, ...(s.inner > 0 ? [s.inner] : [])].map((radius) => ({ kind: 'circle', centre: 0, radius })),
    }
    const section = profileOf('section', { plane: drawingPlane(at, way), drawing, reference: [] }, [])
    const made = await makeSweep({ profile: section, path, round: s.corners === 'round', name: s.name })
    return laid(
      made,
      s,
      body,
      { volume: made.facts.volume, faces: made.facts.faces },
      `Ø ${num(2 * s.radius)}${s.inner > 0 ? ` × ${num(s.radius - s.inner)}` : ''} mm along ${s.path}`,
      work,
    )
  },
})
