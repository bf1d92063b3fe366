/** The recipe file: an open format, described in docs/recipe-format.md. */
import { z } from 'zod'
import { stepOf } from '@/core/steps/registry'
import { StepError } from '@/core/base/step-error'
import { valuesOf, withValues } from './values'

export const recipeStepSchema = z
  .object({
    id: z.string().min(1).max(60),
    kind: z.string().min(3).max(60),
    set: z.record(z.string(), z.unknown()).default({}),
    off: z.boolean().optional(),
    title: z.string().max(120).optional(),
    /** Version of the settings' shape; 1 when left out. */
    version: z.number().int().min(1).optional(),
  })
  .strict()

export const recipeSchema = z
  .object({
    format: z.literal('glue-bench/recipe'),
    version: z.literal(1),
    title: z.string().max(120).default('Untitled'),
    /** Named numbers, or arithmetic, that any number of any step may speak of. */
    values: z
      .record(z.string(), z.union([z.number().finite(), z.string().max(200)]))
      .refine((v) => Object.keys(v).length <= 500, 'at most 500 values')
      .optional(),
    steps: z.array(recipeStepSchema).max(5000),
  })
  .strict()

export type RecipeStep = z.output<typeof recipeStepSchema>
export type Recipe = z.output<typeof recipeSchema>

export const emptyRecipe = (title: string): Recipe => ({ format: 'glue-bench/recipe', version: 1, title, steps: [] })

/** One readable line for what a schema refused, naming the key. */
export function sayIssues(error: z.ZodError, prefix = ''): string {
  return error.issues
    .slice(0, 3)
    .map((i) => {
      const at = [prefix, ...i.path.map(String)].filter(Boolean).join('.')
      if (i.code === 'unrecognized_keys') return `unknown key "${i.keys.join('", "')}"${at ? ` in ${at}` : ''}`
      return `${at || 'value'}: ${i.message.charAt(0).toLowerCase()}${i.message.slice(1)}`
    })
    .join('; ')
}

/** A step with its settings in today's shape. Throws StepError `bad-recipe` for settings of a later version than this program knows. */
export function upgradeStep(step: RecipeStep): RecipeStep {
  const definition = stepOf(step.kind)
  const from = step.version ?? 1,
    to = definition?.shape ?? 1
  if (!definition || from === to) return step
  if (from > to)
    throw new StepError(
      'bad-recipe',
      `Step "${step.id}" (${step.kind}) was written by a later version of this program (${from}, not ${to}).`,
      { tryThis: 'Bring the program up to date.' },
    )
  return { ...step, set: definition.upgrade?.(step.set, from) ?? step.set, version: to }
}

/** A recipe with all settings in today's shape. */
export const upgradeRecipe = (recipe: Recipe): Recipe => {
  const steps = recipe.steps.map(upgradeStep)
  return steps.every((s, i) => s === recipe.steps[i]) ? recipe : { ...recipe, steps }
}

/** Checks a whole recipe, settings included. Throws StepError `bad-recipe` naming the key. */
export function parseRecipe(value: unknown): Recipe {
  const parsed = recipeSchema.safeParse(value)
  if (!parsed.success) throw new StepError('bad-recipe', `The recipe is not right: ${sayIssues(parsed.error)}.`)
  const ids = new Set<string>()
  const recipe = upgradeRecipe(parsed.data)
  const named = valuesOf(recipe.values ?? {})
  for (const step of recipe.steps) {
    if (ids.has(step.id))
      throw new StepError('bad-recipe', `The recipe is not right: two steps have the id "${step.id}".`)
    ids.add(step.id)
    parseSettings(step, named)
  }
  return recipe
}

const none: ReadonlyMap<string, number> = new Map()

/** The settings of a step with defaults filled in and named values put in. Throws StepError `bad-settings` or `bad-value` naming the key. */
export function parseSettings(
  given: Pick<RecipeStep, 'id' | 'kind' | 'set' | 'version'>,
  named: ReadonlyMap<string, number> = none,
): Record<string, unknown> {
  const step = upgradeStep(given)
  const definition = stepOf(step.kind)
  if (!definition)
    throw new StepError('bad-recipe', `Step "${step.id}": there is no step kind "${step.kind}".`, {
      tryThis: 'See ./glue-bench steps for all kinds.',
    })
  let set: Record<string, unknown>
  try {
    set = withValues(definition.settings, step.set, named)
  } catch (error) {
    if (!(error instanceof StepError)) throw error
    throw new StepError(error.code, `Step "${step.id}" (${step.kind}): ${error.message}`, error.details)
  }
  const parsed = definition.settings.strict().safeParse(set)
  if (!parsed.success)
    throw new StepError('bad-settings', `Step "${step.id}" (${step.kind}): ${sayIssues(parsed.error)}.`)
  return parsed.data
}
