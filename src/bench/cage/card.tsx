/** The card of a cage in hand: what is picked and how, what is pulled at, and the numbers of the action that was chosen. */
import { useMemo } from 'react'
import { Form } from 'react-bootstrap'
import { many, num, plural } from '@/core/base/say'
import { reportError } from '@/core/base/step-error'
import { applyEdit } from '@/core/cage/edit/apply'
import { faceCount } from '@/core/cage/edit/net'
import { allOf, grown, inverted, shrunk, type PickSort } from '@/core/cage/edit/select'
import { editWords, type Axis, type CageEdit, type EditKind } from '@/core/cage/edit/schema'
import { Button } from '@/bench/forms/button'
import { NumberField } from '@/bench/forms/number-field'
import { useTool } from '@/bench/state/tool'
import { actions, doAction, editOf, type Action } from './actions'
import { EditList } from './edit-list'
import { wornBounds } from './over'
import {
  cageStore,
  change,
  chooseSort,
  editsOf,
  isPicked,
  pick,
  useCage,
  type Extent,
  type HandleSort,
  type Numbers,
  type PickWay,
} from './state'

/** One of a few words, side by side. */
function Words<T extends string | boolean>({
  label,
  all,
  now,
  onChange,
}: {
  label: string
  all: readonly (readonly [T, string])[]
  now: T
  onChange(v: T): void
}) {
  return (
    <div className="seg mt-1 mb-1" role="radiogroup" aria-label={label}>
      {all.map(([v, w]) => (
        <button key={String(v)} type="button" role="radio" aria-checked={v === now} onClick={() => onChange(v)}>
          {w}
        </button>
      ))}
    </div>
  )
}

const sorts: readonly (readonly [PickSort, string])[] = [
  ['points', 'Points'],
  ['edges', 'Edges'],
  ['faces', 'Faces'],
]
const extents: Record<PickSort, readonly (readonly [Extent, string])[]> = {
  points: [],
  edges: [
    ['one', 'One'],
    ['loop', 'Loop'],
    ['ring', 'Ring'],
  ],
  faces: [
    ['one', 'One'],
    ['patch', 'Smooth patch'],
  ],
}
const ways: readonly (readonly [PickWay, string])[] = [
  ['click', 'Click'],
  ['box', 'Box'],
  ['lasso', 'Lasso'],
  ['draw', 'Draw'],
]
const pulls: readonly (readonly [HandleSort, string])[] = [
  ['move', 'Move'],
  ['turn', 'Turn'],
  ['scale', 'Scale'],
]

export function CageWork() {
  const tool = useTool((s) => s.tool)
  return (
    <div data-testid="cage-card">
      <Refused />
      <Picking />
      <Doing />
      <Pulling />
      <EditList edits={editsOf(tool)} onBack={(edits) => useTool.getState().pick({ edits })} />
    </div>
  )
}

function Refused() {
  const refusal = useCage((s) => s.refusal)
  return refusal ? (
    <div className="told bad" role="alert" data-testid="refused">
      {refusal}
    </div>
  ) : null
}

function Picking() {
  const sort = useCage((s) => s.sort)
  const extent = useCage((s) => s.extent)
  const way = useCage((s) => s.way)
  const through = useCage((s) => s.through)
  const picked = useCage((s) => s.picked)
  const n = picked[sort].length
  const by = (f: (c: NonNullable<ReturnType<typeof cageStore.getState>['cage']>) => typeof picked) => () => {
    const { cage } = cageStore.getState()
    if (cage) pick(f(cage))
  }
  const none = { points: [], edges: [], faces: [] }
  // Of a cage that is not yet there nothing can be picked.
  const edits = useTool((s) => editsOf(s.tool).length)
  const after = useCage((s) => s.after)
  return (
    <div className="mb-2">
      <Words label="What is picked" all={sorts} now={sort} onChange={chooseSort} />
      <Words label="How picks are made" all={ways} now={way} onChange={(v) => change({ way: v, corners: [] })} />
      {extents[sort].length > 0 && (
        <Words
          label="How far a pick reaches"
          all={extents[sort]}
          now={extent}
          onChange={(v) => change({ extent: v })}
        />
      )}
      <div className="d-flex flex-wrap align-items-baseline column-gap-2 small">
        <span data-testid="cage-picked" className="figure">
          {plural(n, sort.slice(0, -1))}
        </span>
        {(
          [
            ['all', by((c) => allOf(c, sort))],
            ['invert', by((c) => inverted(c, picked, sort))],
            ['more', by((c) => grown(c, picked, sort))],
            ['less', by((c) => shrunk(c, picked, sort))],
            ['none', by(() => none)],
          ] as const
        ).map(([w, run]) => (
          <button key={w} type="button" className="btn btn-link btn-sm p-0" disabled={after !== edits} onClick={run}>
            {w}
          </button>
        ))}
      </div>
      <Form.Check
        id="cage-through"
        className="small"
        label="Right through"
        checked={through}
        onChange={(e) => change({ through: e.target.checked })}
      />
    </div>
  )
}

