import { beforeEach, describe, expect, it } from '@jest/globals'
import { ghostTold } from '@/bench/ghost/told'
import { layBodies } from '@/bench/state/bodies'
import { useTool } from '@/bench/state/tool'
import { benchBody, pointerAt, viewFromAbove } from '@/testing/bench'
import { handleAt } from './handle'
import { handlesHand, handlesOf } from './handles'
import { niceStep, roundAngle, roundLength } from './round'
import { freshBench } from '@/testing/fresh-bench'

const tool = () => useTool.getState().tool!
const drag = (from: [number, number], to: [number, number], keys: { shift?: boolean; alt?: boolean } = {}) => {
  const grip = handlesHand.down!(pointerAt(...from), viewFromAbove())!
  grip.move(pointerAt((from[0] + to[0]) / 2, (from[1] + to[1]) / 2, keys))
  grip.move(pointerAt(...to, keys))
  grip.up(pointerAt(...to, keys))
}

beforeEach(freshBench)
beforeEach(() => {
  useTool.getState().take(null)
  layBodies([])
})

describe('rounding', () => {
  it('steps are 1, 2 or 5 times a power of ten, wide enough for the eye', () => {
    expect([0.3, 1, 1.1, 4, 6, 70].map(niceStep)).toEqual([0.5, 1, 2, 5, 10, 100])
    expect(roundLength(23.4567, 0.1, { shift: false, alt: false })).toBe(23)
    expect(roundLength(23.4567, 0.1, { shift: true, alt: false })).toBe(23.5)
    expect(roundLength(23.45678, 0.1, { shift: false, alt: true })).toBe(23.4568)
    expect([roundAngle(42.4, { shift: false, alt: false }), roundAngle(42.4, { shift: true, alt: false })]).toEqual([
      40, 42.5,
    ])
  })
})

