/** Symmetric systems whose entries lie near the diagonal (Golub & Van Loan, Matrix Computations, 4.3.5: band Cholesky). */

/**
 * Solves A y = r in place; A is lost.
 * @param a lower half, row by row: entry (i, j) stands at i * (band + 1) + j - i + band, for j from i - band to i
 * @returns false where A is not positive definite
 */
export function solveBand(a: Float64Array, n: number, band: number, r: Float64Array): boolean {
  const width = band + 1
  for (let i = 0; i < n; i++) {
    const row = i * width + band - i
    const low = Math.max(0, i - band)
    let own = a[row + i]
    for (let j = low; j < i; j++) {
      const other = j * width + band - j
      let s = a[row + j]
      for (let k = Math.max(low, j - band); k < j; k++) s -= a[row + k] * a[other + k]
      s /= a[other + j]
      a[row + j] = s
      own -= s * s
    }
    if (!(own > 0)) return false
    a[row + i] = Math.sqrt(own)
  }
  for (let i = 0; i < n; i++) {
    const row = i * width + band - i
    let s = r[i]
    for (let k = Math.max(0, i - band); k < i; k++) s -= a[row + k] * r[k]
    r[i] = s / a[row + i]
  }
  for (let i = n - 1; i >= 0; i--) {
    const row = i * width + band - i
    const v = (r[i] /= a[row + i])
    for (let k = Math.max(0, i - band); k < i; k++) r[k] -= a[row + k] * v
  }
  return true
}
