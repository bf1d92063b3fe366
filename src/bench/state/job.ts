'use client'
/** The job on the bench: its state from the server, kept fresh by its event stream, and the changes a maker makes to it. */
import { useMutation, useQuery, useQueryClient, type QueryClient, type QueryKey } from '@tanstack/react-query'
import { useEffect, useMemo, useRef, useState } from 'react'
import type { JobEvent, JobState } from '@/core/recipe/job-state'
import type { BodyFacts } from '@/core/kinds/kind'
import type { Vec3 } from '@/core/math/vec'
import type { Recipe } from '@/core/recipe/recipe'
import { ApiError, getJob, renameJob, reviseJob, runJob, travelJob } from './api'
import { steppedBack } from './stepped-back'
import { tell, useBench } from './store'

export interface Progress {
  run: string
  ghost: boolean
  share: number
  phase: string
  step: string | null
}

export const jobKey = (id: string) => ['job', id] as const

/** Asks again for what an event speaks of: an answer under way may have been made before the event, and must not stand. */
export const renew = (client: QueryClient, queryKey: QueryKey): Promise<void> =>
  client.cancelQueries({ queryKey }).then(() => client.invalidateQueries({ queryKey }))

/** Events heard so far. */
let heard = 0
/** Puts a state a change was answered with; asks again when an event came meanwhile that may be newer. */
export function putAnswer(client: QueryClient, state: JobState, heardBefore: number): void {
  const queryKey = jobKey(state.id)
  client.setQueryData(queryKey, state)
  if (heard !== heardBefore && !client.isFetching({ queryKey })) void client.invalidateQueries({ queryKey })
}

/** Job state and live progress. */
export function useJob(id: string) {
  const client = useQueryClient()
  const query = useQuery({
    queryKey: jobKey(id),
    queryFn: () => getJob(id),
    refetchInterval: (q) => (q.state.status === 'error' ? 3000 : false),
  })
  const [progress, setProgress] = useState<Record<'run' | 'ghost', Progress | null>>({ run: null, ghost: null })
  useEffect(() => {
    let source: EventSource
    let again: ReturnType<typeof setTimeout> | undefined
    const hear = (message: MessageEvent<string>) => {
      const e = JSON.parse(message.data) as JobEvent
      heard++
      if (e.type === 'progress')
        setProgress((p) => ({
          ...p,
          [e.ghost ? 'ghost' : 'run']: { run: e.run, ghost: e.ghost, share: e.progress, phase: e.phase, step: e.step },
        }))
      else if (e.type === 'picture') void client.invalidateQueries({ queryKey: ['jobs'] })
      else if (e.type === 'check-up') void client.invalidateQueries({ queryKey: ['check-up', e.hash] })
      else {
        if (e.type === 'run') setProgress((p) => ({ ...p, [e.ghost ? 'ghost' : 'run']: null }))
        void renew(client, 'ghost' in e && e.ghost ? ['ghost', e.run] : jobKey(id))
      }
    }
    const watch = () => {
      source = new EventSource(`/api/jobs/${id}/events`)
      source.onmessage = hear
      // A lost connection is taken up again by the browser; an answer that was no stream (a part is away) is not.
      source.onerror = () => {
        if (source.readyState === EventSource.CLOSED) again = setTimeout(watch, 2000)
      }
    }
    watch()
    return () => {
      clearTimeout(again)
      source.close()
    }
  }, [id, client])
  return { job: query.data, error: query.error, progress }
}

/** Bodies on the bench at the marker: name, content hash and summary, in the order they came. While a run is under way the last whole picture stays. */
export interface BenchBody {
  name: string
  hash: string
  facts: BodyFacts | undefined
  /** What was made of it lies over it: it is faint unless it was said otherwise. */
  back?: boolean
}

/** Middle of a body's box. */
export const middleOf = (b: BenchBody | undefined): Vec3 | undefined =>
  b?.facts ? ([0, 1, 2].map((k) => b.facts!.min[k] + b.facts!.size[k] / 2) as unknown as Vec3) : undefined

export function bodiesAt(job: JobState, steps: number): BenchBody[] {
  const map = new Map<string, string>()
  for (const report of job.run?.steps.slice(0, steps) ?? [])
    for (const [name, hash] of Object.entries(report.bodies)) {
      if (hash === null) map.delete(name)
      else map.set(name, hash)
    }
  const back = steppedBack(job, steps)
  return [...map].map(([name, hash]) => ({
    name,
    hash,
    facts: job.summaries[hash],
    ...(back.has(name) ? { back: true } : {}),
  }))
}

export function useBodies(job: JobState | undefined, marker: number | null): BenchBody[] {
  const last = useRef<BenchBody[]>([])
  return useMemo(() => {
    if (!job) return last.current
    const wanted = marker ?? job.recipe.steps.length
    const state = job.run?.state
    const ready = state === 'done' || state === 'failed' || (job.run?.steps.length ?? 0) >= wanted
    if (ready || !last.current.length) last.current = bodiesAt(job, wanted)
    return last.current
  }, [job, marker])
}

/** Changes to the job. Each gives the new state at once; a refusal is told and nothing changes. */
export function useChanges(job: JobState | undefined) {
  const client = useQueryClient()
  const begin = () => ({ heard })
  const put = (state: JobState, _asked: unknown, at: { heard: number }) => putAnswer(client, state, at.heard)
  const failed = (error: Error) => {
    tell(error.message)
    if (job && error instanceof ApiError && error.report.code === 'out-of-date')
      void client.invalidateQueries({ queryKey: jobKey(job.id) })
  }
  const revise = useMutation({
    mutationFn: ({ recipe, label }: { recipe: Recipe; label: string }) => {
      const now = client.getQueryData<JobState>(jobKey(job!.id)) ?? job!
      return reviseJob(now.id, now.revision, recipe, label, useBench.getState().holding)
    },
    onMutate: begin,
    onSuccess: put,
    onError: failed,
  })
  const travel = useMutation({
    mutationFn: (go: 'undo' | 'redo') => travelJob(job!.id, go),
    onMutate: begin,
    onSuccess: put,
    onError: failed,
  })
  const rerun = useMutation({ mutationFn: () => runJob(job!.id), onMutate: begin, onSuccess: put, onError: failed })
  const rename = useMutation({
    mutationFn: (title: string) => renameJob(job!.id, title),
    onSuccess: () => client.invalidateQueries({ queryKey: jobKey(job!.id) }),
    onError: failed,
  })
  return { revise, travel, rerun, rename }
}

/** An id no step of the recipe has. */
export function freshId(recipe: Recipe): string {
  for (let i = recipe.steps.length + 1; ; i++) if (!recipe.steps.some((s) => s.id === `s${i}`)) return `s${i}`
}
