/** How picks on the bench are made: the way, add or take away, front only or right through, and the region's own changes. */
import { useId } from 'react'
import { Dropdown } from 'react-bootstrap'
import { many } from '@/core/base/say'
import type { Pick, Region } from '@/core/find/region'
import { useBench, type PickOptions, type PickWay } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { BrushRadius } from './brush-radius'

const ways: readonly { readonly value: PickWay; readonly label: string }[] = [
  { value: 'grow', label: 'Grow' },
  { value: 'face', label: 'Face' },
  { value: 'brush', label: 'Brush' },
  { value: 'box', label: 'Box' },
  { value: 'lasso', label: 'Lasso' },
  { value: 'polygon', label: 'Polygon' },
  { value: 'circle', label: 'Circle' },
  { value: 'piece', label: 'Whole piece' },
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

/** Buttons of which one is pressed. */
function OneOf<T extends string>(p: {
  list: readonly { readonly value: T; readonly label: string; readonly title?: string }[]
  value: T
  choose(value: T): void
}) {
  return (
    <div className="row-of">
      {p.list.map(({ value, label, title }) => (
        <button
          key={value}
          type="button"
          aria-pressed={p.value === value}
          title={title}
          onClick={() => p.choose(value)}
        >
          {label}
        </button>
      ))}
    </div>
  )
}

const follows = [
  { value: 'surface', label: 'Surface', title: 'As far as one surface goes; fillets are left out' },
  { value: 'angle', label: 'Angle', title: 'Across all edges that bend less than an angle' },
] as const
const modes = [
  { value: 'add', label: 'Add' },
  { value: 'take', label: 'Take away' },
] as const
const depths = [
  { value: 'front', label: 'Front only' },
  { value: 'through', label: 'Right through' },
] as const

export function PickBar({ field }: { field: string }) {
  const pick = useBench((s) => s.pick)
  const region = useTool((s) => s.tool?.values[field] as Region | undefined) ?? []
  const picked = useTool((s) => s.picked)
  const set = useBench((s) => s.set)
  const change = (c: Partial<PickOptions>) => set({ pick: { ...pick, ...c } })
  /** What Grow follows is live: it changes the grow just made. */
  const grow = (c: Partial<{ follow: PickOptions['follow']; angle: number }>) => {
    change(c)
    const last = region.at(-1)
    if (last?.pick === 'grow') useTool.getState().setValues({ [field]: [...region.slice(0, -1), { ...last, ...c }] })
  }
  return (
    <div className="pick-bar" role="group" aria-label="Picking">
      <div className="line">
        <OneOf list={ways} value={pick.way} choose={(way) => change({ way })} />
        {pick.way === 'grow' && <OneOf list={follows} value={pick.follow} choose={(follow) => grow({ follow })} />}
        <OneOf list={modes} value={pick.mode} choose={(mode) => change({ mode })} />
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
          <OneOf
            list={depths}
            value={pick.through ? 'through' : 'front'}
            choose={(depth) => change({ through: depth === 'through' })}
          />
        )}
        <Changes field={field} region={region} mode={pick.mode} />
        <span className="figure picked" data-testid="picked">
          {many(picked)} triangles
        </span>
      </div>
    </div>
  )
}

/** What is done to the region as a whole. */
function Changes({ field, region, mode }: { field: string; region: Region; mode: Mode }) {
  const { pick: take, setValues, undo } = useTool.getState()
  const id = useId()
  const add = (p: Pick) => take({ [field]: [...region, p] })
  return (
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
            <Dropdown.Item key={words} as="button" type="button" onClick={() => add(make(mode))}>
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
  )
}
