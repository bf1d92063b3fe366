import { beforeEach, describe, expect, it } from '@jest/globals'
import { layBodies } from '@/bench/state/bodies'
import { useTool } from '@/bench/state/tool'
import { benchBody, pointerAt, viewFromAbove } from '@/testing/bench'
import { handleAt, handlesHand, handlesOf } from './handles'
import { niceStep, roundAngle, roundLength } from './round'

const tool = () => useTool.getState().tool!
const drag = (from: [number, number], to: [number, number], keys: { shift?: boolean; alt?: boolean } = {}) => {
  const grip = handlesHand.down!(pointerAt(...from), viewFromAbove())!
  grip.move(pointerAt((from[0] + to[0]) / 2, (from[1] + to[1]) / 2, keys))
  grip.move(pointerAt(...to, keys))
  grip.up(pointerAt(...to, keys))
}

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
})
