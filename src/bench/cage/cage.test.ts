/** Editing a cage by hand, without a screen: what is aimed at, what a pull writes, what the actions make of what is picked. */
import { beforeEach, describe, expect, it } from '@jest/globals'
// First: its tools and the hands know each other.
import '@/bench/tools/registry'
import { edgeKey } from '@/core/mesh/edge-key'
import { applyEdits } from '@/core/cage/edit/apply'
import { cageBlock, cageSheet } from '@/core/cage/shapes'
import { cageEditSchema, editWords, type CageEdit, type EditKind } from '@/core/cage/edit/schema'
import type { Cage } from '@/core/subdivision/subdivide'
import { hitOn, pointerAt, viewFromAbove } from '@/testing/bench'
import { useTool } from '@/bench/state/tool'
import { actionGroups, actions, bounded, doAction, editOf } from './actions'
import { inside, under } from './aim'
import { cageHand } from './hand'
import { handlesNow } from './pulls'
import { addEdit, cageKind, cageStore, change, chooseSort, editsOf, pick, putCageAway } from './state'
import { toldOf } from './words'
import { freshBench } from '@/testing/fresh-bench'

const block = cageBlock([40, 40, 20], [4, 4, 2], true)
const sheet = cageSheet(40, 40, 4, 4)
const edits = () => editsOf(useTool.getState().tool)
const none = { points: [], edges: [], faces: [] }
const lay = (cage: Cage) => cageStore.setState({ cage })
const key = (k: string) => ({ key: k }) as KeyboardEvent

beforeEach(freshBench)
beforeEach(() => {
  putCageAway()
  change({ sort: 'points', extent: 'one', way: 'click', through: false, handles: 'move', reach: 0, symmetric: null })
  useTool.getState().take({ kind: cageKind, values: { body: 'cage' } })
  lay(block)
})

describe('aiming', () => {
  it('meets the nearest part that is seen; what lies behind only right through', () => {
    const b = viewFromAbove()
    const top = under(block, 'points', pointerAt(10.4, 9.7), b, false)!
    expect([...block.positions.slice(3 * top, 3 * top + 3)]).toEqual([10, 10, 20])
    expect(under(block, 'points', pointerAt(60, 60), b, false)).toBeNull()
    const face = under(block, 'faces', pointerAt(5, 5), b, false)!
    for (const v of block.quads.subarray(4 * face, 4 * face + 4)) expect(block.positions[3 * v + 2]).toBe(20)
    const edge = under(block, 'edges', pointerAt(5, 10.3), b, false)!
    expect([edge % 67108864, Math.floor(edge / 67108864)].map((v) => block.positions[3 * v + 1])).toEqual([10, 10])
  })
  it('a box takes the seen parts inside it, or all', () => {
    const b = viewFromAbove()
    const line = [
      [-14, -14],
      [14, -14],
      [14, 14],
      [-14, 14],
    ] as const
    expect(inside(block, 'points', line, b, false)).toHaveLength(9)
    expect(inside(block, 'points', line, b, true)).toHaveLength(18)
    expect(inside(block, 'faces', line, b, false)).toHaveLength(4)
  })
})

