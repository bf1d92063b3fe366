/** Settings a tool starts with: what follows from the bodies on the bench and the one that is picked. */
import type { JobState } from '@/core/recipe/job-state'
import { fieldsOf, fits } from '@/core/step/fields'
import { stepOf } from '@/core/steps/registry'
import type { BenchBody } from '@/bench/state/job'

/** A body name that is free: "pin", "pin 2", ... */
export function freeBodyName(wanted: string, bodies: readonly Pick<BenchBody, 'name'>[]): string {
  const base = wanted || 'body'
  let name = base
  for (let i = 2; bodies.some((b) => b.name === name); i++) name = `${base} ${i}`
  return name
}

/** All bodies that make up a part: those with a skin; but where one without is picked, that one alone. */
function together(some: readonly BenchBody[], own: BenchBody | undefined): readonly BenchBody[] {
  const skins = some.filter((b) => b.facts?.can.includes('surface'))
  if (own && !skins.includes(own)) return [own]
  return skins.length ? skins : some
}

export function startValues(
  kind: string,
  bodies: readonly BenchBody[],
  selected: string | null,
  job: Pick<JobState, 'title'> | undefined,
): Record<string, unknown> {
  const step = stepOf(kind)
  const values: Record<string, unknown> = {}
  if (!step) return values
  for (const { key, info } of fieldsOf(step.settings)) {
    const some = bodies.filter((b) => b.facts && fits(info, b.facts.kind))
    const own = some.find((b) => b.name === selected)
    if (info.field === 'body' && !info.byClick) {
      // One from the list that is not asked for yet may stand ready; one that is asked for is chosen by the maker.
      const only = some.length === 1 && !!info.when === !!info.listed ? some[0] : undefined
      const start = own ?? only
      if (start) values[key] = start.name
    } else if (info.field === 'bodies' && info.all) values[key] = together(some, own).map((b) => b.name)
    else if (info.field === 'bodies' && key === 'bodies' && (own || some.length === 1))
      values[key] = [(own ?? some[0]).name]
    else if (info.field === 'new-body' && (info.base || !info.when))
      values[key] = freeBodyName(info.base ?? 'body', bodies)
    else if (info.field === 'out-file') {
      const plain = (job?.title ?? 'part').toLowerCase().replace(/[^a-z0-9]+/g, '-')
      const drawn = bodies.find((b) => b.name === selected)?.facts?.kind === 'outline'
      values[key] = `${plain.replace(/^-|-$/g, '') || 'part'}.${drawn ? 'dxf' : '3mf'}`
    }
  }
  return values
}
