import { z } from 'zod'
import { many, plural, volumeText } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { checkStop, span, type Work } from '@/core/base/work'
import type { Body, ExactBody } from '@/core/bodies/body'
import { combineSolids } from '@/core/kernels/exact/boolean'
import { deleteFaces } from '@/core/kernels/exact/faces'
import { joinBodies } from '@/core/join/boolean'
import { moveBody } from '@/core/kinds/registry'
import { about, rotation, translation, type Affine } from '@/core/math/affine'
import { normalize, type Vec3 } from '@/core/math/vec'
import { angleDeg, bodyRef, choice, count, direction, faceRefs, lengthMm, point } from '@/core/step/fields'
import { shown } from '@/core/step/facts'
import { defineStep, namer, type StepResult } from '@/core/step/step'
import { changed, featureBody } from './features'

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

/** One body without another, or null where nothing is left. */
async function without(a: ExactBody, b: ExactBody): Promise<ExactBody | null> {
  try {
    const rest = await combineSolids('difference', [a, b])
    return rest.facts.volume > 1e-9 * a.facts.volume ? rest : null
  } catch (error) {
    if (error instanceof StepError && error.code === 'empty-result') return null
    throw error
  }
}

/** A hole, pocket or boss told by its faces, made again at other places: what it took from the body, or added, is cut or joined there. */
async function copiedFeature(
  name: string,
  body: Body,
  faces: Parameters<Awaited<ReturnType<typeof featureBody>>['faces']>[0],
  maps: readonly Affine[],
  work: Work,
): Promise<StepResult> {
  const on = await featureBody(name, body, span(work, 0, 0.2))
  const healed = await deleteFaces(on.exact, on.faces(faces))
  const [taken, added] = [await without(healed, on.exact), await without(on.exact, healed)]
  let now = on.exact
  for (const [kind, tool] of [
    ['difference', taken],
    ['union', added],
  ] as const) {
    if (!tool) continue
    const tools: ExactBody[] = []
    for (const map of maps) {
      checkStop(work)
      tools.push((await moveBody(tool, map)) as ExactBody)
    }
    if (tools.length) now = await combineSolids(kind, [now, ...tools], span(work, 0.4, 0.6))
  }
  // Each copy changes the body as the first did, unless some lie beside it or over each other.
  const each = (added?.facts.volume ?? 0) - (taken?.facts.volume ?? 0)
  const off = Math.abs(now.facts.volume - on.exact.facts.volume - maps.length * each)
  const made = changed(name, on, now, `${maps.length + 1} in all`, { copies: maps.length + 1 })
  return off > 1e-6 * Math.abs(each)
    ? {
        ...made,
        warnings: [
          ...(made.warnings ?? []),
          'Not every copy lies in the body with all of itself: some reach over its borders or into each other.',
        ],
      }
    : made
}

export const copies = defineStep({
  kind: 'build/copies',
  version: 2,
  title: 'Copies',
  order: 82,
  past: 'Copied',
  group: 'Copies',
  namesItself: true,
  facts: shown({ key: 'copies', label: 'In all', as: 'count' }, 'volume', 'faces', 'triangles'),
  summary:
    'Copies of a body, or of a hole, pocket or boss of it, in rows or in a circle: each by itself, joined to one, or all cut from or joined to another body.',
  subject: (s) => String(s.body ?? ''),
  settings: z.object({
    body: bodyRef('any', 'Body'),
    what: choice('Copied', ['body', 'feature'], {
      body: 'the body',
      feature: 'a hole, pocket or boss of it',
    }).default('body'),
    faces: faceRefs('All faces of the feature', { when: { field: 'what', is: ['feature'] } }).optional(),
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
    result: choice(
      'Result',
      ['apart', 'one', 'join', 'cut'],
      {
        apart: 'bodies of their own',
        one: 'joined to one',
        join: 'all joined to a body',
        cut: 'all cut from a body',
      },
      { when: { field: 'what', is: ['body'] } },
    ).default('apart'),
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
    if (s.what === 'feature') return copiedFeature(s.body, body(s.body), s.faces ?? [], places(s), work)
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
