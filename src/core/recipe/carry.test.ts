import { describe, expect, it } from '@jest/globals'
import { quiet } from '@/core/base/work'
import { box } from '@/testing/shapes'
import { writeStlBinary } from '@/core/formats/stl'
import { hashBytes } from '@/core/base/hash'
import { carried, filesOf, onOtherFiles, packed, wanted } from './carry'
import { evaluate, MemoryStore } from './evaluate'
import { feedersOf, makerOfFace, makersOf, takersOf, usersOf } from './lineage'
import { emptyRecipe, parseRecipe, type Recipe } from './recipe'

const plate: Recipe = parseRecipe({
  ...emptyRecipe('Plate'),
  values: { wide: 40, half: 'wide / 2', other: 7 },
  steps: [
    { id: 's1', kind: 'build/block', set: { name: 'plate', size: ['wide', 20, 6], at: [0, 0, 0] } },
    { id: 's2', kind: 'build/cylinder', set: { name: 'pin', radius: 4, height: 20, at: [0, 0, -5] } },
    { id: 's3', kind: 'build/difference', set: { from: 'plate', take: ['pin'] } },
    { id: 's4', kind: 'build/hole', set: { body: 'plate', at: [['half - 8', 0, 6]], diameter: 3 } },
    { id: 's5', kind: 'build/fillet', set: { body: 'plate', edges: [{ at: [20, 10, 3] }], radius: 2 } },
    { id: 's6', kind: 'build/axis', set: { name: 'middle', at: { from: 'plate', as: 'face', at: [5, 0, 6] } } },
  ],
})
const run = (recipe: Recipe) =>
  evaluate(recipe, { fileHash: () => Promise.resolve(null), store: new MemoryStore(), work: quiet })

describe('lineage', () => {
  it('tells what made a body, what uses it, what a step hangs on and what hangs on it', async () => {
    const { steps, ok } = await run(plate)
    expect(ok).toBe(true)
    expect(makersOf(plate, steps, 'plate')).toEqual(['s1', 's3', 's4', 's5'])
    expect(makersOf(plate, steps, 'plate', 3)).toEqual(['s1', 's3'])
    // It was used up, so nothing that is there was made as "pin".
    expect(makersOf(plate, steps, 'pin')).toEqual([])
    expect(usersOf(plate, steps, 'plate')).toEqual(['s3', 's4', 's5', 's6'])
    expect(feedersOf(plate, steps, 2)).toEqual(['s1', 's2'])
    expect(feedersOf(plate, steps, 5)).toEqual(['s5'])
    expect(takersOf(plate, steps, 0)).toEqual(['s3'])
    expect(takersOf(plate, steps, 4)).toEqual(['s6'])
    expect(takersOf(plate, steps, 5)).toEqual([])
  })
  it('tells the step that made a face by its lasting name', async () => {
    const { steps } = await run(plate)
    expect(makerOfFace(plate, steps, 'plate', 'plate/top')).toBe('s1')
    expect(makerOfFace(plate, steps, 'plate', 'pin/wall')).toBe('s2')
    expect(makerOfFace(plate, steps, 'plate', 'fillet(plate/back | plate/right)')).toBe('s5')
    expect(makerOfFace(plate, steps, 'plate', 'plane #2')).toBe('s1')
  })
  it('a step that is switched off neither makes nor uses', () => {
    const off = { ...plate, steps: plate.steps.map((s) => (s.id === 's4' ? { ...s, off: true } : s)) }
    expect(makersOf(off, [], 'plate')).toEqual(['s1', 's3', 's5'])
    expect(usersOf(off, [], 'plate')).not.toContain('s4')
  })
})

