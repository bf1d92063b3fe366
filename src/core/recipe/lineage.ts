/** What made a body, a face or a step's input, and what uses them: by the recipe and by what each step reported. */
import { stepOf } from '@/core/steps/registry'
import { bodiesIn } from '@/core/step/fields'
import type { StepReport } from './evaluate'
import type { Recipe, RecipeStep } from './recipe'

type Reports = readonly Pick<StepReport, 'id' | 'bodies'>[]

const uses = (step: RecipeStep) => {
  const definition = stepOf(step.kind)
  return definition && !step.off
    ? bodiesIn(definition.settings, step.set)
    : { reads: [], changes: [], makes: [], files: [] }
}

/** Names of the bodies a step put on the bench or changed: as it reported, else as its settings say. */
function gives(step: RecipeStep, reports: Reports): string[] {
  const told = reports.find((r) => r.id === step.id)
  if (told) return Object.keys(told.bodies).filter((n) => told.bodies[n] !== null)
  const { changes, makes } = uses(step)
  return [...changes, ...makes]
}

/** Ids of the steps that made and then changed a body, up to a step's place (all when left out), in their order. */
export function makersOf(recipe: Recipe, reports: Reports, body: string, upTo = recipe.steps.length): string[] {
  const out: string[] = []
  for (const step of recipe.steps.slice(0, upTo)) {
    if (step.off) continue
    if (reports.find((r) => r.id === step.id)?.bodies[body] === null) out.length = 0
    else if (gives(step, reports).includes(body)) out.push(step.id)
  }
  return out
}

/** Ids of the steps that read a body after it was last made by its name. */
export function usersOf(recipe: Recipe, reports: Reports, body: string): string[] {
  const [first] = makersOf(recipe, reports, body)
  const from = recipe.steps.findIndex((s) => s.id === first)
  return recipe.steps
    .slice(from + 1)
    .filter((s) => uses(s).reads.includes(body))
    .map((s) => s.id)
}

/** Ids of the steps whose bodies a step reads: of each body the one that touched it last. */
export function feedersOf(recipe: Recipe, reports: Reports, index: number): string[] {
  const last = uses(recipe.steps[index]).reads.map((body) => makersOf(recipe, reports, body, index).at(-1))
  return [...new Set(last)].filter((id) => id !== undefined)
}

/** Ids of the later steps that read what a step gives, before another step gives it anew. */
export function takersOf(recipe: Recipe, reports: Reports, index: number): string[] {
  const open = new Set(gives(recipe.steps[index], reports))
  const out: string[] = []
  for (const step of recipe.steps.slice(index + 1)) {
    if (step.off) continue
    if (uses(step).reads.some((b) => open.has(b))) out.push(step.id)
    for (const name of gives(step, reports)) open.delete(name)
  }
  return out
}

/** What features call the faces they make, and the kinds of step that make such. */
const made: readonly (readonly [RegExp, readonly string[]])[] = [
  [/^fillet[(/]/, ['build/fillet']],
  [/^chamfer[(/]/, ['build/chamfer']],
  [/^round[(/]/, ['build/fillet']],
  [/^inner[(/]/, ['build/shell']],
  [/^offset\//, ['build/offset-face', 'build/offset']],
  [/^healed\//, ['build/delete-face']],
  [/^(cap|patch) \d/, ['build/cap']],
]

/** The step that made a face of a body, told by the face's lasting name; undefined where that cannot be told. */
export function makerOfFace(recipe: Recipe, reports: Reports, body: string, face: string): string | undefined {
  const chain = makersOf(recipe, reports, body)
  const step = (id: string) => recipe.steps.find((s) => s.id === id)!
  const [, kinds] = made.find(([word]) => word.test(face)) ?? []
  if (kinds) return chain.find((id) => kinds.includes(step(id).kind))
  // "pin/wall": the body of that name, wherever it went in since; else what first made this body.
  const source = face.includes('/') ? face.slice(0, face.indexOf('/')) : ''
  const maker = source ? recipe.steps.find((s) => !s.off && gives(s, reports).includes(source)) : undefined
  return maker?.id ?? chain[0]
}
