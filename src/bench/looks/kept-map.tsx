'use client'
/** What was kept, moved, made up and lost of a body by a mending step: the button that shows it, and the legend. */
import { useQuery } from '@tanstack/react-query'
import { X } from 'lucide-react'
import { num } from '@/core/base/say'
import type { Facts } from '@/core/base/facts'
import { isLive } from '@/bench/draw/displays'
import { picking } from '@/bench/picking/client'
import { useBench, type KeptMap } from '@/bench/state/store'

/** Colours of what is not as it was; what was kept has the body's own. */
export const keptColours = { moved: '#c08a1e', fresh: '#8a2f63', lost: '#a5352a', inside: '#5d6670' } as const
export type Changed = keyof typeof keptColours
const labels: Record<Changed, string> = { moved: 'moved', fresh: 'new', lost: 'lost', inside: 'lay inside' }

/** The parts of both skins that changed, by what became of them. */
export function useKept(map: KeptMap | null) {
  return useQuery({
    queryKey: ['kept', map?.before, map?.after, map?.united],
    queryFn: () => picking().kept(map!.before, map!.after, map!.united),
    enabled: !!map,
    staleTime: Infinity,
  })
}

/** Whether a step's facts tell of anything a map could show. */
export const worthShowing = (facts: Facts): boolean =>
  facts.kept !== undefined && ['lost', 'fresh', 'inside'].some((k) => Number(facts[k] ?? 0) > 0.0005)

interface ButtonProps {
  name: string
  before: string | null | undefined
  after: string | null | undefined
  facts: Facts
  className?: string
}

export function KeptButton({ name, before, after, facts, className = 'btn btn-quiet btn-sm' }: ButtonProps) {
  const now = useBench((s) => s.kept)
  const set = useBench((s) => s.set)
  if (!before || !after || before === after || isLive(after) || !worthShowing(facts)) return null
  const on = now?.after === after && now.before === before
  return (
    <button
      type="button"
      className={className}
      aria-pressed={on}
      onClick={() =>
        set({
          kept: on
            ? null
            : { name, before, after, united: facts.inside !== undefined, specks: Number(facts.specks ?? 0) > 0 },
          map: null,
        })
      }
    >
      {on ? 'Hide what was kept' : 'Show what was kept'}
    </button>
  )
}

export function KeptLegend() {
  const map = useBench((s) => s.kept)
  const set = useBench((s) => s.set)
  const { data } = useKept(map)
  if (!map) return null
  const percent = (share: number) => `${num(100 * share, share > 0 && share < 0.001 ? 3 : 1)} %`
  return (
    <section className="map-legend" aria-label="What was kept" data-testid="kept-legend">
      <div className="d-flex justify-content-between align-items-center mb-1">
        <span>{map.name}: what was kept</span>
        <button type="button" className="icon-button" aria-label="Close the map" onClick={() => set({ kept: null })}>
          <X size={14} />
        </button>
      </div>
      {!data ? (
        <div className="soft">measuring every triangle…</div>
      ) : (
        <dl className="figures mb-0">
          <dt>kept where it was</dt>
          <dd>{percent(data.shares.kept)}</dd>
          {(Object.keys(keptColours) as Changed[])
            .filter((k) => data[k].length)
            .flatMap((k) => [
              <dt key={k}>
                <span className="swatch" style={{ background: keptColours[k] }} /> {labels[k]}
                {k === 'lost' && map.specks ? ', specks too' : ''}
              </dt>,
              <dd key={`${k}v`}>{percent(data.shares[k])}</dd>,
            ])}
        </dl>
      )}
    </section>
  )
}
