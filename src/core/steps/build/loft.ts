import { z } from 'zod'
import { isOutline } from '@/core/bodies/body'
import { plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { makeLoft } from '@/core/kernels/exact/loft'
import { profileOf } from '@/core/outline/profile'
import { bodyRefs, percent, point, toggle } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { requireNoCrossing } from './crossing'
import { laid, requireResult, resultFields } from './results'

export const loft = defineStep({
  kind: 'build/loft',
  version: 2,
  title: 'Loft',
  order: 4,
  past: 'Lofted',
  group: 'Outlines',
  facts: shown('volume', 'faces', 'triangles', 'chordToleranceMm'),
  summary: 'A body through two or more outlines, one after the other; straight between them or smooth.',
  subject: (s) => (Array.isArray(s.outlines) ? s.outlines.join(', ') : ''),
  settings: z.object({
    outlines: bodyRefs('outline', 'Sections in their order', { changes: false, least: 1 }),
    straight: toggle('Straight between sections').default(false),
    closed: toggle('Runs round to the first', { more: true }).default(false),
    tip: point('Ends in a point', { more: true }).optional(),
    startSquare: toggle('Leaves the first section square to it', { more: true }).default(false),
    startWeight: percent('How firmly', {
      min: 1,
      max: 500,
      more: true,
      when: { field: 'startSquare', is: [true] },
    }).default(100),
    endSquare: toggle('Meets the last section square to it', { more: true }).default(false),
    endWeight: percent('How firmly there', {
      min: 1,
      max: 500,
      more: true,
      when: { field: 'endSquare', is: [true] },
    }).default(100),
    ...resultFields('loft'),
  }),
  async run({ settings: s, names, body, work }) {
    requireResult(s, names)
    if (s.outlines.length + (s.tip ? 1 : 0) < 2)
      throw new StepError('one-section', 'A loft needs two sections, or one and a point.', {
        tryThis: 'Choose a second outline.',
      })
    const sections = s.outlines.map((name) => {
      const o = body(name)
      if (!isOutline(o)) throw new StepError('wrong-kind', `"${name}" is no outline.`)
      return { name, profile: profileOf(name, o, []) }
    })
    if ((s.startSquare || s.endSquare) && (s.straight || s.closed || s.outlines.length < 2))
      throw new StepError(
        'not-smooth',
        'Only a smooth loft between two sections or more can be held square at its ends.',
        {
          tryThis: 'Take "straight" and "runs round" off, or leave the ends as they like.',
        },
      )
    const made = await makeLoft({
      ...(s.startSquare ? { startSquare: s.startWeight / 100 } : {}),
      ...(s.endSquare ? { endSquare: s.endWeight / 100 } : {}),
      sections,
      straight: s.straight,
      closed: s.closed,
      name: s.name,
      ...(s.tip ? { tip: s.tip } : {}),
    })
    await requireNoCrossing(
      'The loft',
      made,
      'Move its sections apart, turn them less, or put them in the order in which they follow.',
      work,
    )
    return laid(
      made,
      s,
      body,
      { volume: made.facts.volume, faces: made.facts.faces },
      `through ${plural(sections.length, 'section')}`,
      work,
    )
  },
})
