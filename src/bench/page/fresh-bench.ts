/** What a fresh page, another job, body or tool puts back to its start. */
import { useEffect } from 'react'
import type { JobState } from '@/core/recipe/job-state'
import { fresh, useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { layValues } from '@/bench/state/values'

export function useFreshBench(id: string, job: JobState | undefined, checked: string | undefined, inHand: string) {
  const { set } = useBench.getState()
  const marker = useBench((s) => s.marker)
  useEffect(() => layValues(job?.recipe.values), [job?.recipe.values])
  useEffect(() => {
    useBench.setState(fresh)
    useTool.getState().take(null)
  }, [id])
  useEffect(() => {
    if (marker !== null && job && marker > job.recipe.steps.length) set({ marker: null })
  }, [marker, job, set])
  useEffect(() => set({ fault: null }), [checked, set])
  // Figures and maps of a tool belong to it; so does the place it was asked for.
  useEffect(() => set({ map: null, kept: null }), [inHand, set])
  useEffect(() => {
    document.title = job ? `${job.title} · Glue Bench` : 'Glue Bench'
  }, [job])
}
