/** Places and weights against Abramowitz and Stegun, table 25.4, and integrals against closed forms. */
import { describe, expect, it } from '@jest/globals'
import { gaussRule, integrate } from './gauss-legendre'

describe('the rule of n places', () => {
  it('has the table’s places and weights', () => {
    const { at, weight } = gaussRule(5)
    expect(at[4]).toBeCloseTo(0.906179845938664, 14)
    expect(weight[4]).toBeCloseTo(0.236926885056189, 14)
    expect(at[3]).toBeCloseTo(0.538469310105683, 14)
    expect(weight[3]).toBeCloseTo(0.478628670499366, 14)
    expect([at[2], weight[2]].map((v) => v.toFixed(12))).toEqual(
      ['0.000000000000', '0.568888888889'].map((v) => expect.stringMatching(new RegExp(`^-?${v}$`))),
    )
  })
  it.each([1, 2, 3, 6, 10, 16])('is exact for polynomials up to degree 2 x %d - 1, and not beyond', (n) => {
    const { at, weight } = gaussRule(n)
    const sum = (degree: number) => at.reduce((s, x, i) => s + weight[i] * x ** degree, 0)
    for (let d = 0; d < 2 * n; d++) expect(sum(d)).toBeCloseTo(d % 2 ? 0 : 2 / (d + 1), 12)
    expect(Math.abs(sum(2 * n) - 2 / (2 * n + 1))).toBeGreaterThan(1e-10)
  })
})

describe('an integral to a given error', () => {
  const sumsOf = (fs: ((t: number) => number)[], from: number, to: number, within: number) => {
    const out = new Float64Array(fs.length)
    let calls = 0
    integrate(
      (t, w, sum) => {
        calls++
        fs.forEach((f, k) => (sum[k] += w * f(t)))
      },
      from,
      to,
      fs.map(() => within),
      out,
    )
    return { out: [...out], calls }
  }
  it('has the value of its closed form, for all functions at once, either way round', () => {
    const fs = [(t: number) => Math.exp(t), (t: number) => Math.sin(9 * t), (t: number) => 1 / (1 + 25 * t * t)]
    const truth = [Math.E - 1 / Math.E, 0, (2 / 5) * Math.atan(5)]
    sumsOf(fs, -1, 1, 1e-11).out.forEach((v, k) => expect(v).toBeCloseTo(truth[k], 10))
    sumsOf(fs, 1, -1, 1e-11).out.forEach((v, k) => expect(v).toBeCloseTo(-truth[k], 10))
  })
  it('takes more places only where it must, and ends at a corner', () => {
    expect(sumsOf([(t) => t ** 3], 0, 2, 1e-12).calls).toBe(16)
    const bent = sumsOf([(t) => Math.abs(t - 1 / 3)], 0, 1, 1e-9)
    expect(bent.out[0]).toBeCloseTo(5 / 18, 8)
    expect(bent.calls).toBeLessThan(1000)
    expect(sumsOf([(t) => (t < 1 / 3 ? 0 : 1)], 0, 1, 0).calls).toBeLessThan(1e6)
  })
})
