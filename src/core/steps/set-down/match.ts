import { z } from 'zod'
import { shownSkin } from '@/core/kinds/registry'
import { bodyRef, choice, percent, points } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, type Facts } from '@/core/step/step'
import { num } from '@/core/base/say'
import { transformMesh } from '@/core/mesh/tri-mesh'
import { matchToBody } from '@/core/place/register'
import { deviation } from '@/core/gauge/deviation'
import { span } from '@/core/base/work'
import { StepError } from '@/core/base/step-error'
import { placed } from './placing'

export const match = defineStep({
  kind: 'set-down/match',
  version: 1,
  title: 'Match to body',
  order: 80,
  past: 'Matched',
  group: 'By touch',
  slow: true,
  facts: shown('size', 'rmsBefore', 'rms', 'max', 'p95'),
  summary: 'Turns and moves one body so that its skin lies best on the skin of another.',
  settings: z.object({
    body: bodyRef({ can: 'surface' }, 'Body to move'),
    to: bodyRef({ can: 'surface' }, 'Body it is laid on', { changes: false }),
    start: choice('Start from', ['axes', 'as-is', 'pairs'], {
      axes: 'its axes',
      'as-is': 'where it is',
      pairs: 'three pairs',
    }).default('axes'),
    from: points('Places on it', { pick: 'point', on: 'body', when: { field: 'start', is: ['pairs'] } }).default([]),
    onto: points('The same places on the other', {
      pick: 'point',
      on: 'to',
      when: { field: 'start', is: ['pairs'] },
    }).default([]),
    trust: percent('Trust', { min: 30, help: 'share of the skin that has a partner', more: true }).default(90),
  }),
  async run({ settings: s, body, work }) {
    if (s.body === s.to)
      throw new StepError('same-body', 'A body cannot be matched to itself.', { tryThis: 'Pick two bodies.' })
    if (s.start === 'pairs' && s.from.length !== s.onto.length)
      throw new StepError(
        'few-pairs',
        `${s.from.length} places are picked on one body and ${s.onto.length} on the other.`,
        { tryThis: 'Pick as many on each, in the same order.' },
      )
    const moving = shownSkin(body(s.body)),
      still = shownSkin(body(s.to))
    const m = matchToBody(
      moving,
      still,
      { start: s.start, pairs: s.from.map((p, i) => ({ from: p, to: s.onto[i] })), trust: s.trust / 100 },
      span(work, 0, 0.8),
    )
    const d = deviation(transformMesh(moving, m.map), still, { samples: 20_000 }, span(work, 0.8, 1))
    return placed(s.body, body(s.body), m.map, `rms ${num(m.rmsBefore, 3)} → ${num(m.rms, 3)} mm on ${s.to}`, {
      rmsBefore: Number(m.rmsBefore.toFixed(6)),
      rms: Number(m.rms.toFixed(6)),
      iterations: m.iterations,
      deviation: d.there as unknown as Facts,
      histogram: d.histogram as unknown as Facts,
      against: s.to,
    })
  },
})