function Pulling() {
  const handles = useCage((s) => s.handles)
  const reach = useCage((s) => s.reach)
  const symmetric = useCage((s) => s.symmetric)
  const wear = useCage((s) => s.wear)
  const cage = useCage((s) => s.cage)
  const scan = useTool((s) => s.tool?.values.scan)
  const showScan = useCage((s) => s.showScan)
  return (
    <div className="mb-2">
      <Words label="What the arrows do" all={pulls} now={handles} onChange={(v) => change({ handles: v })} />
      <div className="two-fields">
        <NumberField
          label="Soft reach"
          kind="length"
          unit="mm"
          value={reach}
          onChange={(v) => change({ reach: Math.max(0, v ?? 0) })}
        />
        <Form.Group controlId="cage-symmetric">
          <Form.Label>Both sides of</Form.Label>
          <Form.Select
            size="sm"
            value={symmetric ?? ''}
            onChange={(e) => change({ symmetric: (e.target.value || null) as Axis | null })}
          >
            <option value="">none</option>
            <option value="x">a plane square to x</option>
            <option value="y">a plane square to y</option>
            <option value="z">a plane square to z</option>
          </Form.Select>
        </Form.Group>
      </div>
      {symmetric && <PlaneAt axis={symmetric} />}
      {!!scan && (
        <Form.Check
          id="cage-scan"
          className="small mt-1"
          label="Show the scan, faint"
          checked={showScan}
          onChange={(e) => change({ showScan: e.target.checked })}
        />
      )}
      {!!scan && (
        <Form.Check
          id="cage-wear"
          className="small"
          label={
            cage ? (
              <>
                Wear the distance to the scan, to <span className="figure">±{num(wornBounds(cage).full, 2)} mm</span>
              </>
            ) : (
              'Wear the distance to the scan'
            )
          }
          checked={wear}
          onChange={(e) => change({ wear: e.target.checked })}
        />
      )}
    </div>
  )
}

/** Where the plane of symmetry or mirroring lies; the middle of the cage is one click away. */
function PlaneAt({ axis }: { axis: Axis }) {
  const planeAt = useCage((s) => s.planeAt)
  const cage = useCage((s) => s.cage)
  const middle = () => {
    if (!cage) return
    const all = cage.positions.filter((_, i) => i % 3 === 'xyz'.indexOf(axis))
    const [low, high] = all.reduce(([l, h], x) => [Math.min(l, x), Math.max(h, x)], [Infinity, -Infinity])
    change({ planeAt: Number(((low + high) / 2).toFixed(4)) })
  }
  return (
    <div className="d-flex align-items-end gap-2">
      <div className="flex-fill">
        <NumberField
          label={`Plane at ${axis} =`}
          kind="length"
          unit="mm"
          value={planeAt}
          onChange={(v) => change({ planeAt: v ?? 0 })}
        />
      </div>
      <button type="button" className="btn btn-link btn-sm p-0 pb-1" onClick={middle}>
        its middle
      </button>
    </div>
  )
}

const fields: Record<keyof Numbers, readonly [label: string, kind: 'length' | 'plain' | 'angle', unit?: string]> = {
  distance: ['Distance', 'length', 'mm'],
  share: ['Where along the edges', 'plain', '%'],
  rows: ['Rows of faces', 'plain'],
  sharpness: ['Sharpness, 0 to 10', 'plain'],
  within: ['Within', 'length', 'mm'],
  times: ['Times', 'plain'],
  angle: ['Angle', 'angle', '°'],
  factor: ['Times', 'plain'],
}

