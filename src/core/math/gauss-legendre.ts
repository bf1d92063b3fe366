/** Gauss-Legendre places and weights, and an integral over a stretch to a given error. */

export interface GaussRule {
  /** Places between -1 and 1. */
  readonly at: Float64Array
  readonly weight: Float64Array
}

const rules = new Map<number, GaussRule>()

/**
 * The rule of `n` places, exact for polynomials up to degree 2n - 1: roots of the Legendre polynomial by Newton's method from Tricomi's
 * guess (Press et al., Numerical Recipes, 3rd edition, 4.6.1; Abramowitz and Stegun 25.4.29).
 */
export function gaussRule(n: number): GaussRule {
  const known = rules.get(n)
  if (known) return known
  const [at, weight] = [new Float64Array(n), new Float64Array(n)]
  for (let i = 0; i < n; i++) {
    let x = -Math.cos((Math.PI * (i + 0.75)) / (n + 0.5))
    let slope = 1
    for (let step = 0; step < 20; step++) {
      let [last, p] = [1, x]
      for (let k = 2; k <= n; k++) [last, p] = [p, ((2 * k - 1) * x * p - (k - 1) * last) / k]
      slope = (n * (x * p - last)) / (x * x - 1)
      const move = p / slope
      x -= move
      if (Math.abs(move) < 1e-16) break
    }
    at[i] = x
    weight[i] = 2 / ((1 - x * x) * slope * slope)
  }
  const rule = { at, weight }
  rules.set(n, rule)
  return rule
}

/** Values at a place, added to `out` with a weight. */
export type Integrand = (t: number, weight: number, out: Float64Array) => void

const fine = 10
const coarse = 6
/** Where a border turns sharply, as near the pole of a ball, halving on and on would take minutes for a digit that nobody needs. */
const deepest = 10

/** The integral of several functions at once by a rule of `places`, added to `out`. */
export function sumUp(f: Integrand, from: number, to: number, places: number, out: Float64Array): void {
  const rule = gaussRule(places)
  const [middle, half] = [(from + to) / 2, (to - from) / 2]
  for (let i = 0; i < places; i++) f(middle + half * rule.at[i], half * rule.weight[i], out)
}

/**
 * The integral of several functions at once from `from` to `to`, added to `out`: each stretch by two rules, halved where they differ by
 * more than its share of `within` in any of them (adaptive quadrature; Davis and Rabinowitz, Methods of Numerical Integration, 6.2).
 */
export function integrate(
  f: Integrand,
  from: number,
  to: number,
  within: readonly number[],
  out: Float64Array,
  depth = 0,
): void {
  const n = out.length
  const [good, poor] = [fine, coarse].map((places) => {
    const sum = new Float64Array(n)
    sumUp(f, from, to, places, sum)
    return sum
  })
  const middle = (from + to) / 2
  let close = true
  for (let k = 0; k < n && close; k++) close = Math.abs(good[k] - poor[k]) <= within[k]
  if (close || depth >= deepest) {
    for (let k = 0; k < n; k++) out[k] += good[k]
    return
  }
  const less = within.map((w) => w / 2)
  integrate(f, from, middle, less, out, depth + 1)
  integrate(f, middle, to, less, out, depth + 1)
}