describe('handles of tools', () => {
  it('drag the radius of a cylinder; one drag is one pick to take back', () => {
    useTool.getState().take({ kind: 'build/cylinder', values: { name: 'c', radius: 5, height: 20 } })
    const radius = handlesOf(tool()).find((h) => h.key === 'radius')!
    // Along the arrow, from 20 mm out to 37.
    const foot = radius.at,
      way = radius.axis
    const at = (d: number): [number, number] => [foot[0] + d * way[0], foot[1] + d * way[1]]
    drag(at(20), at(37))
    expect(tool().values.radius).toBe(20) // 5 + 17 = 22, rounded to 10 at 1 mm a pixel
    expect(useTool.getState().undo()).toBe(true)
    expect(tool().values.radius).toBe(5)
    expect(useTool.getState().redo()).toBe(true)
    expect(tool().values.radius).toBe(20)
    const wide = handlesOf(tool()).find((h) => h.key === 'radius')!.at
    drag([wide[0] + 20 * way[0], wide[1] + 20 * way[1]], at(-300))
    expect(Number(tool().values.radius)).toBeGreaterThan(0)
  })
  it('turn a body by its ring, past half a turn too', () => {
    layBodies([benchBody('grip')])
    useTool.getState().take({ kind: 'set-down/turn', values: { body: 'grip', axis: 'z', angle: 0 } })
    const [ring] = handlesOf(tool())
    const [cx, cy] = ring.at
    const on = (degrees: number): [number, number] => [
      cx + 58 * Math.cos((degrees * Math.PI) / 180),
      cy + 58 * Math.sin((degrees * Math.PI) / 180),
    ]
    const grip = handlesHand.down!(pointerAt(...on(0)), viewFromAbove())!
    for (const a of [60, 120, 180, 240]) grip.move(pointerAt(...on(a)))
    expect(tool().values.angle).toBe(240)
    grip.cancel()
    expect(tool().values.angle).toBe(0)
  })
  it('move a body along x and y; nothing is gripped beside them', () => {
    layBodies([benchBody('grip')])
    useTool.getState().take({ kind: 'set-down/move', values: { body: 'grip' } })
    expect(handlesOf(tool()).map((h) => h.key)).toEqual(['by x', 'by y', 'by z'])
    expect(handleAt(pointerAt(-200, -200), handlesOf(tool()), viewFromAbove())).toBeNull()
    drag([5 + 30, 10], [5 + 58, 10])
    expect(tool().values.by).toEqual([30, 0, 0])
  })
  const keys = (kind: string, values: Record<string, unknown>, ghost: Record<string, unknown> = {}) => {
    ghostTold.setState({ facts: ghost as never })
    useTool.getState().take({ kind, values })
    return handlesOf(tool())
  }
  it('stand where the ghost says that a feature lies, and go the way it goes', () => {
    const lies = { at: [3, 4, 0], normal: [0, 0, 1], reach: 10 }
    const both = keys('build/extrude', { outline: 'o', distance: 10 }, lies)
    expect(both.map((h) => h.key)).toEqual(['distance', 'back'])
    expect(both[0]).toMatchObject({ at: [3, 4, 10], value: 10 })
    expect(both[1].axis[2]).toBe(-1)
    // Below zero the back goes up; half to each side there is one arrow, of half the way.
    expect(keys('build/extrude', { outline: 'o', distance: -10 }, lies)[1].axis[2]).toBe(1)
    const half = keys('build/extrude', { outline: 'o', distance: 10, symmetric: true }, lies)
    expect(half.map((h) => h.key)).toEqual(['distance'])
    expect(half[0]).toMatchObject({ at: [3, 4, 5], factor: 2 })
    expect(keys('build/extrude', { outline: 'o' })).toEqual([])
  })
  it('of datums by points and of planes that the ghost tells', () => {
    expect(keys('build/point', { name: 'p', at: [1, 2, 3] }).map((h) => h.key)).toEqual(['at x', 'at y', 'at z'])
    expect(keys('build/axis', { name: 'a', by: 'points' })).toHaveLength(6)
    const face = keys('build/plane', { name: 'p', by: 'face', offset: 2 }, { at: [0, 0, 7], normal: [0, 0, 1] })
    expect(face).toHaveLength(1)
    expect(face[0]).toMatchObject({ key: 'offset', at: [0, 0, 7], value: 2 })
    expect(keys('build/plane', { name: 'p', by: 'turned' }, { at: [0, 0, 0], normal: [0, 1, 0] }).at(-1)!.sort).toBe(
      'ring',
    )
  })
  it('of a place that is taken from a body stand where it lies', () => {
    const taken = { from: 'pin', as: 'face', at: [0, 0, 9] }
    expect(keys('build/cylinder', { name: 'c', at: taken, axis: taken })).toEqual([])
    const lies = { taken: { at: [1, 1, 9], axis: [0, 0, 1] } }
    const shown = keys('build/cylinder', { name: 'c', at: taken, axis: taken, height: 4 }, lies)
    expect(shown.find((h) => h.key === 'height')).toMatchObject({ at: [1, 1, 13] })
  })
  it('move the plane of every tool that has one, along its normal', () => {
    for (const kind of ['build/mirror', 'build/cut-by-plane', 'convert/section-line']) {
      const [level] = keys(kind, { body: 'b', at: [1, 2, 3], normal: [0, 0, 2] })
      expect(level.value).toBe(3)
      expect(level.set(5)).toEqual({ at: [1, 2, 5] })
    }
    expect(keys('convert/section-line', { by: 'datum' })).toEqual([])
  })
  it('of edges stand at the first that is picked, away from the body', () => {
    layBodies([benchBody('grip')])
    const [radius] = keys('build/fillet', { body: 'grip', edges: [{ at: [5, 10, 30] }], radius: 2 })
    expect(radius).toMatchObject({ key: 'radius', at: [5, 10, 32] })
    expect(keys('build/fillet', { body: 'grip', edges: 'all', radius: 2 })).toEqual([])
    const [by] = keys('build/offset-face', { body: 'grip', faces: [{ at: [5, 10, 30] }], by: -3 })
    expect(by.min).toBe(-1e5)
  })
})
