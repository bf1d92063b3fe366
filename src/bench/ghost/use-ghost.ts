/** The ghost of the tool in hand, from wherever it is made: here for quick steps on small bodies, else by the server. */
import { useMemo } from 'react'
import type { JobState } from '@/core/recipe/job-state'
import { bodiesIn } from '@/core/step/fields'
import { stepOf } from '@/core/steps/registry'
import type { BenchBody } from '@/bench/state/job'
import type { ToolInHand } from '@/bench/state/tool'
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
    !!definition?.live && !!made.step && canBeLive(bodies, bodiesIn(definition.settings, made.step.set).reads)
  const here = useLiveGhost(live ? made.step : null, bodies)
  const there = useServerGhost(job, tool, made.step, marker, !!definition?.slow, !live)
  return useMemo((): GhostState => {
    const from = live ? here : there
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
    }
  }, [tool, made, live, here, there])
}