describe('steps carried to another recipe', () => {
  it('bring the values they speak of, and those behind them, but no others', () => {
    expect(packed(plate, ['s4']).values).toEqual({ wide: 40, half: 'wide / 2' })
    expect(packed(plate, ['s2']).values).toEqual({})
  })
  it('keep the names of their bodies where those are free, and take the next number where not', () => {
    const into = (there: string[]) => {
      const r = carried(emptyRecipe('Other'), 0, packed(plate, ['s2']), there, new Map())
      return r.steps.map((s) => s.set.name)
    }
    expect(into([])).toEqual(['pin'])
    expect(into(['plate'])).toEqual(['pin'])
    expect(into(['pin'])).toEqual(['pin 2'])
    expect(into(['pin', 'pin 2', 'pin 3'])).toEqual(['pin 4'])
  })
  it('say which bodies they need', () => {
    expect(wanted(packed(plate, ['s4', 's5']).steps)).toEqual(['plate'])
    expect(wanted(packed(plate, ['s1', 's3']).steps)).toEqual(['pin'])
    expect(wanted(plate.steps)).toEqual([])
  })
  it('work on the bodies of the other recipe, with fresh ids, and give the same there', async () => {
    const other = parseRecipe({
      ...emptyRecipe('Other'),
      values: { wide: 60 },
      steps: [{ id: 's2', kind: 'build/block', set: { name: 'board', size: ['wide', 20, 6], at: [0, 0, 0] } }],
    })
    const made = parseRecipe(
      carried(other, 1, packed(plate, ['s2', 's3', 's4']), ['board'], new Map([['plate', 'board']])),
    )
    expect(made.steps.map((s) => s.id)).toEqual(['s2', 's3', 's4', 's5'])
    // The value that was there stays; the one that was not comes along.
    expect(made.values).toEqual({ wide: 60, half: 'wide / 2' })
    const done = await run(made)
    expect(done.ok).toBe(true)
    const volume = Number(done.steps.at(-1)!.facts.volume)
    expect(volume).toBeCloseTo(60 * 20 * 6 - Math.PI * 16 * 6 - Math.PI * 2.25 * 6, 6)
  })
  it('new bodies get free names, and places taken from them follow', () => {
    const twice = carried(
      plate,
      6,
      packed(
        plate,
        plate.steps.map((s) => s.id),
      ),
      ['plate', 'middle'],
      new Map(),
    )
    const second = twice.steps.slice(6)
    expect(second[0].set.name).toBe('plate 2')
    expect(second[2].set).toMatchObject({ from: 'plate 2', take: ['pin 2'] })
    expect(second[5].set).toMatchObject({ name: 'middle 2', at: { from: 'plate 2' } })
  })
  it('refuse where a body is missing', () => {
    expect(() => carried(emptyRecipe('None'), 0, packed(plate, ['s4']), [], new Map())).toThrow(/no body named "plate"/)
  })
})

describe('a recipe on another file', () => {
  it('does to it what was done to the first, under the same names', async () => {
    const store = new MemoryStore()
    const files = new Map<string, string>()
    for (const [name, w] of [
      ['small.stl', 10],
      ['large.stl', 30],
    ] as const) {
      const bytes = writeStlBinary(box(w, w, w, 1))
      const hash = await hashBytes(bytes)
      await store.keepBytes(hash, bytes)
      files.set(name, hash)
    }
    const env = { fileHash: (n: string) => Promise.resolve(files.get(n) ?? null), store, work: quiet }
    const first = parseRecipe({
      ...emptyRecipe('Cut'),
      steps: [
        { id: 's1', kind: 'bring-in/file', set: { file: 'small.stl', name: 'small', unit: 'mm' } },
        { id: 's2', kind: 'build/cylinder', set: { name: 'pin', radius: 2, height: 100, at: [5, 5, -20] } },
        { id: 's3', kind: 'build/difference', set: { from: 'small', take: ['pin'] } },
      ],
    })
    const one = await evaluate(first, env)
    expect(one.ok).toBe(true)
    expect(filesOf(first)).toEqual(['small.stl'])
    const second = onOtherFiles(first, new Map([['small.stl', 'large.stl']]))
    expect(second.steps[0].set).toMatchObject({ file: 'large.stl', name: 'small' })
    const two = await evaluate(second, env)
    expect(two.steps.map((s) => s.error?.message)).toEqual([undefined, undefined, undefined])
    const v = (r: typeof one) => Number(r.steps[2].facts.volume)
    // The bores are as long as the boxes are high.
    expect((27000 - v(two)) / (1000 - v(one))).toBeCloseTo(3, 4)
    expect(onOtherFiles(first, new Map())).toEqual(first)
  })
})
