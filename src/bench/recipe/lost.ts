/** The setting of a step whose face, edge, place or body is not there any more, so that it can be asked for again. */
import type { ErrorReport } from '@/core/base/step-error'
import type { RecipeStep } from '@/core/recipe/recipe'
import { fieldsOf, type FieldEntry } from '@/core/step/fields'
import { isTaken } from '@/core/find/taken'
import { stepOf } from '@/core/steps/registry'

export interface Lost {
  readonly key: string
  /** The settings without what is lost; all else is kept. */
  readonly values: Record<string, unknown>
}

const codes = ['lost-part', 'no-body', 'no-part', 'no-place', 'no-axis', 'no-hole', 'no-pick']

type Step = Pick<RecipeStep, 'kind' | 'set'>

/** The settings without a value, or with what is left of it. */
function without(step: Step, key: string, value?: unknown): Lost {
  const values = { ...step.set }
  if (value === undefined) delete values[key]
  else values[key] = value
  return { key, values }
}

/** The field that names a body, or a part of one, that is not there. */
function ofBody(step: Step, fields: readonly FieldEntry[], name: unknown): Lost | null {
  for (const { key, info } of fields) {
    const v = step.set[key]
    if (info.field === 'body' && v === name) return without(step, key)
    if (info.field === 'bodies' && Array.isArray(v) && v.includes(name)) {
      const rest = v.filter((n) => n !== name)
      return without(step, key, rest)
    }
    if (isTaken(v) && v.from === name) return without(step, key)
  }
  return null
}

/** The field that tells a place at which nothing is found any more. */
function ofPlace(step: Step, fields: readonly FieldEntry[], place: readonly number[] | undefined): Lost | null {
  if (!place) return null
  const here = (v: unknown): boolean => {
    const at = (v as { at?: unknown } | null)?.at ?? v
    return Array.isArray(at) && at.length === 3 && at.every((x, k) => Math.abs(Number(x) - place[k]) < 1e-6)
  }
  for (const { key } of fields) {
    const v = step.set[key]
    if (Array.isArray(v) && v.length && !here(v) && v.some(here)) {
      const rest = v.filter((x) => !here(x))
      return without(step, key, rest.length ? rest : undefined)
    }
    if (v && typeof v === 'object' && !Array.isArray(v) && here(v)) return without(step, key)
  }
  return null
}

const picked = ['face', 'edge', 'faces', 'edges', 'touch', 'region']

/** Null where the failure is not one that a pick would mend. */
export function lostOf(step: Step, error: ErrorReport | undefined): Lost | null {
  const definition = stepOf(step.kind)
  if (!definition || !error || !codes.includes(error.code)) return null
  const fields = fieldsOf(definition.settings)
  if (error.code === 'no-body') return ofBody(step, fields, error.where?.body)
  const lost = ofPlace(step, fields, error.where?.point)
  if (lost || error.code === 'lost-part') return lost
  // What is asked for but was never there: the first pick that the step waits for.
  const first = fields.find((f) => picked.includes(f.info.field) && !f.optional)
  return first ? { key: first.key, values: { ...step.set } } : null
}
