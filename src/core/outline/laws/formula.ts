/** One equation of a drawing, with its derivatives: exact from a formula, or by differences where it can only be measured. */
import { minus, norm, plus, times, variable, type Dual } from '../dual'

/** Whom a law belongs to: an arc's two radii are one, or what the drawing asks. */
export interface Owner {
  readonly of: 'arc' | 'constraint' | 'dimension'
  readonly index: number
}

export interface Law {
  readonly owner: Owner
  /** The numbers it speaks of. */
  readonly numbers: Int32Array
  /** Its value, and its derivative by each of its numbers. */
  at(x: Float64Array): { value: number; slope: Float64Array }
}

export type Get = (number: number) => Dual
export type Formula = (get: Get) => Dual
export interface Pair {
  readonly x: Dual
  readonly y: Dual
}

export const sub = (a: Pair, b: Pair): Pair => ({ x: minus(a.x, b.x), y: minus(a.y, b.y) })
export const cross = (a: Pair, b: Pair) => minus(times(a.x, b.y), times(a.y, b.x))
export const dot = (a: Pair, b: Pair) => plus(times(a.x, b.x), times(a.y, b.y))
export const size = (a: Pair) => norm(a.x, a.y)

export function formulaLaw(owner: Owner, formula: Formula, x: Float64Array): Law {
  const slots = new Map<number, number>()
  formula((k) => {
    if (!slots.has(k)) slots.set(k, slots.size)
    return variable(x[k], -1, 0)
  })
  const numbers = Int32Array.from(slots.keys())
  return {
    owner,
    numbers,
    at(now) {
      const r = formula((k) => variable(now[k], slots.get(k)!, numbers.length))
      return { value: r.v, slope: r.d }
    },
  }
}

/** A law that is only measured: its derivatives by central differences. */
export function measuredLaw(owner: Owner, numbers: readonly number[], measure: (x: Float64Array) => number): Law {
  return {
    owner,
    numbers: Int32Array.from(numbers),
    at(x) {
      const now = Float64Array.from(x)
      const slope = Float64Array.from(numbers, (k) => {
        const h = 1e-6 * Math.max(1, Math.abs(x[k]))
        now[k] = x[k] + h
        const more = measure(now)
        now[k] = x[k] - h
        const less = measure(now)
        now[k] = x[k]
        return (more - less) / (2 * h)
      })
      return { value: measure(x), slope }
    },
  }
}
