'use client'
/** The ghost of the tool in hand: the recipe with this step in it, evaluated like any other but not applied. */
import { useQuery } from '@tanstack/react-query'
import { useEffect, useMemo, useRef, useState } from 'react'
import type { BodySummary } from '@/core/kinds/summary'
import type { JobState } from '@/core/recipe/job-state'
import type { StepReport } from '@/core/recipe/evaluate'
import type { Recipe, RecipeStep } from '@/core/recipe/recipe'
import { stepOf } from '@/core/steps/registry'
import { cancelRun, getRun, startGhost } from '@/bench/state/api'
import { useBench, type ToolInHand } from '@/bench/state/store'

/** These take long enough that a maker asks for the ghost. */
export const slowKinds = new Set([
  'mend/all',
  'mend/untangle',
  'bring-in/practice-scan',
  'mend/check-up',
  'send-out/file',
  'mend/reskin',
  'mend/refine',
  'build/offset',
  'build/hollow',
  'build/thicken',
  'set-down/match',
  'prove/deviation',
])

export interface GhostState {
  state: 'none' | 'invalid' | 'asked' | 'running' | 'ready' | 'failed'
  report: StepReport | null
  bodies: Record<string, string | null> | null
  summaries: Record<string, BodySummary> | null
  ask(): void
  stop(): void
  step: RecipeStep | null
  problem: string | null
}

/** The settings worth storing: fields that do not show are left out. */
export function stepOfTool(
  tool: ToolInHand,
  id: string,
  old?: RecipeStep,
): { step: RecipeStep | null; problem: string | null } {
  const definition = stepOf(tool.kind)
  if (!definition) return { step: null, problem: 'unknown tool' }
  const set = Object.fromEntries(
    Object.entries(tool.values).filter(([k, v]) => !k.startsWith('as-') && v !== undefined && v !== '' && v !== null),
  )
  const parsed = definition.settings.strict().safeParse(set)
  if (!parsed.success) return { step: null, problem: parsed.error.issues[0]?.message ?? 'not complete' }
  return { step: { ...(old ?? {}), id, kind: tool.kind, set }, problem: null }
}

/** The recipe up to the tool's place, with the tool's step there. */
export function recipeWith(job: JobState, tool: ToolInHand, step: RecipeStep, marker: number | null): Recipe {
  const { steps } = job.recipe
  const at = tool.editing ? steps.findIndex((s) => s.id === tool.editing) : (marker ?? steps.length)
  return { ...job.recipe, steps: [...steps.slice(0, at), step] }
}

export function useGhost(job: JobState | undefined, tool: ToolInHand | null): GhostState {
  const marker = useBench((s) => s.marker)
  const made = useMemo(() => (tool ? stepOfTool(tool, tool.editing ?? 'ghost') : { step: null, problem: null }), [tool])
  const key = made.step && job ? JSON.stringify([job.revision, marker, made.step]) : ''
  const [asked, setAsked] = useState('')
  const [run, setRun] = useState<{ id: string; key: string } | null>(null)
  const [refused, setRefused] = useState<string | null>(null)
  const current = useRef('')
  current.current = key
  const slow = tool ? slowKinds.has(tool.kind) : false
  useEffect(() => {
    setRefused(null)
    if (!job || !tool || !made.step || !key || (slow && asked !== key)) return
    const timer = setTimeout(
      () => {
        startGhost(job.id, recipeWith(job, tool, made.step!, marker)).then(
          (r) => {
            if (current.current === key) setRun({ id: r.run, key })
          },
          (error: Error) => {
            if (current.current === key) setRefused(error.message)
          },
        )
      },
      slow ? 0 : 220,
    )
    return () => clearTimeout(timer)
  }, [key, asked, slow]) // eslint-disable-line react-hooks/exhaustive-deps -- the key stands for all of them
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
  const report = data && data.state !== 'running' && data.state !== 'waiting' ? (data.steps.at(-1) ?? null) : null
  const mine = report && report.id === made.step?.id ? report : null
  const state: GhostState['state'] = !tool
    ? 'none'
    : !made.step
      ? 'invalid'
      : refused
        ? 'failed'
        : mine
          ? mine.ok
            ? 'ready'
            : 'failed'
          : running
            ? data?.state === 'stopped'
              ? 'none'
              : 'running'
            : slow && asked !== key
              ? 'none'
              : 'asked'
  return useMemo(
    () => ({
      state,
      report: mine ?? null,
      bodies: mine?.ok ? { ...mine.bodies } : null,
      summaries: data?.summaries ?? null,
      step: made.step,
      problem: refused ?? made.problem,
      ask: () => setAsked(key),
      stop: () => {
        if (running) void cancelRun(running).catch(() => {})
        setAsked('')
        setRun(null)
      },
    }),
    [state, mine, data?.summaries, made, refused, key, running],
  )
}
