/** What is said of a step on its card and in Find. */
import type { RecipeStep } from '@/core/recipe/recipe'
import { fieldsOf } from '@/core/step/fields'
import { stepOf } from '@/core/steps/registry'

/** The thing a step is about, in bold: what its definition says, else its file, its new body, or its bodies. */
export function subjectOf(step: Pick<RecipeStep, 'kind' | 'set'>): string {
  const definition = stepOf(step.kind)
  if (!definition) return ''
  if (definition.subject) return definition.subject(step.set)
  const texts = (...sorts: string[]) =>
    fieldsOf(definition.settings)
      .filter((f) => sorts.includes(f.info.field))
      .flatMap((f) => (step.set[f.key] as string | string[] | undefined) ?? [])
  return (
    texts('file', 'out-file')[0] ?? (texts('bodies').join(' + ') || (texts('new-body')[0] ?? texts('body')[0] ?? ''))
  )
}

/** What a card says was done: "Closed holes in". */
export const pastOf = (kind: string): string => stepOf(kind)?.past ?? kind

/** A time as cards show it. */
export const timeText = (ms: number) =>
  ms < 50 ? '0.0 s' : ms < 10_000 ? `${(ms / 1000).toFixed(1)} s` : `${Math.round(ms / 1000)} s`
