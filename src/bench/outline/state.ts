/** The drawing in hand: its plane, what is being drawn, what is picked, and what the solver said of it. */
import { useStore } from 'zustand'
import { createStore } from 'zustand/vanilla'
import { StepError } from '@/core/base/step-error'
import type { Constraint, Dimension } from '@/core/outline/constraint'
import type { Anchor } from '@/core/outline/draw'
import {
  drawingPlane,
  drawingSchema,
  emptyDrawing,
  type Drawing,
  type DrawingPlane,
  type Place,
} from '@/core/outline/drawing'
import { ownerWord } from '@/core/outline/words'
import { dimensionsOf } from '@/core/recipe/values'
import { directionOf, vectorOf } from '@/bench/hands/handle-kits'
import { jobValues } from '@/bench/state/values'
import { useBench } from '@/bench/state/store'
import { useTool, type ToolInHand } from '@/bench/state/tool'
import type { Snap } from '@/core/outline/snap'
import { outlineWorker } from './client'
import type { Analysis, Numbers, Settled } from './outline-worker'
import type { WayId, WayOptions } from './ways'

export const outlineKind = 'build/outline'

/** Why something was not taken, with what can be done instead. */
export interface Refusal {
  readonly words: string
  /** The drawing with the new dimension as one that is only measured. */
  readonly measure?: (d: Drawing) => Drawing
}

interface OutlineState {
  way: WayId
  options: WayOptions
  placed: readonly Anchor[]
  at: Snap | null
  /** Numbers typed while drawing. */
  typed: string
  points: readonly number[]
  curves: readonly number[]
  /** The constraint or dimension that is picked. */
  sign: { of: 'constraint' | 'dimension'; index: number } | null
  hot: { point: number | null; curve: number | null }
  /** The dimension whose figure is being typed. */
  writing: number | null
  /** The drawing while it is pulled. */
  pulled: Drawing | null
  analysis: { of: Drawing; found: Analysis } | null
  refusal: Refusal | null
  /** The stretch of a reference that is being picked, and where it began. */
  stretch: { row: number; from: number; places: readonly Place[] } | null
  /** What the last fit was, in words. */
  fitted: string | null
  /** Curves of other outlines, laid on the plane. */
  behind: readonly Place[][]
  ground: { hash: string | null; plane: DrawingPlane; references: Place[][]; drawing: Drawing | null } | null
}

export const freshOutline = {
  way: 'pick' as WayId,
  placed: [],
  at: null,
  typed: '',
  points: [],
  curves: [],
  sign: null,
  hot: { point: null, curve: null },
  writing: null,
  pulled: null,
  analysis: null,
  refusal: null,
  stretch: null,
  fitted: null,
  behind: [],
  ground: null,
}

export const outline = createStore<OutlineState>(() => ({
  ...freshOutline,
  options: {
    sides: 6,
    radius: 3,
    distance: 3,
    count: 3,
    gap: 10,
    angle: 45,
    factor: 2,
    tolerance: 0.05,
    text: 'Words',
    size: 5,
    font: 'text',
    align: 'centre',
  },
}))
export const useOutline = <T>(pick: (s: OutlineState) => T): T => useStore(outline, pick)

const whole = new WeakMap<object, Drawing>()

/** A drawing as settings hold it, with the lists that may be left out there; the same object each time. */
function completed(d: Drawing | undefined): Drawing {
  if (!d) return emptyDrawing
  let made = whole.get(d)
  if (!made) {
    const parsed = drawingSchema.safeParse(d)
    const told = (list: readonly { points?: number[]; curves?: number[] }[] | undefined) =>
      (list ?? []).every((c) => c.points && c.curves)
    made = (told(d.constraints) && told(d.dimensions)) || !parsed.success ? d : parsed.data
    whole.set(d, made)
    whole.set(made, made)
  }
  return made
}

const drawingOf = (tool: ToolInHand | null): Drawing =>
  completed(tool?.kind === outlineKind ? (tool.values.drawing as Drawing | undefined) : undefined)

/** The drawing of the tool in hand; the empty one where there is none yet. */
export const drawingNow = (): Drawing => drawingOf(useTool.getState().tool)
export const useDrawing = (): Drawing => useTool((s) => drawingOf(s.tool))

/** The plane that the settings tell by numbers. */
export function planeOfValues(v: Record<string, unknown>): DrawingPlane {
  return drawingPlane(vectorOf(v.at) ?? [0, 0, 0], directionOf(v.normal) ?? [0, 0, 1], directionOf(v.x) ?? undefined)
}
/** All references that lie behind the drawing. */
export const referencesNow = (s = outline.getState()): readonly Place[][] => [
  ...(s.ground?.references ?? []),
  ...s.behind,
]

export const planeNow = (): DrawingPlane =>
  outline.getState().ground?.plane ?? planeOfValues(useTool.getState().tool?.values ?? {})

/** What each dimension is to be, with named values put in. Throws StepError `bad-value`. */
export function numbersFor(d: Drawing): Numbers {
  return dimensionsOf(d.dimensions ?? [], (n) => jobValues.getState().numbers.get(n)).map((c) =>
    c.driven || typeof c.value !== 'number' ? null : c.value,
  )
}

const say = (d: Drawing, s: Settled): string => {
  if (s.error) return `${s.error.message} ${s.error.tryThis ?? ''}`
  const clash = s.clashes.find((c) => c.conflict)
  if (!clash) return 'The drawing cannot be brought to hold this.'
  const others = clash.with.slice(0, 3).map((o) => ownerWord(d, o))
  return `${ownerWord(d, clash.owner)} contradicts ${others.length ? others.join('; ') : 'what is fixed'}.`
}

