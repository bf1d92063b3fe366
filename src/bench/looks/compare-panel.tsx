/** Two bodies looked at against each other. */
import { X } from 'lucide-react'
import type { BenchBody } from '@/bench/state/job'
import { useBench } from '@/bench/state/store'

export function ComparePanel({ bodies }: { bodies: BenchBody[] }) {
  const c = useBench((s) => s.comparison)
  const stacked = useBench((s) => s.sections.length > 0)
  const set = useBench((s) => s.set)
  if (!c) return null
  const change = (x: Partial<typeof c>) => set({ comparison: { ...c, ...x } })
  return (
    <section
      className="look-panel"
      aria-label="Compare"
      data-testid="compare-panel"
      style={stacked ? { top: 190 } : undefined}
    >
      <div className="d-flex justify-content-between align-items-center">
        <h3>Compare</h3>
        <button
          type="button"
          className="icon-button"
          aria-label="Close the comparison"
          onClick={() => set({ comparison: null })}
        >
          <X size={15} />
        </button>
      </div>
      <div className="row-of">
        {(['a', 'b'] as const).map((k) => (
          <select
            key={k}
            className="form-select form-select-sm"
            aria-label={k === 'a' ? 'First body' : 'Second body'}
            value={c[k]}
            onChange={(e) => change({ [k]: e.target.value })}
          >
            {bodies.map((b) => (
              <option key={b.name} value={b.name}>
                {b.name}
              </option>
            ))}
          </select>
        ))}
      </div>
      <div className="row-of">
        {(['side by side', 'overlaid', 'wiped'] as const).map((h) => (
          <button key={h} type="button" aria-pressed={c.how === h} onClick={() => change({ how: h })}>
            {h}
          </button>
        ))}
      </div>
      {c.how === 'wiped' && (
        <div className="row-of">
          <input
            type="range"
            min={0}
            max={1}
            step={0.005}
            value={c.at}
            aria-label="Wipe"
            onChange={(e) => change({ at: Number(e.target.value) })}
          />
        </div>
      )}
    </section>
  )
}
