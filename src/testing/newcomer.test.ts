/** What docs/adding-a-kind.md and docs/adding-a-tool.md promise: a kind and a tool that nobody knew before work everywhere. */
import { afterAll, beforeAll, beforeEach, describe, expect, it } from '@jest/globals'
import { CircleDot } from 'lucide-react'
import { z } from 'zod'
import { quiet } from '@/core/base/work'
import type { Body } from '@/core/bodies/body'
import { defineKind } from '@/core/kinds/kind'
import { placeOf } from '@/core/kinds/place'
import { decodeBody, encodeBody, factsOf, moveBody, withKind } from '@/core/kinds/registry'
import { applyPoint, translation } from '@/core/math/affine'
import type { Vec3 } from '@/core/math/vec'
import { evaluate, MemoryStore } from '@/core/recipe/evaluate'
import { parseRecipe } from '@/core/recipe/recipe'
import { shown } from '@/core/step/facts'
import { bodyRef, choice, lengthMm, newBody, point } from '@/core/step/fields'
import { defineStep } from '@/core/step/step'
import { withStep } from '@/core/steps/registry'
import { hintOf, handsOf } from '@/bench/stage3d/router'
import { useTool } from '@/bench/state/tool'
import { defineTool } from '@/bench/tools/tool'
import { toolOf, withTool } from '@/bench/tools/registry'
import { startValues } from '@/bench/tools/start'
import { hitOn, pointerAt, viewFromAbove } from './bench'
import { runStep } from './run-step'
import { box } from './shapes'
import { freshBench } from './fresh-bench'

beforeEach(freshBench)

// One file: a kind.
interface WireBody extends Body {
  readonly kind: 'wire'
  readonly points: Float64Array
}
const corners = (b: WireBody): Vec3[] =>
  Array.from({ length: b.points.length / 3 }, (_, i) => [b.points[3 * i], b.points[3 * i + 1], b.points[3 * i + 2]])
const boundsOfWire = (b: WireBody) => {
  const at = (pick: (...v: number[]) => number) =>
    [0, 1, 2].map((k) => pick(...corners(b).map((p) => p[k]))) as unknown as Vec3
  return { min: at(Math.min), max: at(Math.max) }
}
const wireKind = defineKind<WireBody>({
  kind: 'wire',
  title: 'wire',
  version: 2,
  pack: (b) => ({ head: {}, arrays: [{ name: 'points', data: b.points }] }),
  // Version 1 kept inches.
  unpack: (from, version) => ({
    kind: 'wire',
    points: version < 2 ? from.f64('points').map((v) => 25.4 * v) : from.f64('points'),
  }),
  bounds: boundsOfWire,
  move: (b, map) =>
    Promise.resolve({ kind: 'wire', points: Float64Array.from(corners(b).flatMap((p) => [...applyPoint(map, p)])) }),
  facts(b) {
    const { min, max } = boundsOfWire(b)
    const length = corners(b).reduce(
      (s, p, i, all) => s + (i ? Math.hypot(...p.map((v, k) => v - all[i - 1][k])) : 0),
      0,
    )
    return {
      ...placeOf({ min, size: max.map((v, k) => v - min[k]) }),
      sound: true,
      badge: 'open',
      rows: [{ key: 'length', label: 'Length', value: length, as: 'length' }],
      figures: { length },
    }
  },
  draw: (b) => ({
    lines: {
      points: Float32Array.from(corners(b).flatMap((p, i, all) => (i ? [...all[i - 1], ...p] : []))),
      part: Uint32Array.from({ length: b.points.length / 3 - 1 }, (_, i) => i),
    },
  }),
})

// One file: a step.
const wire = defineStep({
  kind: 'build/wire',
  order: 900,
  version: 1,
  title: 'Wire',
  past: 'Wire',
  summary: 'A straight wire.',
  facts: shown({ key: 'length', label: 'Length', as: 'length' }),
  settings: z.object({
    name: newBody('Name', { base: 'wire' }),
    at: point('From').default([0, 0, 0]),
    length: lengthMm('Length').default(10),
    along: choice('Along', ['x', 'y'], { x: 'x', y: 'y' }).default('x'),
  }),
  shape: 2,
  upgrade: ({ long, ...set }) => ({ ...set, length: long }),
  run({ settings: s }) {
    const end = s.at.map((v, k) => v + (k === (s.along === 'x' ? 0 : 1) ? s.length : 0))
    const body: WireBody = { kind: 'wire', points: Float64Array.from([...s.at, ...end]) }
    return Promise.resolve({ bodies: { [s.name]: body }, facts: { length: s.length }, said: `${s.length} mm` })
  },
})
const measureWire = defineStep({
  kind: 'prove/any-surface',
  order: 900,
  version: 1,
  title: 'Any surface',
  past: 'Looked at',
  summary: '',
  settings: z.object({ body: bodyRef({ can: 'surface' }, 'Body', { changes: false }) }),
  async run({ settings: s, surface }) {
    const { mesh } = await surface(s.body, 0.1)
    return { bodies: {}, facts: { triangles: mesh.triangles.length / 3 }, said: 'looked' }
  },
})

