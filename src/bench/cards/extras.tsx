'use client'
/** What some cards show beside their settings: estimates before a long run, the list of holes, the deviation map. */
import { useQuery } from '@tanstack/react-query'
import { Histogram } from '@/bench/stage3d/look-panels'
import { getCheckUp } from '@/bench/state/api'
import { middleOf, type BenchBody } from '@/bench/state/job'
import { useBench, type ToolInHand } from '@/bench/state/store'
import { many, num } from '@/core/base/say'
import type { StepReport } from '@/core/recipe/evaluate'
import { trianglesFor } from '@/core/mend/refine'
import { estimateReskin } from '@/core/skin/reskin'

/** Triangles and time to expect, told before Reskin or Refine runs. */
export function Estimate({ tool, bodies }: { tool: ToolInHand; bodies: BenchBody[] }) {
  const s = bodies.find((b) => b.name === tool.values.body)?.summary
  if (!s) return null
  const diagonal = Math.hypot(...s.size)
  const own = tool.values.edge as number | undefined
  if (tool.kind === 'mend/refine') {
    if (!own) return null
    return (
      <p className="soft small mb-2" data-testid="estimate">
        about {many(trianglesFor(s.area, own))} triangles
      </p>
    )
  }
  const edge = own ?? diagonal / 200
  const e = estimateReskin(s.area, edge)
  const gap = Number(tool.values.gap ?? 0)
  return (
    <p className="soft small mb-2" data-testid="estimate">
      edge {num(edge, 3)} mm: about {many(e.triangles)} triangles,{' '}
      {e.seconds * (gap > 0 ? 2 : 1) + Math.round(s.triangles / 30_000)} s
    </p>
  )
}

/** All holes of the body with edges, length and place; a row picks its hole and shows it. */
export function HoleList({
  job,
  tool,
  bodies,
  field,
}: {
  job: string
  tool: ToolInHand
  bodies: BenchBody[]
  field: string
}) {
  const { setValues, lookAt } = useBench.getState()
  const body = bodies.find((b) => b.name === tool.values.body)
  const query = useQuery({
    queryKey: ['check-up', body?.hash ?? ''],
    queryFn: () => getCheckUp(job, body!.hash),
    enabled: !!body && (body.summary?.holes ?? 0) > 0,
    staleTime: Infinity,
    refetchInterval: (q) => (q.state.data?.checkUp ? false : 2500),
  })
  const faults = query.data?.checkUp?.faults.filter((f) => f.kind === 'hole' && f.line) ?? []
  if (!body || !faults.length) return null
  const picked = (tool.values[field] as number[][] | undefined) ?? []
  const has = (p: number[]) => picked.some((q) => Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]) < 1e-3)
  return (
    <div className="fault-list mb-2" style={{ maxHeight: 150 }} aria-label="Holes" role="group" data-testid="hole-list">
      {faults.map((f, i) => {
        const at = f.line!.slice(0, 3)
        return (
          <button
            key={i}
            type="button"
            aria-current={has(at)}
            onClick={() => {
              setValues({
                ...(tool.kind === 'mend/close-holes' ? { which: 'picked' } : {}),
                [field]: has(at)
                  ? picked.filter((q) => Math.hypot(q[0] - at[0], q[1] - at[1], q[2] - at[2]) >= 1e-3)
                  : [...picked, at],
              })
              lookAt('Fit', f.at, f.reach, middleOf(body))
            }}
          >
            <span>{many(f.line!.length / 3 - 1)} edges</span>
            <span className="figure">
              {num(f.length ?? 0, 1)} mm · {f.at.map((v) => num(v, 0)).join(' ')}
            </span>
          </button>
        )
      })}
    </div>
  )
}

interface Figures {
  p95: number
  max: number
}

/** Histogram of a result's deviation, and the map of it on demand. */
export function DeviationOf({
  tool,
  bodies,
  report,
  hashes,
}: {
  tool: ToolInHand
  bodies: BenchBody[]
  report: StepReport
  hashes: Record<string, string | null> | null
}) {
  const map = useBench((s) => s.map)
  const { set } = useBench.getState()
  const histogram = report.facts.histogram as { from: number; to: number; bins: number[] } | undefined
  if (!histogram) return null
  const name = String(tool.values.body)
  const proving = tool.kind === 'prove/deviation'
  const otherName = String(
    proving ? report.facts.against : tool.kind === 'set-down/match' ? report.facts.against : name,
  )
  const hash = proving ? bodies.find((b) => b.name === name)?.hash : (hashes?.[name] ?? undefined)
  const against = bodies.find((b) => b.name === otherName)?.hash
  const figures = (proving ? report.facts : report.facts.deviation) as unknown as Figures | undefined
  // A simplified or new skin keeps its corners on the old one, so the old one is drawn and coloured.
  const drawn =
    hash && against
      ? tool.kind.startsWith('mend/')
        ? { hash: against, against: hash, flip: true }
        : { hash, against, flip: false }
      : null
  const tolerance = Number(report.facts.tolerance ?? histogram.to / 10)
  return (
    <div className="mb-2">
      <Histogram histogram={histogram} tolerance={tolerance} />
      {drawn && figures && (
        <button
          type="button"
          className="btn btn-quiet btn-sm"
          aria-pressed={!!map}
          onClick={() =>
            set({
              map: map
                ? null
                : {
                    name,
                    againstName: proving || tool.kind === 'set-down/match' ? otherName : `${name} before`,
                    tolerance,
                    reach: Math.max(figures.p95 * 1.3, 2 * tolerance),
                    ...drawn,
                  },
            })
          }
        >
          {map ? 'Hide the map' : 'Show the map'}
        </button>
      )}
    </div>
  )
}
