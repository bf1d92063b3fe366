/** The ghost of the tool in hand: what its step would make, evaluated like any other but not applied. */
import type { BodyFacts } from '@/core/kinds/kind'
import type { StepReport } from '@/core/recipe/evaluate'
import type { JobState } from '@/core/recipe/job-state'
import type { Recipe, RecipeStep } from '@/core/recipe/recipe'
import { fieldsOf } from '@/core/step/fields'
import { stepOf } from '@/core/steps/registry'
import { asNumbers, type ToolInHand } from '@/bench/state/tool'

export interface GhostState {
  state: 'none' | 'invalid' | 'asked' | 'running' | 'ready' | 'failed'
  report: Pick<StepReport, 'ok' | 'said' | 'facts' | 'warnings' | 'error'> | null
  /** Bodies it makes or changes, by the name they are drawn under; null takes one away. */
  bodies: Record<string, string | null> | null
  summaries: Record<string, BodyFacts> | null
  ask(): void
  stop(): void
  step: RecipeStep | null
  problem: string | null
  /** It is only a rough look; the ghost itself may still be asked for. */
  coarse?: boolean
}

/** The step of a tool: settings worth storing, in the step's own order. */
export function stepOfTool(
  tool: Pick<ToolInHand, 'kind' | 'values'>,
  id: string,
  old?: RecipeStep,
): { step: RecipeStep | null; problem: string | null } {
  const definition = stepOf(tool.kind)
  if (!definition) return { step: null, problem: 'unknown tool' }
  const known = new Set(fieldsOf(definition.settings).map((f) => f.key))
  const set = Object.fromEntries(
    Object.entries(tool.values).filter(([k, v]) => known.has(k) && v !== undefined && v !== '' && v !== null),
  )
  const parsed = definition.settings.strict().safeParse(asNumbers(tool.kind, set))
  if (!parsed.success) return { step: null, problem: parsed.error.issues[0]?.message ?? 'not complete' }
  const shape = definition.shape ?? 1
  return {
    step: { ...(old ?? {}), id, kind: tool.kind, set, ...(shape > 1 ? { version: shape } : {}) },
    problem: null,
  }
}

/** The recipe up to the tool's place, with the tool's step there. */
export function recipeWith(
  job: Pick<JobState, 'recipe'>,
  tool: Pick<ToolInHand, 'editing'>,
  step: RecipeStep,
  marker: number | null,
): Recipe {
  const { steps } = job.recipe
  const at = tool.editing ? steps.findIndex((s) => s.id === tool.editing) : (marker ?? steps.length)
  return { ...job.recipe, steps: [...steps.slice(0, at), step] }
}
