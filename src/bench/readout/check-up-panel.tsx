'use client'
/** The check-up of a body, live: each kind of fault with its count, and a list whose rows jump to the place. */
import { useQuery } from '@tanstack/react-query'
import { ChevronLeft, ChevronRight, X } from 'lucide-react'
import { useMemo, useRef } from 'react'
import { holeCount, type CheckUpFacts, type Fault } from '@/core/mesh/check-up'
import { many, num } from '@/core/base/say'
import { getCheckUp } from '@/bench/state/api'
import { middleOf, type BenchBody } from '@/bench/state/job'
import { useBench } from '@/bench/state/store'

const noFaults: Fault[] = []

export function useCheckUp(job: string, bodies: BenchBody[]) {
  const of = useBench((s) => s.checkUpOf)
  const body = bodies.find((b) => b.name === of && b.facts?.can.includes('check'))
  const query = useQuery({
    queryKey: ['check-up', body?.hash ?? ''],
    queryFn: () => getCheckUp(job, body!.hash),
    enabled: !!body,
    staleTime: Infinity,
    refetchInterval: (q) => (q.state.data?.checkUp ? false : 2500),
  })
  const checkUp = body ? query.data?.checkUp : undefined
  // What the last look at this body counted, so that a mend's effect is seen.
  const seen = useRef<{ name: string; now: [string, CheckUpFacts] | null; before: CheckUpFacts | null }>({
    name: '',
    now: null,
    before: null,
  })
  if (body && checkUp) {
    if (seen.current.name !== body.name)
      seen.current = { name: body.name, now: [body.hash, checkUp.facts], before: null }
    else if (seen.current.now?.[0] !== body.hash)
      seen.current = { name: body.name, now: [body.hash, checkUp.facts], before: seen.current.now?.[1] ?? null }
  } else if (!of) seen.current = { name: '', now: null, before: null }
  return {
    body,
    checkUp,
    faults: checkUp?.faults ?? noFaults,
    waiting: !!body && !checkUp,
    before: checkUp ? seen.current.before : null,
  }
}

/** Kinds of fault with their counts; a body of another kind than a mesh has none of them. */
const rowsOf = (f: CheckUpFacts): [string, number][] =>
  f.holes === undefined
    ? []
    : [
        ['holes', holeCount(f)],
        ['scraps in holes', f.holes.length - holeCount(f)],
        ['stray pieces', f.pieces - 1],
        ['folds', f.folded],
        ['self-crossings', f.selfCrossings],
        ['non-manifold edges', f.nonManifoldEdges],
        ['non-manifold vertices', f.nonManifoldVertices],
        ['flipped edges', f.flippedEdges],
        ['inside-out pieces', f.insideOutPieces],
        ['degenerate', f.degenerate],
        ['duplicates', f.duplicates],
      ]

export function CheckUpPanel({ check }: { check: ReturnType<typeof useCheckUp> }) {
  const { set, lookAt } = useBench.getState()
  const old = useMemo(() => new Map(check.before ? rowsOf(check.before) : []), [check.before])
  const rows = useMemo(
    () => (check.checkUp ? rowsOf(check.checkUp.facts).filter(([k, n]) => n > 0 || (old.get(k) ?? 0) > 0) : []),
    [check.checkUp, old],
  )
  const sound = rows.every(([, n]) => n === 0)
  if (!check.body) return null
  const go = (i: number) => {
    const n = check.faults.length
    const to = ((i % n) + n) % n
    set({ fault: to })
    lookAt('Fit', check.faults[to].at, check.faults[to].reach, middleOf(check.body))
  }
  return (
    <section aria-label="Check-up" data-testid="check-up" className="mb-3">
      <div className="panel-head">
        <h2>Check-up</h2>
        <span className="d-flex align-items-center gap-1 small soft">
          {check.body.name}
          <button
            type="button"
            className="icon-button"
            aria-label="Close the check-up"
            onClick={() => set({ checkUpOf: null, fault: null })}
          >
            <X size={15} />
          </button>
        </span>
      </div>
      {check.waiting && (
        <p className="soft small" aria-live="polite">
          checking every triangle…
        </p>
      )}
      {check.checkUp && sound && <p className="told good">Closed, outward, manifold, free of crossings.</p>}
      {rows.length > 0 && (
        <>
          <dl className="figures">
            {rows.map(([k, n]) => [
              <dt key={k}>{k}</dt>,
              <dd key={`${k}-n`} style={{ color: n ? 'var(--brick)' : 'var(--moss)' }}>
                {old.has(k) && old.get(k) !== n ? `${many(old.get(k)!)} → ${many(n)}` : many(n)}
              </dd>,
            ])}
          </dl>
          <Places faults={check.faults} go={go} />
        </>
      )}
    </section>
  )
}

/** The places of the faults: from one to the next, or by a list. */
function Places({ faults, go }: { faults: readonly Fault[]; go(i: number): void }) {
  const fault = useBench((s) => s.fault)
  const count = many(faults.length)
  return (
    <>
      {faults.length > 0 && (
        <div className="d-flex justify-content-between align-items-center mb-1">
          <span className="small soft">{fault === null ? `${count} places` : `${fault + 1} of ${count}`}</span>
          <span>
            <button
              type="button"
              className="icon-button"
              aria-label="Fault before"
              onClick={() => go((fault ?? 0) - 1)}
            >
              <ChevronLeft size={16} />
            </button>
            <button
              type="button"
              className="icon-button"
              aria-label="Next fault"
              onClick={() => go(fault === null ? 0 : fault + 1)}
            >
              <ChevronRight size={16} />
            </button>
          </span>
        </div>
      )}
      <div className="fault-list">
        {faults.slice(0, 60).map((f, i) => (
          <button key={i} type="button" aria-current={fault === i} onClick={() => go(i)}>
            <span>{f.kind}</span>
            <span className="figure">
              {f.length !== undefined ? `${num(f.length, 1)} mm` : f.at.map((v) => num(v, 0)).join(' ')}
            </span>
          </button>
        ))}
      </div>
    </>
  )
}
