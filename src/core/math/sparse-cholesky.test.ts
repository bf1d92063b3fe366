import { describe, expect, it } from '@jest/globals'
import { random } from './random'
import { SparseFactor, SparseSum } from './sparse-cholesky'

describe('sparse Cholesky factors', () => {
  it('a sparse system is solved as a dense one is', () => {
    const { next } = random(3)
    const n = 120
    const places = Float64Array.from({ length: 3 * n }, next)
    const sum = new SparseSum(n)
    const dense = Array.from({ length: n }, () => new Float64Array(n))
    const add = (i: number, j: number, v: number) => {
      sum.add(i, j, v)
      dense[i][j] += v
      if (i !== j) dense[j][i] += v
    }
    for (let i = 0; i < n; i++) add(i, i, 8)
    for (let e = 0; e < 300; e++) {
      const [i, j] = [Math.floor(next() * n), Math.floor(next() * n)]
      if (i !== j) add(i, j, next() - 0.5)
    }
    const x = Float64Array.from({ length: n }, next)
    const b = dense.map((row) => row.reduce((s, v, j) => s + v * x[j], 0))
    const got = SparseFactor.of(sum, places)!.solve(b)
    got.forEach((v, i) => expect(v).toBeCloseTo(x[i], 10))
  })
  it('a system that is not positive definite is told', () => {
    const sum = new SparseSum(2)
    sum.add(0, 0, 1)
    sum.add(1, 1, 1)
    sum.add(1, 0, 2)
    expect(SparseFactor.of(sum, [0, 0, 0, 1, 0, 0])).toBeNull()
  })
})
