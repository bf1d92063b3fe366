/** What a step has to do with others: what it uses, and what uses it. */
import { useMemo } from 'react'
import type { JobState } from '@/core/recipe/job-state'
import { feedersOf, takersOf } from '@/core/recipe/lineage'
import { useBench } from '@/bench/state/store'

export interface KinShown {
  readonly of: string
  readonly feeds: readonly string[]
  readonly takes: readonly string[]
}

/** The step that is asked for, what it uses and what uses it, as the recipe is now. */
export function useKin({ recipe, run }: JobState): KinShown | null {
  const of = useBench((s) => s.kinOf)
  return useMemo(() => {
    const at = recipe.steps.findIndex((s) => s.id === of)
    if (!of || at < 0) return null
    const reports = run?.steps ?? []
    return { of, feeds: feedersOf(recipe, reports, at), takes: takersOf(recipe, reports, at) }
  }, [of, recipe, run?.steps])
}

export const kinWord = (kin: KinShown | null, id: string) =>
  !kin ? '' : kin.of === id ? 'kin-of' : kin.feeds.includes(id) || kin.takes.includes(id) ? 'kin' : ''

/** What a step has to do with the one that was asked for. */
export function Kin({ kin, id }: { kin: KinShown; id: string }) {
  if (kin.of === id && !kin.feeds.length && !kin.takes.length)
    return <div className="said">uses nothing on the bench, and nothing uses it</div>
  if (kin.feeds.includes(id)) return <div className="said kin-word">is used by it</div>
  return kin.takes.includes(id) ? <div className="said kin-word">uses it</div> : null
}
