/** The cage in hand: how it stands after its edits, what is picked on it, and how the next edit is made. */
import { useStore } from 'zustand'
import { createStore } from 'zustand/vanilla'
import { nothing, pointsOf, targetOf, type Picked } from '@/core/cage/edit/net'
import { pickedAs, type PickSort } from '@/core/cage/edit/select'
import type { Axis, CageEdit, EditKind } from '@/core/cage/edit/schema'
import type { Vec3 } from '@/core/math/vec'
import type { Cage } from '@/core/subdivision/subdivide'
import { latest } from '@/bench/hands/moment'
import { benchBodies } from '@/bench/state/bodies'
import { useTool, type ToolInHand } from '@/bench/state/tool'
import { cageWorker } from './client'

export const cageKind = 'convert/edit-cage'

/** How far one pick reaches. */
export type Extent = 'one' | 'loop' | 'ring' | 'patch'
export type PickWay = 'click' | 'box' | 'lasso' | 'draw'
export type HandleSort = 'move' | 'turn' | 'scale'

/** Numbers of the actions, as they were last. */
export interface Numbers {
  distance: number
  share: number
  rows: number
  sharpness: number
  within: number
  times: number
  angle: number
  factor: number
}

export interface Skin {
  readonly skin: Float32Array
  readonly normals: Float32Array
  readonly index: Uint32Array
  readonly off: Float32Array | null
}

interface CageState {
  /** The body that is edited, and those joined to it, by content. */
  hash: string | null
  cage: Cage | null
  skin: Skin | null
  shape: number
  /** How many edits it has had. */
  after: number
  sort: PickSort
  extent: Extent
  way: PickWay
  through: boolean
  handles: HandleSort
  picked: Picked
  /** Picks before each change of them. */
  before: readonly Picked[]
  hot: number | null
  reach: number
  symmetric: Axis | null
  /** Where the plane of symmetry and of mirroring lies on its axis, mm. */
  planeAt: number
  wear: boolean
  /** The scan is drawn, faint. */
  showScan: boolean
  action: EditKind
  numbers: Numbers
  axis: Axis
  keep: '+' | '-'
  always: boolean
  mergeAt: 'middle' | 'first' | 'last'
  /** A loop that is put in ends at the two picked edges. */
  between: boolean
  refusal: string | null
  /** Something is being pulled at. */
  pulling: boolean
  /** Corners of the face that is being drawn. */
  corners: readonly Vec3[]
}

const fresh = {
  hash: null,
  cage: null,
  skin: null,
  shape: -1,
  after: 0,
  picked: nothing,
  before: [],
  hot: null,
  refusal: null,
  pulling: false,
  corners: [],
}

export const cageStore = createStore<CageState>(() => ({
  ...fresh,
  sort: 'points',
  extent: 'one',
  way: 'click',
  through: false,
  handles: 'move',
  reach: 0,
  symmetric: null,
  planeAt: 0,
  wear: false,
  showScan: false,
  action: 'extrude',
  numbers: { distance: 5, share: 50, rows: 1, sharpness: 2, within: 0.01, times: 5, angle: 15, factor: 1.1 },
  axis: 'x',
  keep: '+',
  always: true,
  mergeAt: 'middle',
  between: false,
}))
export const useCage = <T>(pick: (s: CageState) => T): T => useStore(cageStore, pick)

export const editsOf = (tool: Pick<ToolInHand, 'kind' | 'values'> | null): readonly CageEdit[] =>
  tool?.kind === cageKind ? ((tool.values.edits as CageEdit[] | undefined) ?? []) : []

/** Cages that become part of the one in hand. */
export const joinedTo = (tool: Pick<ToolInHand, 'kind' | 'values'> | null): readonly string[] =>
  tool?.kind === cageKind ? ((tool.values.joined as string[] | undefined) ?? []) : []

/** The edit that was made last by hand, until the worker has taken it. */
let asked: CageEdit | null = null

interface Asked {
  readonly hashes: readonly string[]
  readonly edits: readonly CageEdit[]
  readonly scan: string | null
  readonly wear: boolean
}

