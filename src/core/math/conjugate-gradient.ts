/** Sparse symmetric positive definite systems by conjugate gradients with diagonal scaling (Saad, Iterative Methods, 9.2). */

/**
 * Solves A x = b for several right sides that share A.
 * @param apply writes A v into `out`
 * @param diagonal of A, all positive
 */
export function conjugateGradient(
  n: number,
  apply: (v: Float64Array, out: Float64Array) => void,
  diagonal: Float64Array,
  b: Float64Array,
  start: Float64Array,
  { tolerance = 1e-8, iterations = 4 * n + 50 } = {},
): Float64Array {
  const x = Float64Array.from(start)
  const r = new Float64Array(n),
    z = new Float64Array(n),
    p = new Float64Array(n),
    ap = new Float64Array(n)
  apply(x, ap)
  let norm = 0
  for (let i = 0; i < n; i++) {
    r[i] = b[i] - ap[i]
    norm += b[i] * b[i]
  }
  const stop = tolerance * tolerance * Math.max(norm, 1e-300)
  let rz = 0
  for (let i = 0; i < n; i++) {
    z[i] = r[i] / diagonal[i]
    p[i] = z[i]
    rz += r[i] * z[i]
  }
  for (let it = 0; it < iterations; it++) {
    let rr = 0
    for (let i = 0; i < n; i++) rr += r[i] * r[i]
    if (rr <= stop) break
    apply(p, ap)
    let pap = 0
    for (let i = 0; i < n; i++) pap += p[i] * ap[i]
    if (!(pap > 0)) break
    const alpha = rz / pap
    let next = 0
    for (let i = 0; i < n; i++) {
      x[i] += alpha * p[i]
      r[i] -= alpha * ap[i]
      z[i] = r[i] / diagonal[i]
      next += r[i] * z[i]
    }
    const beta = next / rz
    rz = next
    for (let i = 0; i < n; i++) p[i] = z[i] + beta * p[i]
  }
  return x
}
