/** A ghost made in this browser: it answers the hand within a frame or two, without a trip to the server. */
import { wrap, type Remote } from 'comlink'
import { useEffect, useRef, useState } from 'react'
import type { BodyFacts } from '@/core/kinds/kind'
import type { RecipeStep } from '@/core/recipe/recipe'
import { adoptDisplay } from '@/bench/draw/displays'
import { latest } from '@/bench/hands/moment'
import { sturdyWorker } from '@/bench/workers/sturdy-worker'
import type { BenchBody } from '@/bench/state/job'
import type { GhostState } from './ghost-state'
import type { LiveApi } from './live-worker'

let remote: Remote<LiveApi> | null = null
const worker = (): Remote<LiveApi> =>
  (remote ??= wrap<LiveApi>(
    sturdyWorker(() => new Worker(new URL('./live-worker.ts', import.meta.url), { type: 'module' })),
  ))

/** Larger bodies are left to the server: their ghost would not be there within a frame anyway. */
const mostTriangles = 300_000

/** Whether a step's ghost can be made here: the bodies it reads are small and lie on the bench as they are. */
export const canBeLive = (
  bodies: readonly BenchBody[],
  reads: readonly string[],
  most: number = mostTriangles,
): boolean =>
  reads.every((name) => {
    const b = bodies.find((x) => x.name === name)
    return !!b?.facts && (b.facts.figures.triangles ?? 0) <= most
  })

type Made = Pick<GhostState, 'state' | 'report' | 'bodies' | 'summaries'>

/** `step` null: nothing to make. The last ghost stays until the next one is there. */
export function useLiveGhost(step: RecipeStep | null, bodies: readonly BenchBody[], coarse = false): Made {
  const [made, setMade] = useState<(Made & { kind: string }) | null>(null)
  const mounted = useRef(true)
  useEffect(() => {
    mounted.current = true
    return () => void (mounted.current = false)
  }, [])
  const [ask] = useState(() =>
    latest(
      async ({
        kind,
        set,
        bench,
        rough,
      }: {
        kind: string
        set: Record<string, unknown>
        bench: Record<string, string>
        rough: boolean
      }) => {
        const r = await worker().run(kind, set, bench, rough)
        if (!mounted.current) return
        const summaries: Record<string, BodyFacts> = {}
        const names: Record<string, string | null> = {}
        for (const [name, body] of Object.entries(r.bodies)) {
          const hash = body && adoptDisplay(body.shaded)
          names[name] = hash
          if (body && hash) summaries[hash] = body.facts
        }
        setMade({
          kind,
          state: r.error ? 'failed' : 'ready',
          report: {
            ok: !r.error,
            said: r.said,
            facts: r.facts,
            warnings: r.warnings,
            ...(r.error ? { error: r.error } : {}),
          },
          bodies: r.error ? null : names,
          summaries,
        })
      },
    ),
  )
  const key = step ? JSON.stringify([step.kind, step.set, bodies.map((b) => [b.name, b.hash]), coarse]) : ''
  useEffect(() => {
    if (!step) setMade(null)
    else
      ask({
        kind: step.kind,
        set: step.set,
        bench: Object.fromEntries(bodies.map((b) => [b.name, b.hash])),
        rough: coarse,
      })
  }, [key]) // eslint-disable-line react-hooks/exhaustive-deps -- the key stands for step and bodies
  if (!step) return { state: 'none', report: null, bodies: null, summaries: null }
  return made && made.kind === step.kind ? made : { state: 'asked', report: null, bodies: null, summaries: null }
}
