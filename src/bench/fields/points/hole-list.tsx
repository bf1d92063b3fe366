/** All holes of a body with edges, length and place; a row picks its hole and shows it. */
import { useQuery } from '@tanstack/react-query'
import { many, num } from '@/core/base/say'
import { getCheckUp } from '@/bench/state/api'
import { middleOf, type BenchBody } from '@/bench/state/job'
import { useBench } from '@/bench/state/store'
import { fieldsOfTool, useTool, type ToolInHand } from '@/bench/state/tool'

export function HoleList({
  job,
  tool,
  bodies,
  field,
}: {
  job: string
  tool: ToolInHand
  bodies: readonly BenchBody[]
  field: string
}) {
  const { lookAt } = useBench.getState()
  const { pick } = useTool.getState()
  const body = bodies.find((b) => b.name === tool.values.body)
  const query = useQuery({
    queryKey: ['check-up', body?.hash ?? ''],
    queryFn: () => getCheckUp(job, body!.hash),
    enabled: !!body && (body.facts?.figures.holes ?? 0) > 0,
    staleTime: Infinity,
    refetchInterval: (q) => (q.state.data?.checkUp ? false : 2500),
  })
  const faults = query.data?.checkUp?.faults.filter((f) => f.kind === 'hole' && f.line) ?? []
  if (!body || !faults.length) return null
  const picked = (tool.values[field] as number[][] | undefined) ?? []
  const near = (p: number[]) => (q: number[]) => Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2]) < 1e-3
  // A field that shows only for "picked" is asked for by picking.
  const when = fieldsOfTool(tool).find((f) => f.key === field)?.info.when
  return (
    <div className="fault-list mb-2 short" aria-label="Holes" role="group" data-testid="hole-list">
      {faults.map((f, i) => {
        const at = f.line!.slice(0, 3)
        const has = picked.some(near(at))
        return (
          <button
            key={i}
            type="button"
            aria-current={has}
            onClick={() => {
              pick({
                ...(when ? { [when.field]: when.is[0] } : {}),
                [field]: has ? picked.filter((q) => !near(at)(q)) : [...picked, at],
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
