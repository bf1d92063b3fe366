/** What a feature's body becomes: one of its own, or joined to, cut from or kept in common with another body of any kind. */
import type { Body } from '@/core/bodies/body'
import { StepError } from '@/core/base/step-error'
import { volumeText } from '@/core/base/say'
import { span, type Work } from '@/core/base/work'
import { joinBodies } from '@/core/join/boolean'
import type { CsgKind } from '@/core/join/csg'
import { bodyRef, choice, lengthMm, newBody, toggle } from '@/core/step/fields'
import { freeName, type Facts, type StepResult } from '@/core/step/step'

const results = ['new', 'join', 'cut', 'common'] as const
export type Result = (typeof results)[number]
const acted: string[] = ['join', 'cut', 'common']

/** The fields of every feature that makes a body. */
export const resultFields = (base: string) => ({
  result: choice('Result', results, {
    new: 'a new body',
    join: 'joined to a body',
    cut: 'cut from a body',
    common: 'kept in common',
  }).default('new'),
  with: bodyRef({ can: 'surface' }, 'Body', { when: { field: 'result', is: acted }, listed: true }).optional(),
  name: newBody('Name', { base, when: { field: 'result', is: ['new'] } }).default(base),
  chord: lengthMm('Chord tolerance', {
    min: 1e-4,
    max: 10,
    help: 'Where it meets a mesh; left empty: from the size',
    more: true,
    when: { field: 'result', is: acted },
  }).optional(),
  dropLoose: toggle('Leave out loose pieces', {
    help: 'that the cut parts from the body',
    when: { field: 'result', is: ['cut'] },
  }).default(false),
})

export interface ResultSettings {
  readonly result: Result
  readonly with?: string
  readonly name: string
  readonly chord?: number
  readonly dropLoose?: boolean
}

const how: Record<Exclude<Result, 'new'>, CsgKind> = { join: 'union', cut: 'difference', common: 'intersection' }
const said: Record<Exclude<Result, 'new'>, string> = {
  join: 'joined to',
  cut: 'cut from',
  common: 'kept in common with',
}

/** Guards the settings before anything is computed. */
export function requireResult(s: ResultSettings, names: ReadonlySet<string>): void {
  if (s.result === 'new') freeName(names, s.name)
  else if (s.with === undefined)
    throw new StepError('no-pick', `No body is chosen that this is to be ${said[s.result]}.`, {
      tryThis: 'Choose a body, or let it be a new one.',
    })
}

const volumeOf = (facts: Facts) => (typeof facts.volume === 'number' ? facts.volume : 0)

/** The body of a feature laid on the bench as its settings say; `facts` and `words` of the feature itself. */
export async function laid(
  made: Body,
  s: ResultSettings,
  body: (name: string) => Body,
  facts: Facts,
  words: string,
  work: Work,
): Promise<StepResult> {
  if (s.result === 'new') {
    const v = volumeOf(facts)
    return { bodies: { [s.name]: made }, facts, said: `${words}${v ? ` · ${volumeText(v)}` : ''}` }
  }
  const on = s.with!
  const done = await joinBodies(
    how[s.result],
    [
      { name: on, body: body(on) },
      { name: s.name, body: made },
    ],
    { chord: s.chord, dropLoose: s.dropLoose },
    span(work, 0.3, 0.7),
  )
  return {
    bodies: { [on]: done.body },
    facts: { ...facts, ...done.facts, ownVolume: volumeOf(facts) },
    warnings: done.warnings,
    said: `${words}, ${said[s.result]} ${on} · ${volumeText(volumeOf(done.facts as Facts))}`,
  }
}
