import { describe, expect, it } from '@jest/globals'
import { splineSlopes } from './clamped-cubic'

const at = [0, 0.7, 1.1, 2.6, 3]

/** Second derivative of the Hermite cubic of piece `i` at its start or end (de Boor 2001, ch. IV). */
function bend(values: readonly number[], slopes: readonly number[], i: number, end: boolean): number {
  const h = at[i + 1] - at[i]
  const rise = (values[i + 1] - values[i]) / h
  return end ? (2 * slopes[i] + 4 * slopes[i + 1] - 6 * rise) / h : (6 * rise - 4 * slopes[i] - 2 * slopes[i + 1]) / h
}

describe('slopes of cubic splines', () => {
  it('of a cubic whose end slopes are told are its own', () => {
    const f = (x: number) => 2 * x ** 3 - 5 * x ** 2 + x - 4
    const slope = (x: number) => 6 * x ** 2 - 10 * x + 1
    splineSlopes(at, at.map(f), [slope(0), slope(3)]).forEach((s, i) => expect(s).toBeCloseTo(slope(at[i]), 9))
  })
  it('bend alike on both sides of each place, and not at all at ends that are free', () => {
    const values = [1, -2, 0.5, 4, 3]
    const slopes = splineSlopes(at, values, [null, null])
    for (let i = 1; i < at.length - 1; i++)
      expect(bend(values, slopes, i - 1, true)).toBeCloseTo(bend(values, slopes, i, false), 9)
    expect(bend(values, slopes, 0, false)).toBeCloseTo(0, 9)
    expect(bend(values, slopes, at.length - 2, true)).toBeCloseTo(0, 9)
  })
  it('of a closed row do not ask where it begins', () => {
    const steps = [0.7, 0.4, 1.5, 0.4]
    const values = [1, -2, 0.5, 4]
    const from = (k: number) => {
      const turned = steps.map((_, i) => steps[(i + k) % 4])
      const places = turned.reduce<number[]>((list, s) => [...list, list.at(-1)! + s], [0])
      const slopes = splineSlopes(
        places,
        values.map((_, i) => values[(i + k) % 4]),
        'closed',
      )
      return values.map((_, i) => slopes[(i + 4 - k) % 4])
    }
    for (const k of [1, 2, 3]) from(k).forEach((s, i) => expect(s).toBeCloseTo(from(0)[i], 9))
  })
})
