/** Steps carried to another recipe, and a whole recipe used on another file. */
import { stepOf } from '@/core/steps/registry'
import { bodiesIn, fieldsOf } from '@/core/step/fields'
import { isTaken } from '@/core/find/taken'
import { StepError } from '@/core/base/step-error'
import type { Recipe, RecipeStep } from './recipe'
import { valuesUsed } from './values'

/** Steps on their way from one recipe to another, with the named values they speak of. */
export interface Parcel {
  readonly from: string
  readonly steps: readonly RecipeStep[]
  readonly values: Readonly<Record<string, number | string>>
}

/** Some steps of a recipe as a parcel. */
export function packed(recipe: Recipe, ids: readonly string[]): Parcel {
  const steps = recipe.steps.filter((s) => ids.includes(s.id))
  const all = recipe.values ?? {}
  const names = valuesUsed(steps, all)
  return { from: recipe.title, steps, values: Object.fromEntries(names.map((n) => [n, all[n]])) }
}

/** Bodies that the steps of a parcel read and none of them makes, in their order. */
export function wanted(steps: readonly RecipeStep[]): string[] {
  const known = new Set<string>()
  const out = new Set<string>()
  for (const s of steps) {
    const definition = stepOf(s.kind)
    if (!definition) continue
    const { reads, makes } = bodiesIn(definition.settings, s.set)
    for (const r of reads) if (!known.has(r)) out.add(r)
    for (const m of makes) known.add(m)
  }
  return [...out]
}

/** A step's settings with bodies called by other names. */
export function withBodies(step: RecipeStep, names: ReadonlyMap<string, string>): RecipeStep {
  const definition = stepOf(step.kind)
  if (!definition) return step
  const other = (n: unknown) => (typeof n === 'string' ? (names.get(n) ?? n) : n)
  const set = { ...step.set }
  for (const { key, info } of fieldsOf(definition.settings)) {
    const v = set[key]
    if (v === undefined) continue
    if (['body', 'bodies', 'new-body'].includes(info.field)) set[key] = Array.isArray(v) ? v.map(other) : other(v)
    else {
      const one = (t: unknown) => (isTaken(t) ? { ...t, from: other(t.from) } : t)
      set[key] = Array.isArray(v) ? v.map(one) : one(v)
    }
  }
  return { ...step, set }
}

/** A name that is not among those taken: the next free number behind it. */
function free(name: string, taken: ReadonlySet<string>): string {
  if (!taken.has(name)) return name
  const plain = name.replace(/ \d+$/, '')
  for (let i = 2; ; i++) if (!taken.has(`${plain} ${i}`)) return `${plain} ${i}`
}

/**
 * A recipe with the steps of a parcel put in at a place. They get fresh ids; new bodies get free names; bodies they read are those of
 * `map`, or of the same name.
 * @param there names of the bodies on the bench at that place
 * Throws StepError `no-body` for a body that is neither there nor mapped, `too-many` for a recipe too long.
 */
export function carried(
  recipe: Recipe,
  at: number,
  parcel: Parcel,
  there: readonly string[],
  map: ReadonlyMap<string, string>,
): Recipe {
  const onBench = new Set(there)
  const names = new Map<string, string>()
  for (const name of wanted(parcel.steps)) {
    const to = map.get(name) ?? name
    if (!onBench.has(to))
      throw new StepError('no-body', `There is no body named "${to}" here.`, { tryThis: 'Choose one that is.' })
    names.set(name, to)
  }
  const taken = new Set([...there, ...recipe.steps.flatMap((s) => makes(s))])
  for (const s of parcel.steps)
    for (const name of makes(s))
      if (!names.has(name)) {
        names.set(name, free(name, taken))
        taken.add(names.get(name)!)
      }
  const ids = new Set(recipe.steps.map((s) => s.id))
  let next = recipe.steps.length + 1
  const steps = parcel.steps.map((s): RecipeStep => {
    while (ids.has(`s${next}`)) next++
    ids.add(`s${next}`)
    return { ...withBodies(s, names), id: `s${next}` }
  })
  const values = { ...parcel.values, ...recipe.values }
  return {
    ...recipe,
    ...(Object.keys(values).length ? { values } : {}),
    steps: [...recipe.steps.slice(0, at), ...steps, ...recipe.steps.slice(at)],
  }
}

/** The bodies a step makes by name; settings that are left out count with their default. */
function makes(step: RecipeStep): string[] {
  const definition = stepOf(step.kind)
  if (!definition) return []
  const defaults = Object.fromEntries(fieldsOf(definition.settings).map((f) => [f.key, f.fallback]))
  return bodiesIn(definition.settings, { ...defaults, ...step.set }).makes
}

/** The files a recipe brings in, each once. */
export const filesOf = (recipe: Recipe): string[] => [
  ...new Set(
    recipe.steps.flatMap((s) => {
      const definition = stepOf(s.kind)
      return definition && s.kind.startsWith('bring-in/') ? bodiesIn(definition.settings, s.set).files : []
    }),
  ),
]

/**
 * The recipe with other files in the place of its own. What a file was called on the bench stays its name, so that later steps find it.
 * @param files new name by old name; those left out stay
 */
export function onOtherFiles(recipe: Recipe, files: ReadonlyMap<string, string>): Recipe {
  return {
    ...recipe,
    steps: recipe.steps.map((s) => {
      const file = typeof s.set.file === 'string' ? files.get(s.set.file) : undefined
      return file && s.kind.startsWith('bring-in/') ? { ...s, set: { ...s.set, file } } : s
    }),
  }
}
