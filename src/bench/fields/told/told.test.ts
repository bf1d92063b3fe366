/** How clicks and drags over regions become what is told of them, without a screen. */
import { beforeEach, describe, expect, it } from '@jest/globals'
import type { Told } from '@/core/fit/told'
import { firm } from '@/bench/ghost/server-ghost'
import { useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { benchBody, clickField, hitOn, pointerAt, viewFromAbove } from '@/testing/bench'
import { boundsOf } from '../region/live-fit'
import { regionHand } from '../region/hand'
import { toldHand } from './hand'
import { useTold, type FoundRegion } from './state'
import { tell } from './tell'
import { freshBench } from '@/testing/fresh-bench'

const bodies = [benchBody('bracket'), benchBody('grip')]
const values = () => useTool.getState().tool!.values
const told = () => (values().told ?? []) as Partial<Told>[]
const region = (shape: string, on: [number, number, number]): FoundRegion => ({ shape, triangles: 9, on })
const over = (x: number) => pointerAt(x, 0, { hit: hitOn('bracket', [x, 0, 6]) })
/** A drag over the bracket, as the canvas would route it; what is asked on the way is answered. */
async function drag(hand: typeof toldHand, xs: readonly number[], during?: () => void) {
  const grip = hand.down?.(over(xs[0]), viewFromAbove(bodies)) ?? null
  for (const x of xs) {
    grip?.move(over(x))
    await new Promise((done) => setTimeout(done, 1))
  }
  during?.()
  grip?.up(over(xs[xs.length - 1]))
  await new Promise((done) => setTimeout(done, 1))
  return grip
}

beforeEach(freshBench)
beforeEach(() => {
  useTool.getState().take({ kind: 'convert/recognise', values: { body: 'bracket' } })
  useTold.setState({
    found: [region('plane', [1, 2, 6]), region('cylinder', [12, 0, 18])],
    hash: 'h',
    picked: [],
    paints: false,
  })
  useBench.setState((s) => ({ pick: { ...s.pick, way: 'brush', mode: 'add', radius: 4 } }))
})

describe('what is told of regions', () => {
  it('paint goes to the picked region, and adds whatever picks are set to elsewhere', async () => {
    useTold.setState({ picked: [1], paints: true })
    useBench.setState((s) => ({ pick: { ...s.pick, mode: 'take' } }))
    await drag(toldHand, [3, 4, 5])
    expect(told()).toHaveLength(1)
    expect(told()[0].at).toEqual([[12, 0, 18]])
    expect(told()[0].paint).toMatchObject([{ pick: 'brush', mode: 'add', radius: 4 }])
    expect(useTold.getState().picked).toEqual([])
    expect(useTool.getState().painting).toBeNull()
  })
  it('with none picked it becomes a region of its own; without Paint a drag turns the view', async () => {
    expect(await drag(toldHand, [3, 4])).toBeNull()
    expect(told()).toEqual([])
    useTold.setState({ paints: true })
    await drag(toldHand, [3, 4])
    expect(told()[0].at).toEqual([])
  })
  it('each entry is taken back by one undo, the last first', () => {
    tell({
      at: [
        [1, 2, 6],
        [12, 0, 18],
      ],
    })
    tell({ at: [[1, 2, 6]], shape: 'free' })
    expect(told().map((t) => t.shape)).toEqual([undefined, 'free'])
    useTool.getState().undo()
    expect(told()).toHaveLength(1)
    useTool.getState().undo()
    expect(told()).toEqual([])
  })
  it('another mesh begins with nothing told', async () => {
    tell({ at: [[1, 2, 6]], shape: 'free' })
    await clickField(pointerAt(0, 0, { hit: hitOn('grip', [9, 9, 9]) }), bodies)
    expect(values().body).toBe('grip')
    expect(told()).toEqual([])
  })
  it('rows are picked and let go', () => {
    const { pick } = useTold.getState()
    pick(1)
    pick(0)
    pick(1)
    expect(useTold.getState().picked).toEqual([0])
  })
  it('a ghost that was asked for stays asked for while only such entries change', () => {
    const step = (set: object) => ({ id: 's', kind: 'convert/recognise', set: { body: 'b', ...set } })
    expect(firm(step({ told: [{ at: [[1, 2, 3]] }] }))).toEqual(firm(step({})))
    expect(firm(step({ tolerance: 0.1 }))).not.toEqual(firm(step({})))
  })
})

describe('a region under the brush', () => {
  it('is known while the brush is down, by the mode that is set, and stored when it lets go', async () => {
    useTool.getState().take({ kind: 'convert/fit-shape', values: { body: 'bracket' } })
    useBench.setState((s) => ({ pick: { ...s.pick, mode: 'take' } }))
    await drag(regionHand, [3, 4, 5], () =>
      expect(useTool.getState().painting).toMatchObject({ pick: 'brush', mode: 'take' }),
    )
    expect(useTool.getState().painting).toBeNull()
    const [stroke] = values().region as { path: number[][] }[]
    expect(stroke.path.map((p) => p[0])).toEqual(expect.arrayContaining([3, 4, 5]))
  })
  it('a clean wall has no colours of its rounding; a noisy one is full at three times its rms', () => {
    const shape = { kind: 'cylinder' as const, max: 1, inliers: 1, triangles: 9 }
    const clean = boundsOf({ shapes: [{ ...shape, rms: 1e-7 }] })
    expect(clean.even).toBeGreaterThan(1e-4)
    expect(
      boundsOf({
        shapes: [
          { ...shape, rms: 0.02 },
          { ...shape, rms: 0.01 },
        ],
      }).full,
    ).toBeCloseTo(0.06, 12)
  })
})
