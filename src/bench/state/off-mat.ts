/** What has just been brought in and does not stand on the mat. */
import type { JobState } from '@/core/recipe/job-state'
import type { RecipeStep } from '@/core/recipe/recipe'
import { stageOf } from '@/core/step/step'
import { freshId, type BenchBody } from './job'

export interface OffMat {
  /** The step that brought them in. */
  readonly step: string
  readonly names: readonly string[]
  /** How far their lowest point lies above the mat, mm; below zero: under it. */
  readonly lowest: number
}

/** Heights that nobody sees, mm. */
const least = 0.01

/** The bodies of the last step, where it brought something in whose lowest point is not on the mat. */
export function offMat(job: JobState, bodies: readonly BenchBody[]): OffMat | null {
  const { steps } = job.recipe
  const last = steps.at(-1)
  const report = job.run?.steps[steps.length - 1]
  if (!last || !report?.ok || job.run?.state !== 'done' || stageOf(last.kind) !== 'bring-in') return null
  const names = Object.keys(report.bodies)
  const brought = bodies.filter((b) => names.includes(b.name))
  const heights = brought.flatMap((b) => (b.facts && b.facts.can.includes('surface') ? [b.facts.min[2]] : []))
  const lowest = Math.min(...heights)
  return heights.length && Math.abs(lowest) > least
    ? { step: last.id, names: brought.map((b) => b.name), lowest }
    : null
}

/** Steps that set them on the mat, as they stand to each other. */
export function ontoMat(job: JobState, { names, lowest }: OffMat): RecipeStep[] {
  const made: RecipeStep[] = []
  for (const body of names) {
    const recipe = { ...job.recipe, steps: [...job.recipe.steps, ...made] }
    made.push({ id: freshId(recipe), kind: 'set-down/move', set: { body, by: [0, 0, -lowest] } })
  }
  return made
}
