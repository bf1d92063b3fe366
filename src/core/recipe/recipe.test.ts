import { describe, expect, it } from '@jest/globals'
import { readdirSync, readFileSync } from 'node:fs'
import { z } from 'zod'
import { allSteps } from '@/core/steps/registry'
import { cannotMove, dependentsOf } from './dependents'
import { evaluate, MemoryStore } from './evaluate'
import { fieldsOf } from '@/core/step/fields'
import { emptyRecipe, parseRecipe, type Recipe } from './recipe'
import { quiet } from '@/core/base/work'
import { hashBytes } from '@/core/base/hash'
import { readMeshFile } from '@/core/formats/read'
import { writeFile } from '@/core/formats/write'
import { decodeBody, kindOf } from '@/core/kinds/registry'
import { concatMeshes } from '@/core/mesh/tri-mesh'
import { box, shifted } from '@/testing/shapes'

const recipe = (steps: unknown[]) => parseRecipe({ format: 'glue-bench/recipe', version: 1, title: 't', steps })
const env = (store: MemoryStore) => ({ fileHash: () => Promise.resolve(null), store, work: quiet })
const slice = [
  { id: 's1', kind: 'build/block', set: { name: 'plate', size: [30, 30, 6] } },
  { id: 's2', kind: 'build/cylinder', set: { name: 'pin', radius: 4, height: 60, at: [0, 0, -30], axis: [0, 0, 1] } },
  { id: 's3', kind: 'build/difference', set: { from: 'plate', take: ['pin'] } },
]

describe('steps', () => {
  it('each has fields with labels, a JSON Schema and a kind of stage/verb', () => {
    for (const s of allSteps) {
      expect(s.kind).toMatch(/^[a-z-]+\/[a-z-]+$/)
      expect(fieldsOf(s.settings).every((f) => f.info.label)).toBe(true)
      expect(z.toJSONSchema(s.settings.strict(), { io: 'input' })).toHaveProperty('type', 'object')
    }
    expect(new Set(allSteps.map((s) => s.kind)).size).toBe(allSteps.length)
  })
})

describe('recipes', () => {
  it('know a result by what is set, whichever way round it is written', async () => {
    const store = new MemoryStore()
    const of = (set: object) => recipe([{ id: 's', kind: 'build/cylinder', set }])
    const set = { name: 'pin', radius: 4, height: 60, at: [0, 0, -30], axis: [0, 0, 1] }
    expect((await evaluate(of(set), env(store))).steps[0]).toMatchObject({ ok: true, cached: false })
    const turned = Object.fromEntries(Object.entries(set).reverse())
    expect((await evaluate(of(turned), env(store))).steps[0]).toMatchObject({ ok: true, cached: true })
    expect((await evaluate(of({ ...set, at: [0, -30, 0] }), env(store))).steps[0]).toMatchObject({ cached: false })
  })
  it('take names of steps and kinds up to sixty signs', () => {
    const named = (id: string) => recipe([{ id, kind: 'build/block', set: { name: 'x' } }])
    expect(named('s'.repeat(60)).steps).toHaveLength(1)
    expect(() => named('s'.repeat(61))).toThrow()
    expect(() => named('')).toThrow()
  })
  it('name the key that is wrong', () => {
    expect(() => recipe([{ id: 'a', kind: 'build/block', set: { name: 'x', colour: 1 } }])).toThrow(
      /unknown key "colour"/,
    )
    expect(() => recipe([{ id: 'a', kind: 'build/bloc', set: {} }])).toThrow(/no step kind "build\/bloc"/)
    expect(() => recipe([slice[0], slice[0]])).toThrow(/two steps have the id "s1"/)
    expect(() => recipe([{ id: 'a', kind: 'bring-in/file', set: { file: '../x.stl', name: 'x' } }])).toThrow(
      /not a path/,
    )
  })
  it('run, keep results, and give the same bytes twice', async () => {
    const store = new MemoryStore()
    const first = await evaluate(recipe(slice), env(store))
    expect(first.ok).toBe(true)
    expect([...first.bodies.keys()]).toEqual(['plate'])
    expect(first.steps[2].facts.volume).toBeCloseTo(5400 - Math.PI * 16 * 6, 6)
    const again = await evaluate(recipe(slice), env(store))
    expect(again.steps.every((s) => s.cached)).toBe(true)
    const fresh = await evaluate(recipe(slice), env(new MemoryStore()))
    expect([...fresh.bodies]).toEqual([...first.bodies])
  })
  it('run again only what hangs on a change, and wait where a step failed', async () => {
    const store = new MemoryStore()
    await evaluate(recipe(slice), env(store))
    const changed = [slice[0], { ...slice[1], set: { ...slice[1].set, radius: 5 } }, slice[2]]
    expect((await evaluate(recipe(changed), env(store))).steps.map((s) => s.cached)).toEqual([true, false, false])
    expect(dependentsOf(recipe(slice), 1)).toEqual(['s3'])
    expect(cannotMove(recipe(slice), 2, 0)).toMatch(/"plate" is not there yet/)
    const broken = await evaluate(recipe([slice[0], { ...slice[0], id: 'b' }, slice[1], slice[2]]), env(store))
    expect(broken.ok).toBe(false)
    expect(broken.steps[1].error?.code).toBe('name-taken')
    expect(broken.steps[3].error?.code).toBe('waits')
  })
  it('leave out what is switched off', async () => {
    const r = await evaluate(recipe([slice[0], slice[1], { ...slice[2], off: true }]), env(new MemoryStore()))
    expect([...r.bodies.keys()]).toEqual(['plate', 'pin'])
    // What is off hangs on nothing, and nothing hangs on what it would have made.
    const copy = { id: 's4', kind: 'build/mirror', set: { body: 'plate', name: 'other' } }
    const last = { id: 's5', kind: 'set-down/move', set: { body: 'other', by: [1, 0, 0] } }
    expect(dependentsOf(recipe([...slice, copy, last]), 1)).toEqual(['s3', 's4', 's5'])
    expect(dependentsOf(recipe([...slice.slice(0, 2), { ...slice[2], off: true }, copy, last]), 1)).toEqual([])
    expect(dependentsOf(recipe([...slice, { ...copy, off: true }, last]), 1)).toEqual(['s3'])
  })
})