// One file: a tool with a hand of its own.
const wireTool = defineTool({
  kind: 'build/wire',
  icon: CircleDot,
  hand: {
    hint: () => 'Click where the wire begins',
    async click(p) {
      const hit = await p.snap()
      if (hit) useTool.getState().pick({ at: [...hit.point] })
      return true
    },
  },
  handles: (values) => [
    {
      key: 'length',
      sort: 'arrow',
      label: 'Length',
      at: values.at as Vec3,
      axis: [1, 0, 0],
      value: Number(values.length),
      set: (v) => ({ length: v }),
    },
  ],
})

const undo: (() => void)[] = []
beforeAll(() => {
  undo.push(withKind(wireKind), withStep(wire), withStep(measureWire), withTool(wireTool))
})
afterAll(() => undo.forEach((u) => u()))

const recipe = (steps: unknown[]) => parseRecipe({ format: 'glue-bench/recipe', version: 1, title: 't', steps })
const run = (steps: unknown[], store = new MemoryStore()) =>
  evaluate(recipe(steps), { fileHash: () => Promise.resolve(null), store, work: quiet }).then((r) => ({ ...r, store }))

describe('a kind nobody knew', () => {
  it('is made, kept, moved by every step of Set down, and told of', async () => {
    const r = await run([
      { id: 'a', kind: 'build/wire', set: { name: 'w', at: [1, 2, 3], length: 7 }, version: 2 },
      { id: 'b', kind: 'set-down/move', set: { body: 'w', by: [10, 0, 0] } },
      { id: 'c', kind: 'set-down/rest', set: { body: 'w' } },
      { id: 'd', kind: 'set-down/size', set: { body: 'w', how: 'factor', factor: 2 } },
    ])
    expect(r.steps.map((s) => [s.id, s.error?.message])).toEqual(['a', 'b', 'c', 'd'].map((id) => [id, undefined]))
    const body = decodeBody(await r.store.bytes(r.bodies.get('w')!)) as WireBody
    expect([...body.points]).toEqual([22, 4, 0, 36, 4, 0])
    expect(factsOf(body)).toMatchObject({ kind: 'wire', badge: 'open', figures: { length: 14 }, can: [] })
  })
  it('is refused by name where it cannot do what is asked', async () => {
    const made = await runStep('build/wire', { name: 'w' }, {})
    const w = made.bodies.w!
    await expect(runStep('prove/any-surface', { body: 'w' }, { w })).rejects.toThrow(/"w" is a wire, which has no skin/)
    await expect(runStep('mend/weld', { body: 'w' }, { w })).rejects.toThrow(/"w" is a wire; this step works on a mesh/)
    await expect(runStep('build/union', { bodies: ['w', 'm'] }, { w, m: box(5, 5, 5) })).rejects.toThrow(/is a wire/)
    expect((await runStep('prove/any-surface', { body: 'm' }, { m: box(5, 5, 5) })).facts.triangles).toBe(12)
  })
  it('of an older version is upgraded on reading; damaged it is a bad body', async () => {
    const inches = encodeBody({ kind: 'wire', points: Float64Array.from([0, 0, 0, 1, 0, 0]) } as WireBody)
    const text = new TextDecoder('latin1').decode(inches)
    expect(text).toContain('"kindVersion":2')
    const old = Uint8Array.from(text.replace('"kindVersion":2', '"kindVersion":1'), (c) => c.charCodeAt(0))
    expect([...(decodeBody(old) as WireBody).points]).toEqual([0, 0, 0, 25.4, 0, 0])
    const later = Uint8Array.from(text.replace('"kindVersion":2', '"kindVersion":3'), (c) => c.charCodeAt(0))
    expect(() => decodeBody(later)).toThrow(/later version/)
    const lost = Uint8Array.from(text.replace('"name":"points"', '"name":"pointz"'), (c) => c.charCodeAt(0))
    expect(() => decodeBody(lost)).toThrow(/points is missing/)
    const moved = (await moveBody(decodeBody(inches), translation([0, 0, 5]))) as WireBody
    expect(moved.points[2]).toBe(5)
  })
})

describe('settings whose shape has changed', () => {
  it('of an old recipe are brought up to date, and those of a later program refused', async () => {
    const old = [{ id: 'a', kind: 'build/wire', set: { name: 'w', long: 4 } }]
    expect(recipe(old).steps[0]).toMatchObject({ version: 2, set: { name: 'w', length: 4 } })
    const r = await run(old)
    expect(r.steps[0].facts.length).toBe(4)
    expect(() => recipe([{ ...old[0], version: 3 }])).toThrow(/written by a later version/)
  })
})

describe('a tool nobody knew', () => {
  it('is started, asked by the canvas before the look hand, and its click becomes a setting', async () => {
    const values = startValues('build/wire', [], null, undefined)
    expect(values).toEqual({ name: 'wire' })
    useTool.getState().take({ kind: 'build/wire', values })
    const view = viewFromAbove()
    const hands = handsOf(view)
    expect(hands).toContain(wireTool.hand)
    expect(hintOf(view)).toBe('Click where the wire begins')
    for (const h of hands) if (await h.click?.(pointerAt(0, 0, { hit: hitOn('grip', [4, 5, 6]) }), view)) break
    expect(useTool.getState().tool!.values.at).toEqual([4, 5, 6])
    expect(toolOf('build/wire')!.handles!({ at: [0, 0, 0], length: 3 }, [], {})).toHaveLength(1)
    expect(useTool.getState().undo()).toBe(true)
    expect(useTool.getState().tool!.values.at).toBeUndefined()
  })
})
