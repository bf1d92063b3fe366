/** Which later steps hang on a step: they read a body that it, or a step that hangs on it, makes or changes. */
import { stepOf } from '@/core/steps/registry'
import { bodiesIn } from '@/core/step/fields'
import type { Recipe } from './recipe'

/** Ids of the steps after `index` that run again when that step changes. */
export function dependentsOf(recipe: Recipe, index: number): string[] {
  const touched = new Set<string>()
  const out: string[] = []
  recipe.steps.forEach((step, i) => {
    const definition = stepOf(step.kind)
    if (i < index || step.off || !definition) return
    const { reads, changes, makes } = bodiesIn(definition.settings, step.set)
    if (i > index && !reads.some((r) => touched.has(r))) return
    if (i > index) out.push(step.id)
    for (const name of [...changes, ...makes]) touched.add(name)
  })
  return out
}

/** Why a step cannot stand at another place: a body it reads is not made yet there, or one it makes is used before. Null when it can. */
export function cannotMove(recipe: Recipe, from: number, to: number): string | null {
  const steps = [...recipe.steps]
  const [step] = steps.splice(from, 1)
  steps.splice(to, 0, step)
  const known = new Set<string>()
  for (const s of steps) {
    const definition = stepOf(s.kind)
    if (!definition) continue
    const { reads, makes } = bodiesIn(definition.settings, s.set)
    const missing = reads.find((r) => !known.has(r))
    // Bodies that a file brings in under names of its own cannot be known beforehand.
    if (
      missing &&
      recipe.steps.some((x) => stepOf(x.kind) && bodiesIn(stepOf(x.kind)!.settings, x.set).makes.includes(missing))
    )
      return `"${missing}" is not there yet at that place`
    for (const m of makes) known.add(m)
  }
  return null
}
