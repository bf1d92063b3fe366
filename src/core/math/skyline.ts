/** Symmetric systems whose rows begin late: Cholesky factors within the skyline (George & Liu, Computer Solution of Large Sparse Systems, ch. 4). */

/** Solves A y = r in place; A is given by its lower half, row by row, n x n, and lost. False where it is not positive definite. */
export function solveSkyline(a: Float64Array, n: number, r: Float64Array): boolean {
  const first = new Int32Array(n)
  for (let i = 0; i < n; i++) {
    let k = 0
    while (k < i && !a[i * n + k]) k++
    first[i] = k
  }
  for (let i = 0; i < n; i++) {
    const row = i * n
    let own = a[row + i]
    for (let j = first[i]; j < i; j++) {
      const other = j * n
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
    for (let k = first[i]; k < i; k++) s -= a[i * n + k] * r[k]
    r[i] = s / a[i * n + i]
  }
  for (let i = n - 1; i >= 0; i--) {
    const v = (r[i] /= a[i * n + i])
    for (let k = first[i]; k < i; k++) r[k] -= a[i * n + k] * v
  }
  return true
}
