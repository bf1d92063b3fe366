/** The setting of a step whose face, edge, place or body is not there any more, so that it can be asked for again. */
import type { ErrorReport } from '@/core/base/step-error'
import type { RecipeStep } from '@/core/recipe/recipe'
import { fieldsOf } from '@/core/step/fields'
import { isTaken } from '@/core/find/taken'
import { stepOf } from '@/core/steps/registry'

export interface Lost {
  readonly key: string
  /** The settings without what is lost; all else is kept. */
  readonly values: Record<string, unknown>
}

const codes = ['lost-part', 'no-body', 'no-part', 'no-place', 'no-axis', 'no-hole', 'no-pick']

/** Null where the failure is not one that a pick would mend. */
export function lostOf(step: Pick<RecipeStep, 'kind' | 'set'>, error: ErrorReport | undefined): Lost | null {
  const definition = stepOf(step.kind)
  if (!definition || !error || !codes.includes(error.code)) return null
  const fields = fieldsOf(definition.settings)
  const without = (key: string, value: unknown): Lost => {
    const values = { ...step.set }
    if (value === undefined) delete values[key]
    else values[key] = value
    return { key, values }
  }
  if (error.code === 'no-body') {
    const name = error.where?.body
    for (const { key, info } of fields) {
      const v = step.set[key]
      if (info.field === 'body' && v === name) return without(key, undefined)
      if (info.field === 'bodies' && Array.isArray(v) && v.includes(name))
        return without(
          key,
          v.filter((n) => n !== name),
        )
      if (isTaken(v) && v.from === name) return without(key, undefined)
    }
    return null
  }
  const place = error.where?.point
  const here = (v: unknown): boolean => {
    const at = (v as { at?: unknown } | null)?.at ?? v
    return !!place && Array.isArray(at) && at.length === 3 && at.every((x, k) => Math.abs(Number(x) - place[k]) < 1e-6)
  }
  for (const { key } of fields) {
    const v = step.set[key]
    if (Array.isArray(v) && v.length && !here(v) && v.some(here)) {
      const rest = v.filter((x) => !here(x))
      return without(key, rest.length ? rest : undefined)
    }
    if (v && typeof v === 'object' && !Array.isArray(v) && here(v)) return without(key, undefined)
  }
  // What is asked for but was never there: the first pick that the step waits for.
  const first = fields.find(
    (f) => ['face', 'edge', 'faces', 'edges', 'touch', 'region'].includes(f.info.field) && !f.optional,
  )
  return error.code !== 'lost-part' && first ? { key: first.key, values: { ...step.set } } : null
}
