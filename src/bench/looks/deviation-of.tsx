/** Histogram of a result's deviation, and the map of it on demand. */
import { useEffect, useRef } from 'react'
import type { GhostState } from '@/bench/ghost/ghost-state'
import { isLive } from '@/bench/draw/displays'
import type { BenchBody } from '@/bench/state/job'
import { useBench, type DeviationMap } from '@/bench/state/store'
import type { ToolInHand } from '@/bench/state/tool'
import { Histogram } from './histogram'

interface Figures {
  p95: number
  max: number
}

interface Props {
  tool: ToolInHand
  bodies: readonly BenchBody[]
  report: NonNullable<GhostState['report']>
  hashes: Record<string, string | null> | null
}

/**
 * What the map shows. A step that changes its body measures the new one against the old, or against another body that its facts name; one
 * that changes nothing measures the body as it is. A new skin keeps its corners on the old one, so then the old one is drawn and coloured.
 */
function mapOf({ tool, bodies, report, hashes }: Props): Omit<DeviationMap, 'tolerance' | 'reach'> | null {
  const name = String(tool.values.body)
  const named = report.facts.against
  const otherName = typeof named === 'string' ? named : name
  const now = bodies.find((b) => b.name === name)?.hash
  const hash = hashes && name in hashes ? (hashes[name] ?? undefined) : now
  const against = bodies.find((b) => b.name === otherName)?.hash ?? hashes?.[otherName]
  if (!hash || !against || isLive(hash)) return null
  return otherName === name
    ? { name, againstName: `${name} before`, hash: against, against: hash, flip: true }
    : { name, againstName: otherName, hash, against, flip: false }
}

export function DeviationOf(props: Props) {
  const map = useBench((s) => s.map)
  const set = useBench((s) => s.set)
  const { facts } = props.report
  // Where a tolerance was to be held and is not, the places show before anything is applied.
  const told = useRef<unknown>(null)
  const drawn = mapOf(props)
  const bound = Number(facts.beyond ?? 0) > 0 ? Number(facts.tolerance) : undefined
  const shown = drawn && bound !== undefined ? { ...drawn, bound, tolerance: bound / 3, reach: 2 * bound } : null
  useEffect(() => {
    if (!shown || told.current === props.report) return
    told.current = props.report
    set({ map: shown })
  })
  const histogram = facts.histogram as { from: number; to: number; bins: number[] } | undefined
  if (!histogram) return null
  const figures = ((facts.deviation as object | undefined) ?? facts) as Partial<Figures>
  const tolerance = Number(facts.tolerance ?? histogram.to / 10)
  // A map in which all is even tells nothing.
  const even = figures.p95 !== undefined && figures.p95 <= tolerance ? figures.p95 / 3 : tolerance
  return (
    <div className="mb-2">
      <Histogram histogram={histogram} tolerance={tolerance} />
      {drawn && figures.p95 !== undefined && (
        <button
          type="button"
          className="btn btn-quiet btn-sm"
          aria-pressed={!!map}
          onClick={() =>
            set({
              map: map ? null : (shown ?? { ...drawn, tolerance: even, reach: Math.max(figures.p95! * 1.3, 2 * even) }),
            })
          }
        >
          {map ? 'Hide the map' : 'Show the map'}
        </button>
      )}
    </div>
  )
}