let turn = Promise.resolve()
/** One after the other: what is asked of the solver answers to the drawing that is there by then. */
const inTurn = (run: () => Promise<void>): Promise<void> =>
  (turn = turn.then(run).catch((e: unknown) => console.error(e)))

/** Whether all numbers of a drawing can be read. */
function readable(d: Drawing): boolean {
  try {
    numbersFor(d)
    return true
  } catch {
    return false
  }
}

/** Lays a drawing down at once, then as the solver settles it. For what is drawn: it holds already, or nearly. */
export function lay(next: Drawing): void {
  const wasReadable = readable(drawingNow())
  useTool.getState().pick({ drawing: next })
  outline.setState({ refusal: null })
  void inTurn(async () => {
    let values: Numbers
    try {
      values = numbersFor(next)
    } catch (error) {
      // As when a dimension goes that another speaks of: it stays.
      if (wasReadable && drawingNow() === next) useTool.getState().undo()
      return outline.setState({ refusal: { words: error instanceof StepError ? error.message : String(error) } })
    }
    const s = await outlineWorker().settle(next, values, false)
    if (drawingNow() !== next) return
    if (s.holds) useTool.getState().setValues({ drawing: s.drawing })
    else {
      useTool.getState().undo()
      outline.setState({ refusal: { words: say(next, s) }, placed: [] })
    }
  })
}

/** Takes constraints and dimensions on, if the drawing can hold them. */
export const hold = (add: { constraints?: readonly Constraint[]; dimensions?: readonly Dimension[] }): Promise<void> =>
  holdBy(
    (d) => ({
      ...d,
      constraints: [...(d.constraints ?? []), ...(add.constraints ?? [])],
      dimensions: [...(d.dimensions ?? []), ...(add.dimensions ?? [])],
    }),
    !!add.dimensions?.length,
  )

/**
 * Changes the drawing as it is by then, only if it holds afterwards. `fresh`: it takes a new dimension on, which could be kept as one that
 * is only measured.
 */
export function holdBy(change: (d: Drawing) => Drawing, fresh = false): Promise<void> {
  return inTurn(async () => {
    const from = drawingNow()
    const next = change(from)
    const old = from.dimensions?.length ?? 0
    const measure = fresh
      ? (d: Drawing): Drawing => ({
          ...d,
          dimensions: change(d).dimensions!.map((c, i) => (i >= old ? { ...c, driven: true, value: undefined } : c)),
        })
      : undefined
    const refuse = (words: string) => outline.setState({ refusal: { words, ...(measure ? { measure } : {}) } })
    let s: Settled
    try {
      s = await outlineWorker().settle(next, numbersFor(next), true)
    } catch (error) {
      return outline.setState({ refusal: { words: error instanceof Error ? error.message : String(error) } })
    }
    if (drawingNow() !== from) return
    if (!s.holds) return refuse(say(next, s))
    const again = s.clashes.find((c) =>
      c.owner.of === 'constraint'
        ? c.owner.index >= (from.constraints?.length ?? 0)
        : c.owner.of === 'dimension' && c.owner.index >= old,
    )
    if (again) {
      const words = again.with.slice(0, 3).map((o) => ownerWord(next, o))
      return refuse(
        `${ownerWord(next, again.owner)} says again what holds already${words.length ? `: ${words.join('; ')}` : ''}.`,
      )
    }
    outline.setState({ refusal: null, points: [], curves: [], sign: null })
    useTool.getState().pick({ drawing: s.drawing })
  })
}

/** Brings a drawing that was opened to what its dimensions say now: named values may have changed since it was drawn. */
export function bringUpToDate(): Promise<void> {
  return inTurn(async () => {
    const d = drawingNow()
    if (!d.dimensions?.length) return
    let s: Settled
    try {
      s = await outlineWorker().settle(d, numbersFor(d), false)
    } catch {
      return // the step says what is wrong with its numbers
    }
    if (s.holds && drawingNow() === d) useTool.getState().setValues({ drawing: s.drawing })
  })
}

/** Asks what can still move in a drawing and what it encloses. */
export async function analyse(d: Drawing): Promise<void> {
  let values: Numbers
  try {
    values = numbersFor(d)
  } catch {
    values = (d.dimensions ?? []).map(() => null)
  }
  const found = await outlineWorker().analyse(d, values, outline.getState().options.tolerance)
  if (found && drawingNow() === d) outline.setState({ analysis: { of: d, found } })
}

export const chooseWay = (way: WayId): void =>
  outline.setState({
    way,
    placed: [],
    at: null,
    typed: '',
    refusal: null,
    writing: null,
    stretch: null,
    ...(keepsPick(way) ? {} : { points: [], curves: [], sign: null }),
  })

/** Ways that work on what is picked. */
const keepsPick = (way: WayId) =>
  ['pick', 'mirror', 'offset', 'rows', 'circle-copies', 'concentric', 'shift'].includes(way)

/** Puts the drawing in hand away; one with changes in it only when that is meant. Gives whether it asks. */
export function putDrawingAway(away: () => void): boolean {
  const { tool } = useTool.getState()
  if (tool?.kind !== outlineKind || !tool.past.length) return false
  useBench.getState().set({
    question: {
      ask: 'sure',
      title: 'Put the drawing away?',
      text: 'What was drawn since it was opened goes with it. Apply keeps it.',
      yes: 'Put it away',
      done: away,
    },
  })
  return true
}
