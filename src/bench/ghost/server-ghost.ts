/** A ghost computed by the server: asked for after a short rest, its progress told, stopped when nobody waits for it. */
import { useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useRef, useState } from 'react'
import type { JobState } from '@/core/recipe/job-state'
import type { StepReport } from '@/core/recipe/evaluate'
import type { RecipeStep } from '@/core/recipe/recipe'
import { fieldsOf } from '@/core/step/fields'
import { stepOf } from '@/core/steps/registry'
import { cancelRun, getRun, startGhost } from '@/bench/state/api'
import type { ToolInHand } from '@/bench/state/tool'
import { recipeWith, type GhostState } from './ghost-state'

/** How long settings rest before they are sent, ms. */
const rest = 220

/** A step without the settings whose changes a ghost follows by itself. */
export function firm(step: RecipeStep): unknown {
  const definition = stepOf(step.kind)
  if (!definition) return step
  const follow = new Set(fieldsOf(definition.settings).flatMap((f) => (f.info.follows ? [f.key] : [])))
  return { ...step, set: Object.fromEntries(Object.entries(step.set).filter(([k]) => !follow.has(k))) }
}

/** How it stands with a ghost that is wanted. `waits`: it is slow and was not asked for. */
function stateOf(
  refused: string | null,
  mine: StepReport | null,
  running: boolean,
  stopped: boolean,
  waits: boolean,
): GhostState['state'] {
  if (refused) return 'failed'
  if (mine) return mine.ok ? 'ready' : 'failed'
  if (running) return stopped ? 'none' : 'running'
  return waits ? 'none' : 'asked'
}

/** `wanted`: whether a ghost is to be made of these settings at all. */
export function useServerGhost(
  job: JobState | undefined,
  tool: ToolInHand | null,
  step: RecipeStep | null,
  marker: number | null,
  slow: boolean,
  wanted: boolean,
): Omit<GhostState, 'step' | 'problem'> & { refused: string | null } {
  const key = step && job && wanted ? JSON.stringify([job.revision, marker, step]) : ''
  // A ghost that was asked for stays asked for while only such fields change as follow.
  const asking = step && job && wanted ? JSON.stringify([job.revision, marker, firm(step)]) : ''
  const [asked, setAsked] = useState('')
  const [run, setRun] = useState<{ id: string; key: string } | null>(null)
  const [refused, setRefused] = useState<string | null>(null)
  const current = useRef('')
  current.current = key
  const running = run && run.key === key ? run.id : null
  const query = useQuery({
    queryKey: ['ghost', running ?? ''],
    queryFn: () => getRun(running!),
    enabled: !!running,
    staleTime: Infinity,
    // The event stream tells when it is done; this only covers a lost message.
    refetchInterval: (q) =>
      q.state.data && q.state.data.state !== 'running' && q.state.data.state !== 'waiting' ? false : 2000,
  })
  const data = running ? query.data : undefined
  const over = data && data.state !== 'running' && data.state !== 'waiting'
  const report = over ? (data.steps.at(-1) ?? null) : null
  const mine = report && report.id === step?.id ? report : null
  const waits = slow && asked !== asking
  const state = key ? stateOf(refused, mine, running !== null, data?.state === 'stopped', waits) : 'none'
  useEffect(() => {
    setRefused(null)
    if (state === 'ready') return // back at settings whose ghost is still here
    if (!job || !tool || !step || !key || waits) return
    const timer = setTimeout(
      () => {
        startGhost(job.id, recipeWith(job, tool, step, marker)).then(
          (r) => {
            if (current.current === key) setRun({ id: r.run, key })
          },
          (error: Error) => {
            if (current.current === key) setRefused(error.message)
          },
        )
      },
      slow ? 0 : rest,
    )
    return () => clearTimeout(timer)
  }, [key, asked, slow]) // eslint-disable-line react-hooks/exhaustive-deps -- the key stands for all of them
  return useMemo(
    () => ({
      state,
      report: mine,
      bodies: mine?.ok ? { ...mine.bodies } : null,
      summaries: data?.summaries ?? null,
      refused,
      ask: () => setAsked(asking),
      stop: () => {
        if (running) void cancelRun(running).catch(() => {})
        setAsked('')
        setRun(null)
      },
    }),
    [state, mine, data?.summaries, refused, asking, running],
  )
}
