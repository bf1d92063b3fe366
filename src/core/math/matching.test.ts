import { describe, expect, it } from '@jest/globals'
import { enlargeMatching } from './matching'

describe('matchings', () => {
  it('a matching grows to the greatest there is, through blossoms', () => {
    // Two triangles joined by a path: pairs go round both odd rings.
    const edges = [
      [0, 1],
      [1, 2],
      [2, 0],
      [2, 3],
      [3, 4],
      [4, 5],
      [5, 6],
      [6, 7],
      [7, 5],
    ]
    const beside: number[][] = Array.from({ length: 8 }, () => [])
    for (const [a, b] of edges) {
      beside[a].push(b)
      beside[b].push(a)
    }
    const mate = new Int32Array(8).fill(-1)
    mate[1] = 2
    mate[2] = 1
    mate[5] = 4
    mate[4] = 5
    expect(enlargeMatching(beside, mate)).toEqual([])
    mate.forEach((m, v) => expect(mate[m]).toBe(v))
  })
})
