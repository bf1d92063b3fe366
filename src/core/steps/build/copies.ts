import { z } from 'zod'
import { many, plural, volumeText } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { checkStop, span } from '@/core/base/work'
import type { Body } from '@/core/bodies/body'
import { joinBodies } from '@/core/join/boolean'
import { moveBody } from '@/core/kinds/registry'
import { about, rotation, translation, type Affine } from '@/core/math/affine'
import { normalize, type Vec3 } from '@/core/math/vec'
import { angleDeg, bodyRef, choice, count, direction, lengthMm, point } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, namer } from '@/core/step/step'

/** More bodies than this are no work for one step. */
const mostCopies = 2000

/** Where each copy goes; the first is what is there. */
function places(s: {
  how: 'rows' | 'circle'
  count: number
  gap: number
  along: Vec3
  rows: number
  rowGap: number
  across: Vec3
  at: Vec3
  axis: Vec3
  angle: number
}): Affine[] {
  if (s.how === 'circle') {
    // All round: even shares of a turn; else from the first to the last.
    const whole = Math.abs(s.angle) >= 360 - 1e-9
    const step = s.angle / (whole ? s.count : Math.max(1, s.count - 1))
    return Array.from({ length: s.count - 1 }, (_, i) => about(s.at, rotation(normalize(s.axis), (i + 1) * step)))
  }
  const [u, v] = [normalize(s.along), normalize(s.across)]
  return Array.from({ length: s.count * s.rows - 1 }, (_, k) => {
    const i = (k + 1) % s.count,
      j = Math.floor((k + 1) / s.count)
    return translation([0, 1, 2].map((c) => i * s.gap * u[c] + j * s.rowGap * v[c]) as unknown as Vec3)
  })
}

export const copies = defineStep({
  kind: 'build/copies',
  version: 1,
  title: 'Copies',
  order: 82,
  past: 'Copied',
  group: 'Copies',
  namesItself: true,
  facts: shown({ key: 'copies', label: 'In all', as: 'count' }, 'volume', 'faces', 'triangles'),
  summary:
    'Copies of a body in rows or in a circle, each by itself, joined to one, or all cut from or joined to another body.',
  subject: (s) => String(s.body ?? ''),
  settings: z.object({
    body: bodyRef('any', 'Body'),
    how: choice('Laid', ['rows', 'circle'], { rows: 'in rows', circle: 'in a circle' }).default('rows'),
    count: count('How many in all', { min: 1, max: 500 }).default(3),
    gap: lengthMm('From one to the next', { min: -1e5, when: { field: 'how', is: ['rows'] } }).default(10),
    along: direction('Along', { when: { field: 'how', is: ['rows'] } }).default([1, 0, 0]),
    rows: count('Rows', { min: 1, max: 500, when: { field: 'how', is: ['rows'] } }).default(1),
    rowGap: lengthMm('From row to row', { min: -1e5, when: { field: 'how', is: ['rows'] } }).default(10),
    across: direction('Rows along', { when: { field: 'how', is: ['rows'] } }).default([0, 1, 0]),
    at: point('Axis through', { when: { field: 'how', is: ['circle'] } }).default([0, 0, 0]),
    axis: direction('Axis along', { when: { field: 'how', is: ['circle'] } }).default([0, 0, 1]),
    angle: angleDeg('Over', { when: { field: 'how', is: ['circle'] } }).default(360),
    result: choice('Result', ['apart', 'one', 'join', 'cut'], {
      apart: 'bodies of their own',
      one: 'joined to one',
      join: 'all joined to a body',
      cut: 'all cut from a body',
    }).default('apart'),
    with: bodyRef({ can: 'surface' }, 'Body to act on', {
      listed: true,
      when: { field: 'result', is: ['join', 'cut'] },
    }).optional(),
  }),
  async run({ settings: s, body, names, work }) {
    const all = s.how === 'rows' ? s.count * s.rows : s.count
    if (all > mostCopies)
      throw new StepError(
        'too-many',
        `${many(all)} copies are more than the ${many(mostCopies)} that one step makes.`,
        {
          tryThis: 'Make fewer rows, or join some to one body and copy that.',
        },
      )
    const own = body(s.body)
    const made: Body[] = [own]
    const maps = places(s)
    for (const [i, map] of maps.entries()) {
      checkStop(work)
      work.progress((0.5 * i) / maps.length, 'copying')
      made.push(await moveBody(own, map))
    }
    if (s.result === 'apart') {
      const free = namer(names)
      return {
        bodies: Object.fromEntries(made.slice(1).map((b) => [free(s.body), b])),
        facts: { copies: made.length },
        said: plural(made.length, 'body', 'bodies') + ' in all',
      }
    }
    const on = s.result === 'one' ? s.body : s.with
    if (on === undefined) throw new StepError('no-pick', 'No body is chosen to act on.', { tryThis: 'Choose one.' })
    const operands = made.map((b, i) => ({ name: i ? `${s.body} ${i + 1}` : s.body, body: b }))
    const done = await joinBodies(
      s.result === 'cut' ? 'difference' : 'union',
      s.result === 'one' ? operands : [{ name: on, body: body(on) }, ...operands],
      {},
      span(work, 0.5, 0.5),
    )
    return {
      bodies: { [on]: done.body, ...(s.result === 'one' ? {} : { [s.body]: null }) },
      facts: { copies: made.length, ...done.facts },
      warnings: done.warnings,
      said: `${made.length} in all · ${volumeText(Number(done.facts.volume))}`,
    }
  },
})