/** How many faces the loop in hand would make of those there are: a ring may wind through the whole cage. */
function LoopCount() {
  const cage = useCage((s) => s.cage)
  // All that the edit is told by.
  useCage((s) => s.picked)
  useCage((s) => s.symmetric)
  const key = JSON.stringify(editOf('loop'))
  const told = useMemo(() => {
    if (!cage) return ''
    try {
      const edit = JSON.parse(key) as CageEdit
      return `${many(faceCount(cage))} faces become ${many(faceCount(applyEdit(cage, edit, null)))}.`
    } catch (error) {
      return reportError(error).message
    }
  }, [cage, key])
  return (
    <p className="small soft mb-1" data-testid="loop-count">
      {told}
    </p>
  )
}

type ChosenKey = 'axis' | 'keep' | 'mergeAt' | 'between'

/** What an action wants to be told by one of a few words. */
function choiceOf(want: string, kind: EditKind) {
  const choice = <K extends ChosenKey>(
    key: K,
    label: string,
    all: readonly (readonly [ReturnType<typeof cageStore.getState>[K], string])[],
  ) => ({ key, label, all })
  const square = kind === 'mirror'
  switch (want) {
    case 'axis':
      return choice('axis', 'Axis', [
        ['x', square ? 'square to x' : 'about x'],
        ['y', square ? 'to y' : 'about y'],
        ['z', square ? 'to z' : 'about z'],
      ])
    case 'side':
      return choice('keep', 'Side that is kept', [
        ['+', 'keep above it'],
        ['-', 'keep below it'],
      ])
    case 'mergeAt':
      return choice('mergeAt', 'Where they meet', [
        ['middle', 'in the middle'],
        ['first', 'at the first'],
        ['last', 'at the last'],
      ])
    case 'between':
      return choice('between', 'How far it runs', [
        [false, 'all round'],
        [true, 'between two'],
      ])
    default:
      return null
  }
}

/** One thing that an action wants to be told. */
function Want({ want, kind }: { want: NonNullable<Action['wants']>[number]; kind: EditKind }) {
  const numbers = useCage((s) => s.numbers)
  const always = useCage((s) => s.always)
  const axis = useCage((s) => s.axis)
  const choice = choiceOf(want, kind)
  const chosen = useCage((s) => choice && s[choice.key])
  if (choice)
    return (
      <Words<string | boolean>
        label={choice.label}
        all={choice.all}
        now={chosen!}
        onChange={(v) => change({ [choice.key]: v })}
      />
    )
  switch (want) {
    case 'planeAt':
      return <PlaneAt axis={axis} />
    case 'always':
      return (
        <Form.Check
          id="cage-always"
          className="small"
          label="for ever"
          checked={always}
          onChange={(e) => change({ always: e.target.checked })}
        />
      )
    default: {
      if (want === 'sharpness' && always) return null
      const key = want as keyof Numbers
      const [label, sort, unit] = fields[key]
      return (
        <NumberField
          label={label}
          kind={sort}
          unit={unit}
          value={numbers[key]}
          onChange={(v) => change({ numbers: { ...cageStore.getState().numbers, [key]: v ?? 0 } })}
        />
      )
    }
  }
}

/** The action that was chosen in the tray, with its numbers. */
function Doing() {
  const kind = useCage((s) => s.action)
  const some = useCage((s) => isPicked(s.picked))
  const action = actions.find((a) => a.kind === kind)
  if (!action?.wants) return null
  const whole = ['mirror', 'thicken', 'weld', 'relax'].includes(kind)
  return (
    <fieldset className="action mb-2" aria-label={editWords[kind]}>
      <legend>{editWords[kind]}</legend>
      {action.wants.map((w) => (
        <Want key={w} want={w} kind={kind} />
      ))}
      {kind === 'loop' && some && <LoopCount />}
      <Button size="sm" variant="quiet" className="mt-1" disabled={!some && !whole} onClick={() => doAction(kind)}>
        {editWords[kind]}
      </Button>
    </fieldset>
  )
}
