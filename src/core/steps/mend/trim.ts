import { z } from 'zod'
import { bodyRef, choice, direction, newBody, point, toggle, viewLine } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep } from '@/core/step/step'
import { trimByPlane, trimByView } from '@/core/split/trim'
import { StepError } from '@/core/base/step-error'
import { halved } from './halved'

export const trim = defineStep({
  kind: 'mend/trim',
  version: 1,
  title: 'Trim',
  order: 240,
  past: 'Trimmed',
  group: 'Cut',
  facts: shown('cutLength', 'capArea'),
  namesItself: true,
  summary: 'Cuts a mesh by a plane, or by a line or outline drawn in the view; keeps one side or both.',
  settings: z.object({
    body: bodyRef('mesh'),
    by: choice('Cut by', ['plane', 'line', 'outline'], { plane: 'plane', line: 'line', outline: 'outline' }).default(
      'plane',
    ),
    at: point('Plane through', { pick: 'face', when: { field: 'by', is: ['plane'] } }).default([0, 0, 0]),
    axis: direction('Side A is towards', { when: { field: 'by', is: ['plane'] } }).default([0, 0, 1]),
    line: viewLine('Drawn line', {
      when: { field: 'by', is: ['line', 'outline'] },
      closed: { field: 'by', is: 'outline' },
    }).optional(),
    keep: choice('Keep', ['a', 'b', 'both'], { a: 'side A', b: 'side B', both: 'both' }).default('a'),
    cap: toggle('Cover the cut').default(true),
    other: newBody('Name of side B', { when: { field: 'keep', is: ['both'] } }).optional(),
  }),
  async run({ settings: s, mesh, names, work }) {
    const m = mesh(s.body).mesh
    if (s.by !== 'plane' && !s.line)
      throw new StepError('no-line', 'No line is drawn.', {
        tryThis: s.by === 'line' ? 'Draw a line across the body in the view.' : 'Draw round the part in the view.',
      })
    const halves =
      s.by === 'plane'
        ? trimByPlane(m, s.at, s.axis, s.cap)
        : await trimByView(s.body, m, s.line!, s.by === 'outline', s.cap, work)
    return halved(s.body, s.other, names, halves, s.keep)
  },
})
