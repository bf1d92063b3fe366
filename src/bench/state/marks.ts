/** Measure marks that stay with the job. */
import type { StepReport } from '@/core/recipe/evaluate'
import type { RecipeStep } from '@/core/recipe/recipe'
import type { Facts } from '@/core/step/step'

export interface Mark {
  id: string
  facts: Facts
  ghost: boolean
  /** A later step has changed what was measured. */ past: boolean
}

/** The marks of a recipe's measures. One whose body is gone is left out; one whose body has changed since is of the past. */
export function marksOf(steps: readonly RecipeStep[], reports: readonly StepReport[]): Mark[] {
  return reports.flatMap((r, i) => {
    if (!r.ok || !r.facts.markFrom) return []
    const set = steps.find((s) => s.id === r.id)?.set ?? {}
    const names = [set.body, set.other].filter((n): n is string => typeof n === 'string')
    const later = reports.slice(i + 1).flatMap((x) => Object.entries(x.bodies).filter(([n]) => names.includes(n)))
    const last = new Map(later)
    if ([...last.values()].includes(null)) return []
    return [{ id: r.id, facts: r.facts, ghost: false, past: later.length > 0 }]
  })
}
