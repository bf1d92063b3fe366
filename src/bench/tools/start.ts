/** Settings a tool starts with: what follows from the bodies on the bench and the one that is picked. */
import type { JobState } from '@/core/recipe/job-state'
import { fieldsOf, fits, type FieldEntry } from '@/core/step/fields'
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

/** A file's name after the job's, with the ending that suits what is picked. */
function fileName(title: string | undefined, picked: BenchBody | undefined): string {
  const plain = (title ?? 'part').toLowerCase().replace(/[^a-z0-9]+/g, '-')
  return `${plain.replace(/^-|-$/g, '') || 'part'}.${picked?.facts?.kind === 'outline' ? 'dxf' : '3mf'}`
}

/** What a field starts with; undefined: it is left to the maker. */
function startOf(
  { key, info }: FieldEntry,
  bodies: readonly BenchBody[],
  selected: string | null,
  title: string | undefined,
  hidden: ReadonlySet<string>,
): unknown {
  const some = bodies.filter((b) => b.facts && fits(info, b.facts.kind))
  const own = some.find((b) => b.name === selected)
  switch (info.field) {
    case 'body': {
      if (info.byClick) return undefined
      // One from the list that is not asked for yet may stand ready; one that is asked for is chosen by the maker.
      const only = some.length === 1 && !!info.when === !!info.listed ? some[0] : undefined
      return (own ?? only)?.name
    }
    case 'bodies':
      // What is not seen is not meant, unless it is ticked.
      if (info.all)
        return together(
          some.filter((b) => !hidden.has(b.name) || b === own),
          own,
        ).map((b) => b.name)
      return key === 'bodies' && (own || some.length === 1) ? [(own ?? some[0]).name] : undefined
    case 'new-body':
      return info.base || !info.when ? freeBodyName(info.base ?? 'body', bodies) : undefined
    case 'out-file':
      return fileName(
        title,
        bodies.find((b) => b.name === selected),
      )
    default:
      return undefined
  }
}

export function startValues(
  kind: string,
  bodies: readonly BenchBody[],
  selected: string | null,
  job: Pick<JobState, 'title'> | undefined,
  hidden: ReadonlySet<string> = new Set(),
): Record<string, unknown> {
  const step = stepOf(kind)
  if (!step) return {}
  const started = fieldsOf(step.settings).map((f) => [f.key, startOf(f, bodies, selected, job?.title, hidden)] as const)
  return Object.fromEntries(started.filter(([, v]) => v !== undefined))
}
