/** Which bodies step back (are faint) because what was made of them lies over them. */
import type { JobState } from '@/core/recipe/job-state'
import { stepOf } from '@/core/steps/registry'

/** Names of bodies that a conversion was made of, as long as both are on the bench and the first is as it was then. */
export function steppedBack(job: Pick<JobState, 'recipe' | 'run'>, steps: number): ReadonlySet<string> {
  const now = new Map<string, string>()
  const pairs: { source: string; hash: string; made: string }[] = []
  for (const [i, report] of (job.run?.steps.slice(0, steps) ?? []).entries()) {
    const step = job.recipe.steps[i]
    const key = step && report.ok ? stepOf(step.kind)?.standsFor : undefined
    const source = key && step.set[key]
    const hash = typeof source === 'string' ? now.get(source) : undefined
    for (const [name, made] of Object.entries(report.bodies)) {
      if (made === null) now.delete(name)
      else now.set(name, made)
      if (made !== null && hash && name !== source) pairs.push({ source: source as string, hash, made: name })
    }
  }
  return new Set(pairs.flatMap((p) => (now.has(p.made) && now.get(p.source) === p.hash ? [p.source] : [])))
}
