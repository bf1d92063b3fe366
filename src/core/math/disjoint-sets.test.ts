import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { DisjointSets } from './disjoint-sets'

describe('disjoint sets', () => {
  it('are what a walk over the pairs finds, whatever their order', () => {
    const pairs = fc.array(fc.tuple(fc.nat(19), fc.nat(19)), { maxLength: 30 })
    fc.assert(
      fc.property(pairs, (list) => {
        const sets = new DisjointSets(20)
        let count = 20
        for (const [a, b] of list) if (sets.unite(a, b)) count--
        const reached = (from: number) => {
          const seen = new Set([from])
          for (const at of seen)
            for (const [a, b] of list)
              for (const [x, y] of [
                [a, b],
                [b, a],
              ])
                if (x === at) seen.add(y)
          return [...seen].sort((a, b) => a - b)
        }
        const groups = sets.groups()
        expect(groups.size).toBe(count)
        for (const [root, members] of groups) {
          expect(members).toEqual(reached(root))
          for (const m of members) expect(sets.find(m)).toBe(root)
        }
      }),
      { seed: 3, numRuns: 200 },
    )
  })
  it('the second of two stands for both', () => {
    const sets = new DisjointSets(4)
    expect(sets.unite(0, 1)).toBe(true)
    expect(sets.find(0)).toBe(1)
    expect(sets.unite(1, 2)).toBe(true)
    expect([sets.find(0), sets.find(1), sets.find(3)]).toEqual([2, 2, 3])
    expect(sets.unite(2, 0)).toBe(false)
  })
})
