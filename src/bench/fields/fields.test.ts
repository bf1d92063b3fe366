/** How clicks and drags become settings, without a screen. */
import { beforeEach, describe, expect, it } from '@jest/globals'
import { z } from 'zod'
import { bodyRef, edgeRefs, faceRef, fieldsOf } from '@/core/step/fields'
import { withStep, allSteps } from '@/core/steps/registry'
import type { PartHit } from '@/bench/picking/worker'
import { useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { benchBody, clickField, hitOn, pointerAt, viewFromAbove } from '@/testing/bench'
import { handOf, kitOf } from './registry'
import { activeField } from './slot'
import { meaning } from './touch'
import { freshBench } from '@/testing/fresh-bench'

const bodies = [benchBody('grip'), benchBody('pin', 'solid')]
const take = (kind: string, values: Record<string, unknown> = {}) => useTool.getState().take({ kind, values })
const tool = () => useTool.getState().tool!
const click = (name: string, point: [number, number, number], extra = {}) =>
  clickField(pointerAt(0, 0, { hit: hitOn(name, point, extra) }), bodies)

beforeEach(freshBench)

describe('every field of every step', () => {
  it('has a control, and a hand where picks are looked for', () => {
    for (const s of allSteps)
      for (const { info } of fieldsOf(s.settings)) {
        const kit = kitOf(info)
        expect(typeof kit.Input).toBe('function')
        const picks = typeof kit.picks === 'function' ? kit.picks(info) : kit.picks
        if (picks) expect(handOf(info)?.hint).toBeDefined()
      }
  })
})

describe('touches', () => {
  it('a measure takes its first place, then its second, on another body too', async () => {
    take('prove/measure')
    expect(activeField(tool())!.key).toBe('from')
    await click('grip', [1, 2, 3], { snap: { kind: 'corner', point: [1, 2, 3.5] } })
    expect(tool().values).toMatchObject({ body: 'grip', from: { as: 'point', at: [1, 2, 3.5] } })
    expect(activeField(tool())!.key).toBe('to')
    await click('pin', [4, 5, 6])
    expect(tool().values).toMatchObject({ other: 'pin', to: { as: 'point', at: [4, 5, 6] } })
    // Touched again on the first body there is no other one to name.
    useTool.getState().change({ slot: 'to' })
    useTool.getState().setValues({ to: undefined })
    await click('grip', [7, 8, 9])
    expect(tool().values.other).toBeUndefined()
  })
  it('a line is touched by its two ends; what a touch means follows from the tool', async () => {
    take('set-down/three-touch', { body: 'grip', face: { as: 'plane', at: [0, 0, 0] } })
    await click('grip', [0, 0, 0])
    expect(activeField(tool())!.key).toBe('direction')
    await click('grip', [9, 0, 0])
    expect(tool().values.direction).toEqual({ as: 'line', at: [0, 0, 0], to: [9, 0, 0] })
    expect(activeField(tool())!.key).toBe('point')
    const means = (kind: string, key: string, values = {}, chosen = {}) => {
      const field = fieldsOf(allSteps.find((s) => s.kind === kind)!.settings).find((f) => f.key === key)!
      return meaning(key, field.info, { kind, values, means: chosen })
    }
    expect(means('set-down/line-up', 'touch')).toBe('axis')
    expect(means('set-down/line-up', 'touch', { how: 'facing' })).toBe('plane')
    expect(means('prove/measure', 'from', { what: 'diameter' })).toBe('axis')
    expect(means('prove/measure', 'from', { what: 'angle' }, { from: 'line' })).toBe('line')
    // What was chosen for another kind of measure does not stay where it makes no sense.
    expect(means('prove/measure', 'from', { what: 'faces' }, { from: 'line' })).toBe('plane')
  })
})

describe('bodies, points and faces', () => {
  it('a click fills a body, a list of bodies, points, and a face with its direction', async () => {
    take('mend/all')
    await click('grip', [0, 0, 0])
    expect(tool().values.body).toBe('grip')
    take('build/union', { bodies: ['grip'] })
    await click('pin', [0, 0, 0])
    expect(tool().values.bodies).toEqual(['grip', 'pin'])
    await click('pin', [0, 0, 0])
    expect(tool().values.bodies).toEqual(['grip'])
    take('build/hollow', { body: 'grip' })
    await click('grip', [1.23456, 2, 3])
    await click('grip', [4, 5, 6])
    expect(tool().values.drains).toEqual([
      [1.2346, 2, 3],
      [4, 5, 6],
    ])
    take('build/cylinder', { name: 'c' })
    await click('grip', [1.23456, 2, 3])
    expect(tool().values).toMatchObject({ at: [1.2346, 2, 3], axis: [0, 0, 1] })
    expect(useBench.getState().selected).toBe('grip')
  })
})

describe('faces and edges', () => {
  const part = (sort: 'face' | 'edge', index: number, name: string): PartHit => ({
    name: 'pin',
    hash: 'x',
    sort,
    at: [1, 2, 3],
    part: { index, name, shape: sort === 'face' ? 'plane' : 'line', at: [1, 2, 3] },
    triangles: new Float32Array(0),
    lines: new Float32Array(0),
  })
  const trial = {
    kind: 'build/trial',
    order: 1,
    version: 1,
    title: 'Trial',
    past: 'Tried',
    summary: '',
    settings: z.object({ body: bodyRef({ can: 'parts' }), face: faceRef(), edges: edgeRefs() }),
    run: () => Promise.resolve({ bodies: {}, facts: {}, said: '' }),
  }
  it('are kept by place and lasting name; clicking one of several again takes it away', async () => {
    const off = withStep(trial)
    try {
      take('build/trial')
      await clickField(pointerAt(0, 0, { part: part('face', 0, 'pin/top') }), bodies)
      expect(tool().values).toMatchObject({ body: 'pin', face: { at: [1, 2, 3], name: 'pin/top' } })
      expect(activeField(tool())!.key).toBe('edges')
      const edge = (i: number) => clickField(pointerAt(0, 0, { part: part('edge', i, `edge ${i}`) }), bodies)
      await edge(1)
      await edge(2)
      expect(tool().values.edges).toHaveLength(2)
      await edge(1)
      expect(tool().values.edges).toEqual([{ at: [1, 2, 3], name: 'edge 2' }])
      await clickField(pointerAt(0, 0), bodies)
      expect(useBench.getState().notice?.text).toMatch(/no edge there/)
    } finally {
      off()
    }
  })
})

describe('areas', () => {
  it('grow and whole piece by clicks, and shapes by drags; picks on another body begin anew', async () => {
    take('mend/heal')
    await click('grip', [1, 1, 1])
    await click('grip', [2, 2, 2])
    expect(tool().values).toMatchObject({ body: 'grip', region: [{ pick: 'grow', angle: 20 }, { pick: 'grow' }] })
    await click('pin', [3, 3, 3])
    expect(tool().values.region).toHaveLength(1)
    useBench.getState().set({ pick: { ...useBench.getState().pick, way: 'box' } })
    const view = viewFromAbove(bodies)
    const grip = handOf(view.field!.info)!.down!(pointerAt(0, 0), view)!
    grip.move(pointerAt(20, 10))
    grip.up(pointerAt(20, 10))
    const last = (tool().values.region as { pick: string; loop: number[][] }[]).at(-1)!
    expect(last.pick).toBe('loop')
    expect(last.loop.map(([x, y]) => [x, y])).toEqual([
      [0, 0],
      [20, 0],
      [20, 10],
      [0, 10],
    ])
  })
})

describe('a lasso', () => {
  it('that ends where it began picks what it went round', () => {
    take('mend/heal', { body: 'grip' })
    useBench.getState().set({ pick: { ...useBench.getState().pick, way: 'lasso' } })
    const view = viewFromAbove(bodies)
    const grip = handOf(view.field!.info)!.down!(pointerAt(0, 0), view)!
    for (const [x, y] of [
      [30, 0],
      [30, 20],
      [2, 20],
    ])
      grip.move(pointerAt(x, y))
    grip.up(pointerAt(1, 1))
    const last = (tool().values.region as { pick: string; loop: number[][] }[]).at(-1)!
    expect(last.pick).toBe('loop')
    expect(last.loop.length).toBeGreaterThanOrEqual(4)
    // One that never leaves its place is a click.
    const still = handOf(view.field!.info)!.down!(pointerAt(50, 50), view)!
    still.move(pointerAt(51, 50))
    still.up(pointerAt(50, 51))
    expect(tool().values.region).toHaveLength(1)
  })
})

describe('lines drawn in the view', () => {
  it('stand corner by corner, are finished by Enter, and give back their last corner', () => {
    take('mend/trim', { body: 'grip', by: 'line' })
    const view = viewFromAbove(bodies)
    expect(view.field!.key).toBe('line')
    const hand = handOf(view.field!.info)!
    const corner = (x: number, y: number) => {
      const g = hand.down?.(pointerAt(x, y), view)
      if (g) g.up(pointerAt(x, y))
      else void hand.click!(pointerAt(x, y), view)
    }
    corner(0, 0)
    corner(30, 0)
    corner(60, 50)
    expect(hand.undo!(view)).toBe(true)
    expect(hand.key!({ key: 'Enter' } as KeyboardEvent, view)).toBe(true)
    const line = tool().values.line as { line: number[][]; toward: number[] }
    expect(line.line.map(([x]) => x)).toEqual([0, 30])
    expect(line.toward).toEqual([0, 0, -1])
    expect(hand.undo!(view)).toBe(false)
  })
})

describe('places taken from bodies', () => {
  const part = (name: string, face: string, sort: 'face' | 'edge' = 'face') =>
    ({
      name,
      hash: `hash of ${name}`,
      at: [1, 2, 3],
      sort,
      part: { index: 0, name: face, shape: 'plane', at: [1, 2, 3] },
      triangles: new Float32Array(0),
      lines: new Float32Array(0),
    }) as PartHit
  it('a click on a face fills place and the direction that shows, by numbers', async () => {
    take('build/plane', { name: 'p' })
    expect(activeField(tool())!.key).toBe('at')
    await click('grip', [1, 2, 3])
    expect(tool().values).toMatchObject({ at: [1, 2, 3], normal: [0, 0, 1] })
    expect(tool().values.axis).toBeUndefined()
  })
  it('where the maker chose so a click takes the face itself, with its direction; then numbers again', async () => {
    take('build/cylinder', { name: 'c' })
    useTool.getState().change({ means: { at: 'face' }, slot: 'at' })
    expect(handOf(activeField(tool())!.info)!.hint!(viewFromAbove(bodies))).toMatch(/Click the flat face/)
    await clickField(pointerAt(0, 0, { part: part('pin', 'pin/top') }), bodies)
    const taken = { from: 'pin', as: 'face', at: [1, 2, 3], name: 'pin/top' }
    expect(tool().values).toMatchObject({ at: taken, axis: taken })
    expect(tool().means.at).toBeUndefined()
    await click('grip', [4, 5, 6])
    expect(tool().values).toMatchObject({ at: [4, 5, 6], axis: [0, 0, 1] })
  })
  it('a corner is taken without a direction; beside all bodies it is said', async () => {
    take('build/cylinder', { name: 'c' })
    useTool.getState().change({ means: { at: 'corner' }, slot: 'at' })
    await click('grip', [7, 8, 9], { snap: { kind: 'corner', point: [7, 8, 10] } })
    expect(tool().values.at).toEqual({ from: 'grip', as: 'corner', at: [7, 8, 10] })
    expect(tool().values.axis).toBeUndefined()
    useTool.getState().change({ means: { axis: 'edge' }, slot: 'axis' })
    await clickField(pointerAt(0, 0), bodies)
    expect(useBench.getState().notice?.text).toMatch(/no body there/)
    expect(tool().values.axis).toBeUndefined()
  })
  it('a direction that no click fills waits for none', () => {
    take('build/draft', { body: 'pin', faces: [{ at: [0, 0, 0] }] })
    expect(activeField(tool())!.key).toBe('faces')
  })
  it('the first place of a hole brings the way into the face; later ones keep it', async () => {
    take('build/hole', { body: 'grip' })
    await click('grip', [1, 1, 5])
    expect(tool().values).toMatchObject({ at: [[1, 1, 5]], axis: [0, 0, -1] })
    await click('grip', [2, 2, 5], { normal: [1, 0, 0] })
    expect(tool().values.at).toHaveLength(2)
    expect(tool().values.axis).toEqual([0, 0, -1])
  })
  it('parts of a mesh without a name are kept by place alone', async () => {
    take('build/fillet')
    await clickField(pointerAt(0, 0, { part: part('grip', '', 'edge') }), bodies)
    expect(tool().values).toMatchObject({ body: 'grip', edges: [{ at: [1, 2, 3] }] })
  })
})

describe('outlines', () => {
  const area = (name: string, index: number, at: [number, number, number]) => ({
    name,
    hash: `hash of ${name}`,
    at,
    index,
    area: 10,
    triangles: new Float32Array(0),
    lines: new Float32Array(0),
  })
  it('are chosen by a click on one of their areas', async () => {
    take('build/sweep')
    expect(activeField(tool())!.key).toBe('outline')
    const many = [...bodies, benchBody('ring', 'outline'), benchBody('path', 'outline')]
    await clickField(pointerAt(0, 0, { area: area('ring', 0, [1, 1, 0]) }), many)
    expect(tool().values.outline).toBe('ring')
    expect(activeField(tool())!.key).toBe('path')
    await clickField(pointerAt(0, 0), many)
    expect(tool().values.path).toBeUndefined()
  })
  it('areas of one are gathered; those of another begin anew', async () => {
    take('build/extrude', { outline: 'ring' })
    useTool.getState().change({ slot: 'areas' })
    await clickField(pointerAt(0, 0, { area: area('ring', 0, [1, 1, 0]) }), bodies)
    expect(tool().values).toMatchObject({ outline: 'ring', areas: [[1, 1, 0]] })
    await clickField(pointerAt(0, 0, { area: area('path', 0, [2, 2, 0]) }), bodies)
    expect(tool().values).toMatchObject({ outline: 'path', areas: [[2, 2, 0]] })
  })
})
