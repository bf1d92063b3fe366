/** What the three boolean steps share. */
import type { Body } from '@/core/bodies/body'
import { joinBodies } from '@/core/join/boolean'
import type { CsgKind } from '@/core/join/csg'
import { volumeText } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import type { StepResult } from '@/core/step/step'
import type { Work } from '@/core/base/work'

/** Runs a boolean over named bodies; the result keeps the first name, the others are used up unless `keep`. */
export async function joined(
  kind: CsgKind,
  names: readonly string[],
  body: (name: string) => Body,
  s: { keep: boolean; chord?: number; dropLoose?: boolean },
  work: Work,
): Promise<StepResult> {
  if (new Set(names).size !== names.length)
    throw new StepError('same-body', 'The same body is picked twice.', { tryThis: 'Pick different bodies.' })
  const result = await joinBodies(
    kind,
    names.map((name) => ({ name, body: body(name) })),
    { chord: s.chord, dropLoose: s.dropLoose },
    work,
  )
  const bodies: Record<string, Body | null> = { [names[0]]: result.body }
  if (!s.keep) for (const name of names.slice(1)) bodies[name] = null
  const change = Number(result.facts.volume) - Number(result.facts.volumeBefore)
  return {
    bodies,
    facts: result.facts,
    warnings: result.warnings,
    said: `${volumeText(Number(result.facts.volume))} (${change < 0 ? '−' : '+'} ${volumeText(Math.abs(change))})${result.facts.exact ? ' · exact' : ''}`,
  }
}
