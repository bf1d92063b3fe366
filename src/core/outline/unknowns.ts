/** A drawing as a row of numbers: two for each point, then the sizes that curves have of their own. */
import type { Curve, Drawing, Place } from './drawing'

export interface Unknowns {
  readonly count: number
  /** First number of a curve's own sizes: of a circle its radius; of an ellipse long, short and turn (radians). -1: it has none. */
  readonly own: Int32Array
}

const sizes = (c: Curve) => (c.kind === 'circle' ? 1 : c.kind === 'ellipse' ? 3 : 0)

export function unknownsOf(d: Drawing): Unknowns {
  let count = 2 * d.points.length
  const own = Int32Array.from(d.curves, (c) => {
    const n = sizes(c)
    if (!n) return -1
    count += n
    return count - n
  })
  return { count, own }
}

export function numbersOf(d: Drawing, u: Unknowns): Float64Array {
  const x = new Float64Array(u.count)
  d.points.forEach(([a, b], i) => {
    x[2 * i] = a
    x[2 * i + 1] = b
  })
  d.curves.forEach((c, i) => {
    const k = u.own[i]
    if (c.kind === 'circle') x[k] = c.radius
    if (c.kind === 'ellipse') {
      x[k] = c.long
      x[k + 1] = c.short
      x[k + 2] = (c.turn * Math.PI) / 180
    }
  })
  return x
}

/** The drawing with other numbers. What did not change stays the very same. */
export function withNumbers(d: Drawing, u: Unknowns, x: Float64Array): Drawing {
  return {
    ...d,
    points: d.points.map((p, i): Place => (p[0] === x[2 * i] && p[1] === x[2 * i + 1] ? p : [x[2 * i], x[2 * i + 1]])),
    curves: d.curves.map((c, i) => {
      const k = u.own[i]
      if (c.kind === 'circle') return c.radius === x[k] ? c : { ...c, radius: x[k] }
      if (c.kind !== 'ellipse') return c
      const turn = (x[k + 2] * 180) / Math.PI
      return c.long === x[k] && c.short === x[k + 1] && Math.abs(c.turn - turn) < 1e-12
        ? c
        : { ...c, long: x[k], short: x[k + 1], turn }
    }),
  }
}

/** The numbers that a point or a curve is made of. */
export const numbersOfPoint = (i: number): number[] => [2 * i, 2 * i + 1]
export function numbersOfCurve(d: Drawing, u: Unknowns, i: number, points: readonly number[]): number[] {
  const own = Array.from({ length: sizes(d.curves[i]) }, (_, k) => u.own[i] + k)
  return [...points.flatMap(numbersOfPoint), ...own]
}
