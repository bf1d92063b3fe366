import { describe, expect, it } from '@jest/globals'
import { namesIn, parseQuantity } from '@/core/base/quantity'
import { quiet } from '@/core/base/work'
import { evaluate, MemoryStore, type Environment } from './evaluate'
import { parseRecipe } from './recipe'
import { speaksOf, valuesOf } from './values'

const recipe = (values: Record<string, number | string>, set: Record<string, unknown> = {}) => ({
  format: 'glue-bench/recipe',
  version: 1,
  title: 'Values',
  values,
  steps: [
    { id: 'a', kind: 'build/block', set: { name: 'block', size: ['2*wall', 'wall', 3], ...set } },
    { id: 'b', kind: 'build/cylinder', set: { name: 'pin', radius: 2, height: 5 } },
  ],
})
const why = (value: unknown): string => {
  try {
    parseRecipe(value)
    return ''
  } catch (e) {
    return (e as Error).message
  }
}

describe('named values', () => {
  it('speak of each other in any order, with units', () => {
    const v = valuesOf({ outer: '2*wall + bore', wall: '2.4', bore: '1/4 in', slope: '15 deg' })
    expect(Object.fromEntries(v)).toEqual({ outer: 2 * 2.4 + 6.35, wall: 2.4, bore: 6.35, slope: 15 })
    expect(parseQuantity('2*wall+1', 'length', () => 3)).toBe(7)
    expect(parseQuantity('2*wall+1', 'length')).toBeNull()
    expect(namesIn('2*wall + 3 mm - bore_2/wall')).toEqual(['wall', 'bore_2'])
  })
  it.each([
    [{ a: 'b', b: 'a' }, /speaks of itself/],
    [{ a: '2*c' }, /no value named "c"/],
    [{ a: '3 +' }, /is not a number/],
    [{ mm: 3 }, /is no name a value can have/],
    [{ '2a': 3 }, /is no name a value can have/],
  ])('%j is refused in words', (values, words) => expect(() => valuesOf(values)).toThrow(words))

  it('stand in number fields of any step; what is not known is named with its field', () => {
    expect(why(recipe({ wall: 4 }))).toBe('')
    expect(why(recipe({}))).toMatch(/no value named "wall"/)
    expect(why(recipe({ wall: 4 }, { size: ['wall', 'wal', 3] }))).toMatch(/no value named "wal"/)
    expect(why(recipe({ wall: -4 }))).toMatch(/size/)
    expect(speaksOf({ size: ['2*wall', 1, 3] }, 'wall')).toBe(true)
    expect(speaksOf({ size: ['2*walls', 1, 3] }, 'wall')).toBe(false)
  })

  it('a change runs again what speaks of them, and nothing else', async () => {
    const store = new MemoryStore()
    const env: Environment = { fileHash: () => Promise.resolve(null), store, work: quiet }
    const first = await evaluate(parseRecipe(recipe({ wall: 4 })), env)
    expect(first.steps.map((s) => s.cached)).toEqual([false, false])
    const again = await evaluate(parseRecipe(recipe({ wall: '5 - 1' })), env)
    expect(again.steps.map((s) => s.cached)).toEqual([true, true])
    const other = await evaluate(parseRecipe(recipe({ wall: 5 })), env)
    expect(other.steps.map((s) => s.cached)).toEqual([false, true])
    expect(other.steps[0].facts.volume).toBeCloseTo(10 * 5 * 3, 9)
  })
})
