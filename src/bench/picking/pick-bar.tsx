'use client'
/** How picks on the bench are made: the way, add or take away, front only or right through, and the region's own changes. */
import { useBench, type PickWay } from '@/bench/state/store'
import { many } from '@/core/base/say'
import type { Pick, Region } from '@/core/find/region'

const ways: [PickWay, string][] = [
  ['grow', 'Grow'],
  ['brush', 'Brush'],
  ['box', 'Box'],
  ['lasso', 'Lasso'],
  ['polygon', 'Polygon'],
  ['circle', 'Circle'],
  ['piece', 'Whole piece'],
]

export function PickBar({ field }: { field: string }) {
  const { pick, tool, pickedCount } = useBench()
  const { set, setValues } = useBench.getState()
  const region = (tool?.values[field] as Region | undefined) ?? []
  const change = (c: Partial<typeof pick>) => set({ pick: { ...pick, ...c } })
  const add = (p: Pick) => setValues({ [field]: [...region, p] })
  const angle = (value: number) => {
    change({ angle: value })
    // The angle is live: it changes the grow just made.
    const last = region.at(-1)
    if (last?.pick === 'grow') setValues({ [field]: [...region.slice(0, -1), { ...last, angle: value }] })
  }
  return (
    <div className="pick-bar" role="group" aria-label="Picking">
      <div className="row-of">
        {ways.map(([w, l]) => (
          <button key={w} type="button" aria-pressed={pick.way === w} onClick={() => change({ way: w })}>
            {l}
          </button>
        ))}
      </div>
      <div className="row-of">
        <button type="button" aria-pressed={pick.mode === 'add'} onClick={() => change({ mode: 'add' })}>
          Add
        </button>
        <button type="button" aria-pressed={pick.mode === 'take'} onClick={() => change({ mode: 'take' })}>
          Take away
        </button>
      </div>
      {pick.way === 'grow' && (
        <label>
          up to <span className="figure">{pick.angle}°</span>
          <input
            type="range"
            min={1}
            max={90}
            value={pick.angle}
            aria-label="Grow up to an angle"
            style={{ width: 84 }}
            onChange={(e) => angle(Number(e.target.value))}
          />
        </label>
      )}
      {pick.way === 'brush' && (
        <label>
          radius <span className="figure">{pick.radius} mm</span>
          <input
            type="range"
            min={0.5}
            max={30}
            step={0.5}
            value={pick.radius}
            aria-label="Brush radius"
            style={{ width: 74 }}
            onChange={(e) => change({ radius: Number(e.target.value) })}
          />
        </label>
      )}
      {(pick.way === 'box' || pick.way === 'lasso' || pick.way === 'polygon' || pick.way === 'circle') && (
        <div className="row-of">
          <button type="button" aria-pressed={!pick.through} onClick={() => change({ through: false })}>
            Front only
          </button>
          <button type="button" aria-pressed={pick.through} onClick={() => change({ through: true })}>
            Right through
          </button>
        </div>
      )}
      <div className="row-of">
        <button type="button" onClick={() => add({ pick: 'invert' })}>
          Invert
        </button>
        <button type="button" onClick={() => add({ pick: 'grow-ring' })}>
          + ring
        </button>
        <button type="button" onClick={() => add({ pick: 'shrink-ring' })}>
          − ring
        </button>
        <button type="button" onClick={() => setValues({ [field]: region.slice(0, -1) })}>
          Back
        </button>
      </div>
      <label>
        by{' '}
        <select
          aria-label="Pick by"
          value=""
          onChange={(e) => {
            const v = e.target.value
            if (v === 'small') add({ pick: 'small-pieces', mode: pick.mode, below: 0.05 })
            else if (v) add({ pick: 'fault', mode: pick.mode, fault: v as 'fold' })
          }}
        >
          <option value="">fault or size</option>
          <option value="fold">folds</option>
          <option value="crossing">crossings</option>
          <option value="degenerate">degenerate</option>
          <option value="duplicate">duplicates</option>
          <option value="rim">along rims</option>
          <option value="small">small pieces</option>
        </select>
      </label>
      <span className="figure" style={{ color: 'var(--plum)' }} data-testid="picked">
        {many(pickedCount)} triangles
      </span>
    </div>
  )
}
