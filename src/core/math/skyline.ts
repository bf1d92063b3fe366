/** Symmetric systems whose rows begin late: Cholesky factors within the skyline (George & Liu, Computer Solution of Large Sparse Systems, ch. 4). */

/**
 * Solves A y = r in place; A is lost.
 * @param a lower half, row by row: entry (i, j) stands at from[i] + j
 * @param first column in which each row begins
 * @returns false where A is not positive definite
 */
function solveRows(a: Float64Array, first: Int32Array, from: Int32Array, r: Float64Array): boolean {
  const n = first.length
  for (let i = 0; i < n; i++) {
    const row = from[i]
    let own = a[row + i]
    for (let j = first[i]; j < i; j++) {
      const other = from[j]
      let s = a[row + j]
      for (let k = Math.max(first[i], first[j]); k < j; k++) s -= a[row + k] * a[other + k]
      s /= a[other + j]
      a[row + j] = s
      own -= s * s
    }
    if (!(own > 0)) return false
    a[row + i] = Math.sqrt(own)
  }
  for (let i = 0; i < n; i++) {
    let s = r[i]
    for (let k = first[i]; k < i; k++) s -= a[from[i] + k] * r[k]
    r[i] = s / a[from[i] + i]
  }
  for (let i = n - 1; i >= 0; i--) {
    const v = (r[i] /= a[from[i] + i])
    for (let k = first[i]; k < i; k++) r[k] -= a[from[i] + k] * v
  }
  return true
}

/** Solves A y = r in place; A is given by its lower half, row by row, n x n, and lost. False where it is not positive definite. */
export function solveSkyline(a: Float64Array, n: number, r: Float64Array): boolean {
  const first = new Int32Array(n)
  for (let i = 0; i < n; i++) {
    let k = 0
    while (k < i && !a[i * n + k]) k++
    first[i] = k
  }
  return solveRows(
    a,
    first,
    first.map((_, i) => i * n),
    r,
  )
}

/**
 * Solves A y = r in place, where entries lie near the diagonal; A is lost.
 * @param a lower half, row by row: entry (i, j) stands at i * (band + 1) + j - i + band, for j from i - band to i
 * @returns false where A is not positive definite
 */
export function solveBand(a: Float64Array, n: number, band: number, r: Float64Array): boolean {
  const first = Int32Array.from({ length: n }, (_, i) => Math.max(0, i - band))
  return solveRows(
    a,
    first,
    first.map((_, i) => i * band + band),
    r,
  )
}