/** Asks for the cage as it is after the edits of the tool in hand. */
export const showCage = latest(async ({ hashes, edits, scan, wear }: Asked) => {
  const s = cageStore.getState()
  const hash = hashes.join()
  const same = s.hash === hash
  const view = await cageWorker().show(hashes, edits, scan, wear, same ? s.shape : -1)
  if (useTool.getState().tool?.kind !== cageKind) return
  if ('code' in view) return change({ refusal: `The cage cannot be shown: ${view.message}` })
  const now = cageStore.getState()
  const changed = view.shape !== now.shape || !same
  const { quads, creases, corners, index } = view
  if (changed && !(quads && creases && corners && index)) return
  const cage: Cage = changed
    ? { positions: view.positions, quads: quads!, creases: creases!, corners: corners! }
    : { ...now.cage!, positions: view.positions }
  cageStore.setState({
    hash,
    cage,
    shape: view.shape,
    after: edits.length,
    skin: { skin: view.skin, normals: view.normals, index: index ?? now.skin!.index, off: view.off },
    // Faces keep their numbers through what adds some; anything else that is picked would be another thing.
    ...(changed && !keeps(now, cage, same) ? { picked: nothing, before: [], hot: null } : {}),
    ...(changed && keeps(now, cage, same) ? { before: [], hot: null } : {}),
    ...(view.error ? { refusal: `${view.error.message} ${view.error.tryThis ?? ''}`.trim() } : {}),
  })
  if (view.error && asked && edits[edits.length - 1] === asked) {
    // What was asked for by hand just now and cannot be done is not kept.
    useTool.getState().undo()
  }
  if (asked && edits.includes(asked)) asked = null
})

const keeps = (s: CageState, cage: Cage, same: boolean) =>
  same && !!s.cage && s.picked.faces.length > 0 && cage.quads.length > s.cage.quads.length

/** Puts the cage away with what was picked on it. */
export const putCageAway = (): void => cageStore.setState(fresh)

/** Asks again with the settings as they are by now. */
export function refreshCage(): void {
  const { tool } = useTool.getState()
  if (tool?.kind !== cageKind) return
  const bodies = benchBodies()
  const hashOf = (name: unknown) => bodies.find((b) => b.name === name)?.hash
  const own = hashOf(tool.values.body)
  const others = joinedTo(tool).map(hashOf)
  const scan = bodies.find((b) => b.name === tool.values.scan)?.hash ?? null
  if (own)
    showCage({
      hashes: [own, ...others.filter((h) => h !== undefined)],
      edits: editsOf(tool),
      scan,
      wear: cageStore.getState().wear,
    })
}

export const change = (by: Partial<CageState>): void => cageStore.setState(by)

/** Picks something else; what was picked before can be had back. */
export function pick(picked: Picked): void {
  const s = cageStore.getState()
  change({ picked, before: [...s.before.slice(-50), s.picked], refusal: null })
}

export const isPicked = ({ points, edges, faces }: Picked): boolean => points.length + edges.length + faces.length > 0

/** What is picked is of one sort at a time: another sort takes over what it holds whole. */
export function chooseSort(sort: PickSort): void {
  const { cage, picked } = cageStore.getState()
  change({ sort, hot: null, extent: 'one' })
  if (cage && isPicked(picked)) pick(pickedAs(cage, picked, sort))
}

/** What the next edit is done to, told by places; with it whether it is done on both sides. */
export function targetNow(): Record<string, unknown> {
  const { cage, picked, symmetric, planeAt } = cageStore.getState()
  const both = symmetric ? { symmetric, ...(planeAt ? { symmetricAt: planeAt } : {}) } : {}
  return cage ? { ...targetOf(cage, picked), ...both } : {}
}

/** Adds an edit, or puts another in the place of the one that is being dragged. `base`: the edits before it. */
export function addEdit(edit: CageEdit, base = editsOf(useTool.getState().tool), first = true): void {
  asked = first ? edit : null
  change({ refusal: null })
  useTool.getState().drag({ edits: [...base, edit] }, first)
}

/** Middle of what is picked, by its points; null where nothing is. */
export function middleOf(cage: Cage, picked: Picked): [number, number, number] | null {
  const list = pointsOf(cage, picked)
  if (!list.length) return null
  return [0, 1, 2].map((k) => list.reduce((s, v) => s + cage.positions[3 * v + k], 0) / list.length) as [
    number,
    number,
    number,
  ]
}
