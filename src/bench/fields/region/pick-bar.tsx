/** How picks on the bench are made: the way, add or take away, front only or right through, and the region's own changes. */
import { useId } from 'react'
import { Dropdown } from 'react-bootstrap'
import { many } from '@/core/base/say'
import type { Pick, Region } from '@/core/find/region'
import { useBench, type PickOptions, type PickWay } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { BrushRadius } from './brush-radius'

const ways: [PickWay, string][] = [
  ['grow', 'Grow'],
  ['face', 'Face'],
  ['brush', 'Brush'],
  ['box', 'Box'],
  ['lasso', 'Lasso'],
  ['polygon', 'Polygon'],
  ['circle', 'Circle'],
  ['piece', 'Whole piece'],
]
const drawn = new Set<PickWay>(['box', 'lasso', 'polygon', 'circle'])

type Mode = PickOptions['mode']
const kinds: [string, (mode: Mode) => Pick][] = [
  ['folds', (mode) => ({ pick: 'fault', mode, fault: 'fold' })],
  ['crossings', (mode) => ({ pick: 'fault', mode, fault: 'crossing' })],
  ['degenerate', (mode) => ({ pick: 'fault', mode, fault: 'degenerate' })],
  ['duplicates', (mode) => ({ pick: 'fault', mode, fault: 'duplicate' })],
  ['along rims', (mode) => ({ pick: 'fault', mode, fault: 'rim' })],
  ['small pieces', (mode) => ({ pick: 'small-pieces', mode, below: 0.05 })],
]

export function PickBar({ field }: { field: string }) {
  const pick = useBench((s) => s.pick)
  const region = useTool((s) => s.tool?.values[field] as Region | undefined) ?? []
  const picked = useTool((s) => s.picked)
  const set = useBench((s) => s.set)
  const { pick: take, setValues, undo } = useTool.getState()
  const id = useId()
  const change = (c: Partial<PickOptions>) => set({ pick: { ...pick, ...c } })
  const add = (p: Pick) => take({ [field]: [...region, p] })
  /** What Grow follows is live: it changes the grow just made. */
  const grow = (c: Partial<{ follow: PickOptions['follow']; angle: number }>) => {
    change(c)
    const last = region.at(-1)
    if (last?.pick === 'grow') setValues({ [field]: [...region.slice(0, -1), { ...last, ...c }] })
  }
  return (
    <div className="pick-bar" role="group" aria-label="Picking">
      <div className="line">
        <div className="row-of">
          {ways.map(([w, l]) => (
            <button key={w} type="button" aria-pressed={pick.way === w} onClick={() => change({ way: w })}>
              {l}
            </button>
          ))}
        </div>
        {pick.way === 'grow' && (
          <div className="row-of">
            <button
              type="button"
              aria-pressed={pick.follow === 'surface'}
              title="As far as one surface goes; fillets are left out"
              onClick={() => grow({ follow: 'surface' })}
            >
              Surface
            </button>
            <button
              type="button"
              aria-pressed={pick.follow === 'angle'}
              title="Across all edges that bend less than an angle"
              onClick={() => grow({ follow: 'angle' })}
            >
              Angle
            </button>
          </div>
        )}
        <div className="row-of">
          <button type="button" aria-pressed={pick.mode === 'add'} onClick={() => change({ mode: 'add' })}>
            Add
          </button>
          <button type="button" aria-pressed={pick.mode === 'take'} onClick={() => change({ mode: 'take' })}>
            Take away
          </button>
        </div>
      </div>
      <div className="line">
        {pick.way === 'grow' && pick.follow === 'angle' && (
          <label>
            up to <span className="figure">{pick.angle}°</span>
            <input
              type="range"
              className="form-range"
              min={1}
              max={90}
              value={pick.angle}
              aria-label="Grow up to an angle"
              onChange={(e) => grow({ angle: Number(e.target.value) })}
            />
          </label>
        )}
        {pick.way === 'brush' && <BrushRadius label="radius" />}
        {drawn.has(pick.way) && (
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
          <Dropdown as="span">
            <Dropdown.Toggle as="button" type="button" id={id} title="Pick by a kind of fault, or by size">
              By kind
            </Dropdown.Toggle>
            <Dropdown.Menu>
              {kinds.map(([words, make]) => (
                <Dropdown.Item key={words} as="button" type="button" onClick={() => add(make(pick.mode))}>
                  {words}
                </Dropdown.Item>
              ))}
            </Dropdown.Menu>
          </Dropdown>
          <button
            type="button"
            title="Take back the last pick (Esc)"
            disabled={!region.length}
            onClick={() => {
              if (!undo()) setValues({ [field]: region.slice(0, -1) })
            }}
          >
            Undo pick
          </button>
        </div>
        <span className="figure picked" data-testid="picked">
          {many(picked)} triangles
        </span>
      </div>
    </div>
  )
}
