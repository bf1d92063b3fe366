/** How a tool comes into the hand, and its step into the recipe. */
import { useCallback, useEffect, useMemo, useRef } from 'react'
import { dependentsOf } from '@/core/recipe/dependents'
import type { JobState } from '@/core/recipe/job-state'
import type { Recipe, RecipeStep } from '@/core/recipe/recipe'
import { stepOf } from '@/core/steps/registry'
import { recipeWith, stepOfTool } from '@/bench/ghost/ghost-state'
import type { Lost } from '@/bench/recipe/lost'
import { freshId, type BenchBody, type useChanges } from '@/bench/state/job'
import { tell, useBench } from '@/bench/state/store'
import { useTool, type ToolInHand } from '@/bench/state/tool'
import { toolOf } from '@/bench/tools/registry'
import { startValues } from '@/bench/tools/start'

type Job = JobState | undefined

/** Takes a tool in hand, with what follows from the bench; the list of jobs may ask for one. */
export function useTake(job: Job, bodies: BenchBody[], openFiles: () => void) {
  const take = useCallback(
    (kind: string) => {
      const { selected, looks } = useBench.getState()
      const hidden = new Set(Object.keys(looks).filter((name) => looks[name].hidden))
      if (toolOf(kind)?.start?.({ bodies, selected, openFiles })) return
      const values = startValues(kind, bodies, selected, job, hidden)
      const more = job ? toolOf(kind)?.starts?.(values, job, bodies) : undefined
      useTool.getState().take({ kind, values: { ...values, ...more } })
    },
    [bodies, job, openFiles],
  )
  const asked = useRef(false)
  useEffect(() => {
    const kind = new URLSearchParams(location.search).get('tool')
    if (!job || asked.current || !kind || !stepOf(kind)) return
    asked.current = true
    history.replaceState(null, '', location.pathname)
    take(kind)
  }, [job, take])
  return take
}

/** Takes the tool of a step in hand; the field whose pick is gone takes the next click. */
export function editStep(step: RecipeStep, lost?: Lost): void {
  useTool.getState().take({ kind: step.kind, values: { ...(lost?.values ?? step.set) }, editing: step.id })
  if (lost) useTool.getState().change({ slot: lost.key })
}

/** Puts the step of the tool in hand into the recipe. */
export function useApply(job: Job, revise: ReturnType<typeof useChanges>['revise']) {
  const marker = useBench((s) => s.marker)
  return useCallback(() => {
    const { set } = useBench.getState()
    const { tool: now, take: hold } = useTool.getState()
    if (!job || !now) return
    const old = job.recipe.steps.find((s) => s.id === now.editing)
    const { step, problem } = stepOfTool(now, now.editing ?? freshId(job.recipe), old)
    if (!step) return tell(`Something is missing: ${problem}.`)
    const { steps } = job.recipe
    const at = marker ?? steps.length
    const recipe: Recipe = {
      ...job.recipe,
      steps: old ? steps.map((s) => (s.id === step.id ? step : s)) : [...steps.slice(0, at), step, ...steps.slice(at)],
    }
    const title = stepOf(now.kind)?.title ?? now.kind
    revise.mutate(
      { recipe, label: old ? `Change ${title}` : title },
      {
        onSuccess: () => {
          hold(null)
          if (!old && marker !== null) set({ marker: marker + 1 })
          if (typeof step.set.name === 'string') set({ selected: step.set.name, part: null })
        },
      },
    )
  }, [job, marker, revise])
}

/** How many later steps run again with what is in hand. */
export function useLater(job: Job, tool: ToolInHand | null, step: RecipeStep | null, editingAt: number): number {
  const marker = useBench((s) => s.marker)
  return useMemo(() => {
    if (!job || !tool || !step) return 0
    if (editingAt >= 0) return dependentsOf(job.recipe, editingAt).length
    if (marker === null) return 0
    const upTo = recipeWith(job, tool, step, marker)
    return dependentsOf({ ...upTo, steps: [...upTo.steps, ...job.recipe.steps.slice(marker)] }, marker).length
  }, [job, tool, step, editingAt, marker])
}