describe('colours', () => {
  it('of a file stay with a body through steps under its name, with its pieces, and with the solids made of them', async () => {
    const red = box(10, 10, 10, 1)
    const bytes = writeFile('3mf', [
      { name: 'two', mesh: concatMeshes([red, shifted(red, 20, 0, 0)]), colour: '#c02040' },
    ])
    const store = new MemoryStore()
    const hash = await hashBytes(bytes)
    await store.keepBytes(hash, bytes)
    const r = await evaluate(
      recipe([
        { id: 'a', kind: 'bring-in/file', set: { file: 'two.3mf', name: 'two' } },
        { id: 'b', kind: 'set-down/move', set: { body: 'two', by: [1, 2, 3] } },
        { id: 'c', kind: 'convert/clean-solid', set: { body: 'two', name: 'solid' } },
        { id: 'd', kind: 'mend/take-apart', set: { body: 'two' } },
        { id: 'e', kind: 'send-out/file', set: { bodies: ['two 1', 'two 2'], file: 'out.3mf' } },
      ]),
      { ...env(store), fileHash: () => Promise.resolve(hash) },
    )
    expect(r.steps.flatMap((s) => s.error?.message ?? [])).toEqual([])
    expect([...r.bodies.keys()]).toEqual(['solid 1', 'solid 2', 'two 1', 'two 2'])
    for (const kept of r.bodies.values())
      expect(kindOf(decodeBody(await store.bytes(kept))).facts(decodeBody(await store.bytes(kept)))).toMatchObject({
        colour: '#c02040',
      })
    const sent = readMeshFile(await store.bytes(r.steps[4].files[0].hash), 'out.3mf')
    expect(sent.parts.map((p) => p.colour)).toEqual(['#c02040', '#c02040'])
  })
})

describe('recipes kept from the first version', () => {
  it.each(readdirSync('checks/recipes'))('%s is read still, settings and all', (name) => {
    const kept = JSON.parse(readFileSync(`checks/recipes/${name}`, 'utf8')) as { steps: { kind: string }[] }
    expect(parseRecipe(kept).steps.map((s) => s.kind)).toEqual(kept.steps.map((s) => s.kind))
  })
})

describe('what is kept of a step', () => {
  const block = (set: Record<string, unknown>): Recipe => ({
    ...emptyRecipe('t'),
    steps: [{ id: 'a', kind: 'build/block', set }],
  })
  it('is found again however its settings are ordered, but not with other numbers in a list', async () => {
    const store = new MemoryStore()
    const env = { fileHash: () => Promise.resolve(null), store, work: quiet }
    const first = await evaluate(block({ name: 'b', size: [1, 2, 3], at: [0, 0, 0] }), env)
    const turned = await evaluate(block({ at: [0, 0, 0], size: [1, 2, 3], name: 'b' }), env)
    const other = await evaluate(block({ name: 'b', size: [3, 2, 1], at: [0, 0, 0] }), env)
    expect([first, turned, other].map((e) => e.steps[0].cached)).toEqual([false, true, false])
    expect(turned.steps[0].bodies).toEqual(first.steps[0].bodies)
    expect(other.steps[0].bodies).not.toEqual(first.steps[0].bodies)
  })
  it('a step that is switched off is well, takes no time and makes nothing', async () => {
    const env = { fileHash: () => Promise.resolve(null), store: new MemoryStore(), work: quiet }
    const { steps, ok } = await evaluate(
      { ...block({ name: 'b', size: [1, 2, 3] }), steps: [{ id: 'a', kind: 'build/block', set: {}, off: true }] },
      env,
    )
    expect(ok).toBe(true)
    expect(steps[0]).toMatchObject({ ok: true, off: true, ms: 0, cached: true, bodies: {} })
  })
})
