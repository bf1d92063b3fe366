import { z } from 'zod'
import { isOutline } from '@/core/bodies/body'
import { num, plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { kindOf } from '@/core/kinds/registry'
import { makeRevolution } from '@/core/kernels/exact/revolve'
import { normalize, type Vec3 } from '@/core/math/vec'
import { profileOf } from '@/core/outline/profile'
import { angleDeg, bodyRef, direction, point, points } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { laid, requireResult, resultFields } from './results'

export const revolve = defineStep({
  kind: 'build/revolve',
  version: 1,
  title: 'Revolve',
  order: 3,
  past: 'Revolved',
  group: 'Outlines',
  live: true,
  facts: shown('volume', 'faces', 'triangles', 'chordToleranceMm'),
  summary: 'Turns the areas of an outline about an axis in its plane; open curves give a sheet.',
  subject: (s) => String(s.outline ?? ''),
  settings: z.object({
    outline: bodyRef('outline', 'Outline', { changes: false }),
    areas: points('Areas', { pick: 'area', on: 'outline', help: 'none picked: all that are no holes' }).optional(),
    at: point('Axis through').default([0, 0, 0]),
    axis: direction('Axis along', { help: 'a line of the outline, a datum, an edge, or numbers' }).default([0, 0, 1]),
    angle: angleDeg('Angle', { min: 0.01, max: 360 }).default(360),
    back: angleDeg('Back by', { min: 0, max: 360, help: 'to the other side of the outline' }).default(0),
    ...resultFields('turning'),
  }),
  async run({ settings: s, names, body, work }) {
    requireResult(s, names)
    const outline = body(s.outline)
    if (!isOutline(outline)) throw new StepError('wrong-kind', `"${s.outline}" is no outline.`)
    const p = profileOf(s.outline, outline, (s.areas ?? []) as Vec3[])
    const angle = Math.min(360, s.angle + s.back)
    const made = await makeRevolution(p, { at: s.at, axis: normalize(s.axis), angle, back: s.back, name: s.name })
    return laid(
      made,
      s,
      body,
      { volume: made.facts.volume, faces: made.facts.faces, at: [...s.at], axis: [...normalize(s.axis)] },
      `${kindOf(made).title} of ${plural(p.areas.length || p.runs.length, p.areas.length ? 'area' : 'open run')}, ${num(angle)}°`,
      work,
    )
  },
})
