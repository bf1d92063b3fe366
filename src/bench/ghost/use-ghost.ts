/** The ghost of the tool in hand, from wherever it is made: here for quick steps on small bodies, else by the server. */
import { useMemo } from 'react'
import type { JobState } from '@/core/recipe/job-state'
import { bodiesIn } from '@/core/step/fields'
import { stepOf } from '@/core/steps/registry'
import type { BenchBody } from '@/bench/state/job'
import { asNumbers, type ToolInHand } from '@/bench/state/tool'
import { jobValues } from '@/bench/state/values'
import { useStore } from 'zustand'
import { stepOfTool, type GhostState } from './ghost-state'
import { canBeLive, useLiveGhost } from './live-ghost'
import { useServerGhost } from './server-ghost'

export function useGhost(
  job: JobState | undefined,
  tool: ToolInHand | null,
  bodies: readonly BenchBody[],
  marker: number | null,
): GhostState {
  const made = useMemo(() => (tool ? stepOfTool(tool, tool.editing ?? 'ghost') : { step: null, problem: null }), [tool])
  const definition = tool ? stepOf(tool.kind) : undefined
  const live =
    !!definition?.live &&
    !!made.step &&
    canBeLive(bodies, bodiesIn(definition.settings, made.step.set).reads, definition.liveUpTo)
  const numbers = useStore(jobValues, (s) => s.numbers)
  // The worker knows no job: it gets numbers.
  const plain = useMemo(
    () => made.step && { ...made.step, set: asNumbers(made.step.kind, made.step.set) },
    // eslint-disable-next-line react-hooks/exhaustive-deps -- by the values that it speaks of
    [made.step, numbers],
  )
  const there = useServerGhost(job, tool, made.step, marker, !!definition?.slow, !live)
  // Until a slow one is asked for, a rough look where the step can give one.
  const most = definition?.coarseUpTo
  const rough =
    !live &&
    most !== undefined &&
    there.state === 'none' &&
    !!made.step &&
    canBeLive(bodies, bodiesIn(definition!.settings, made.step.set).reads, most)
  const here = useLiveGhost(live || rough ? plain : null, bodies, rough)
  return useMemo((): GhostState => {
    const coarse = rough && here.state === 'ready'
    const from = live || coarse ? here : there
    const state = !tool ? 'none' : !made.step ? 'invalid' : from.state
    return {
      state,
      report: from.report,
      bodies: from.bodies,
      summaries: from.summaries,
      step: made.step,
      problem: (live ? null : there.refused) ?? made.problem,
      ask: there.ask,
      stop: there.stop,
      ...(coarse ? { coarse } : {}),
    }
  }, [tool, made, live, rough, here, there])
}