describe('the hand', () => {
  it('picks by clicks, unpicks what is clicked again, and Esc takes the picks back one by one, then all', async () => {
    const b = viewFromAbove()
    await cageHand.click!(pointerAt(10, 10), b)
    await cageHand.click!(pointerAt(-10, 10), b)
    expect(cageStore.getState().picked.points).toHaveLength(2)
    expect(cageHand.hint!(b)).toMatch(/^2 points picked/)
    expect(cageHand.key!(key('Escape'), b)).toBe(true)
    expect(cageStore.getState().picked.points).toHaveLength(1)
    expect(cageHand.key!(key('Escape'), b)).toBe(true)
    expect(cageStore.getState().picked.points).toHaveLength(0)
    expect(cageHand.key!(key('Escape'), b)).toBe(false)
  })
  it('takes loops, rings and smooth patches at one click', async () => {
    lay(sheet)
    const b = viewFromAbove()
    chooseSort('edges')
    change({ extent: 'loop' })
    await cageHand.click!(pointerAt(5, 0), b)
    expect(cageStore.getState().picked.edges).toHaveLength(4)
    pick(none)
    change({ extent: 'ring' })
    await cageHand.click!(pointerAt(5, 0), b)
    expect(cageStore.getState().picked.edges).toHaveLength(5)
    lay(block)
    pick(none)
    chooseSort('faces')
    change({ extent: 'patch' })
    await cageHand.click!(pointerAt(5, 5), b)
    expect(cageStore.getState().picked.faces).toHaveLength(16)
  })
  it('another sort takes over what is picked', () => {
    lay(sheet)
    pick({ ...none, faces: [0] })
    chooseSort('points')
    expect(cageStore.getState().picked.points).toHaveLength(4)
    chooseSort('edges')
    expect(cageStore.getState().picked.edges).toHaveLength(4)
  })
  it('an arrow that is dragged is one edit, whatever it passed; taken back as one', () => {
    pick({ ...none, points: [0] })
    change({ reach: 12, symmetric: 'x' })
    const x = handlesNow().find((h) => h.key === 'x')!
    const b = viewFromAbove()
    const foot = [x.at[0] + 20, x.at[1]]
    const grip = cageHand.down!(pointerAt(foot[0], foot[1]), b)!
    expect(cageStore.getState().pulling).toBe(true)
    grip.move(pointerAt(foot[0] + 6, foot[1]))
    grip.move(pointerAt(foot[0] + 12, foot[1]))
    grip.up(pointerAt(foot[0] + 12, foot[1]))
    expect(cageStore.getState().pulling).toBe(false)
    expect(edits()).toHaveLength(1)
    const [e] = edits()
    expect(e).toMatchObject({ do: 'move', reach: 12, symmetric: 'x' })
    expect((e as { by: number[] }).by[0]).toBeGreaterThanOrEqual(10)
    expect(cageEditSchema.safeParse(e).success).toBe(true)
    expect(useTool.getState().undo()).toBe(true)
    expect(edits()).toHaveLength(0)
  })
  it('what is picked is dragged in the plane of the picture, with Shift it is extruded; elsewhere the view turns', () => {
    const large = cageSheet(400, 400, 4, 4)
    lay(large)
    chooseSort('faces')
    pick({ ...none, faces: [5] })
    // Off the arrows, which stand at the middle of the face.
    const at = (dx: number, shift = false) => pointerAt(-90 + dx, -90, { shift })
    const b = () => viewFromAbove()
    expect(cageHand.down!(pointerAt(150, 150), b())).toBeNull()
    for (const shift of [false, true]) {
      const grip = cageHand.down!(at(0, shift), b())!
      grip.move(at(5))
      grip.move(at(20))
      grip.up(at(20))
    }
    expect(edits().map((e) => e.do)).toEqual(['move', 'extrude'])
    expect(applyEdits(large, edits().slice(0, 1), null).positions).not.toEqual(large.positions)
    // A click without a move unpicks it.
    const still = cageHand.down!(at(0), b())!
    still.up(at(0))
    expect(cageStore.getState().picked.faces).toEqual([])
  })
  it('four corners on the scan are a face that looks at the maker; a click beside the scan is none', async () => {
    useTool.getState().setValues({ scan: 'scan' })
    change({ way: 'draw' })
    const b = viewFromAbove()
    // With the clock as seen from above.
    const corners = [
      [0, 0, 5],
      [0, 10, 5],
      [10, 10, 5],
      [10, 0, 5],
    ] as const
    await cageHand.click!(pointerAt(1, 1, { hit: hitOn('other', [0, 0, 0]) }), b)
    expect(cageStore.getState().corners).toHaveLength(0)
    for (const c of corners.slice(0, 3)) await cageHand.click!(pointerAt(c[0], c[1], { hit: hitOn('scan', c) }), b)
    expect(cageHand.hint!(b)).toMatch(/1 to go$/)
    expect(cageHand.key!(key('Escape'), b)).toBe(true)
    expect(cageStore.getState().corners).toHaveLength(2)
    for (const c of corners.slice(2)) await cageHand.click!(pointerAt(c[0], c[1], { hit: hitOn('scan', c) }), b)
    const [e] = edits() as [Extract<CageEdit, { do: 'face' }>]
    const [p, q, r] = e.at
    // Against the clock: the cross of two sides looks up.
    expect((q[0] - p[0]) * (r[1] - q[1]) - (q[1] - p[1]) * (r[0] - q[0])).toBeGreaterThan(0)
  })
  it('Delete takes away what is picked', () => {
    lay(sheet)
    chooseSort('faces')
    pick({ ...none, faces: [0, 1] })
    expect(cageHand.key!(key('Delete'), viewFromAbove())).toBe(true)
    expect(applyEdits(sheet, edits(), null).quads.length / 4).toBe(14)
  })
})

describe('actions', () => {
  it('stand in the tray each once, and cover every edit but those of the hand', () => {
    const kinds = actions.map((a) => a.kind)
    expect(new Set(kinds).size).toBe(kinds.length)
    const all = Object.keys(editWords) as EditKind[]
    expect(all.filter((k) => !kinds.includes(k))).toEqual(['move', 'face'])
    for (const a of actions) expect(actionGroups).toContain(a.group)
  })
  it('make edits that the step takes, whatever numbers were typed', () => {
    pick({ ...none, edges: [edgeKey(block.quads[0], block.quads[1])] })
    for (const much of [1e9, -1e9, 0.37]) {
      const n = cageStore.getState().numbers
      change({ numbers: Object.fromEntries(Object.keys(n).map((k) => [k, much])) as unknown as typeof n })
      for (const { kind } of actions)
        for (const always of [true, false]) {
          change({ always })
          const parsed = cageEditSchema.safeParse(editOf(kind))
          expect([kind, parsed.error?.issues]).toEqual([kind, undefined])
        }
    }
    expect(bounded({ ...cageStore.getState().numbers, rows: 2.6, within: -1 })).toMatchObject({ rows: 3, within: 1e-6 })
  })
  it('are one edit each, told in a few figures', () => {
    lay(sheet)
    chooseSort('faces')
    pick({ ...none, faces: [0] })
    change({ numbers: { ...cageStore.getState().numbers, distance: 5 } })
    doAction('extrude')
    doAction('subdivide')
    expect(edits().map((e) => [editWords[e.do], toldOf(e)])).toEqual([
      ['Extrude', '1 face · 5 mm'],
      ['Subdivide', ''],
    ])
    addEdit({ do: 'scale', points: [[0, 0, 0]], at: [0, 0, 0], by: [2, 2, 2] })
    addEdit({ do: 'mirror', axis: 'y', keep: '-' })
    addEdit({ do: 'sharpen', edges: [[0, 5, 0]], sharpness: 'always' })
    expect(edits().slice(2).map(toldOf)).toEqual(['1 point · × 2', 'y -', '1 edge · always'])
  })
})
