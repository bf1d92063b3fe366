/** Numbers that carry their derivatives (forward-mode differentiation, Griewank & Walther, Evaluating Derivatives, ch. 3). */

export interface Dual {
  readonly v: number
  /** Derivative by each of the few unknowns at hand. */
  readonly d: Float64Array
}

export const variable = (v: number, k: number, of: number): Dual => {
  const d = new Float64Array(of)
  if (k >= 0) d[k] = 1
  return { v, d }
}
const lin = (v: number, a: Dual, ka: number, b?: Dual, kb = 0): Dual => {
  const d = new Float64Array(a.d.length)
  for (let i = 0; i < d.length; i++) d[i] = ka * a.d[i] + (b ? kb * b.d[i] : 0)
  return { v, d }
}
export const plus = (a: Dual, b: Dual): Dual => lin(a.v + b.v, a, 1, b, 1)
export const minus = (a: Dual, b: Dual): Dual => lin(a.v - b.v, a, 1, b, -1)
export const times = (a: Dual, b: Dual): Dual => lin(a.v * b.v, a, b.v, b, a.v)
export const over = (a: Dual, b: Dual): Dual => lin(a.v / b.v, a, 1 / b.v, b, -a.v / (b.v * b.v))
export const by = (a: Dual, k: number): Dual => lin(a.v * k, a, k)
export const shift = (a: Dual, k: number): Dual => lin(a.v + k, a, 1)
export const sine = (a: Dual): Dual => lin(Math.sin(a.v), a, Math.cos(a.v))
export const cosine = (a: Dual): Dual => lin(Math.cos(a.v), a, -Math.sin(a.v))

/** Length of a pair; near nothing it is rounded off, so that it keeps a derivative. */
export const norm = (x: Dual, y: Dual): Dual => {
  const v = Math.sqrt(x.v * x.v + y.v * y.v + 1e-24)
  return lin(v, x, x.v / v, y, y.v / v)
}
export const angleOf = (y: Dual, x: Dual): Dual => {
  const s = x.v * x.v + y.v * y.v + 1e-24
  return lin(Math.atan2(y.v, x.v), y, x.v / s, x, -y.v / s)
}
