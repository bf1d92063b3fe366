/** Least squares over rows of four neighbouring unknowns, as cubic B-splines give, by Cholesky factors of the normal equations. */

/**
 * Unknowns x (pairs) for which sum n_i x_{first + i} comes nearest to `want` over all rows.
 * @param count of unknowns
 * @param round numbers run on from the last to the first
 * @param rows first unknown and weights of the four that follow
 * @param held unknowns that take the value of the first and last wanted pair, in this order
 * @returns null when the rows leave an unknown open
 */
export function solveBanded(
  count: number,
  round: boolean,
  rows: readonly { readonly first: number; readonly n: readonly number[] }[],
  want: readonly (readonly [number, number])[],
  held: readonly number[],
): [number, number][] | null {
  // Round ones have corners in the matrix; a skyline from the first entry of each row holds both shapes.
  const start = new Int32Array(count)
  for (let i = 0; i < count; i++) start[i] = i
  const at = (i: number) => (round ? i % count : i)
  for (const r of rows)
    for (let i = 0; i < 4; i++)
      for (let j = 0; j < 4; j++) {
        if (!r.n[i] || !r.n[j]) continue
        const a = at(r.first + i),
          b = at(r.first + j)
        if (b < start[a]) start[a] = b
      }
  const row = Array.from({ length: count }, (_, i) => new Float64Array(i - start[i] + 1))
  const x = new Float64Array(count),
    y = new Float64Array(count)
  rows.forEach((r, k) => {
    for (let i = 0; i < 4; i++) {
      if (!r.n[i]) continue
      const a = at(r.first + i)
      x[a] += r.n[i] * want[k][0]
      y[a] += r.n[i] * want[k][1]
      for (let j = 0; j < 4; j++) {
        const b = at(r.first + j)
        if (r.n[j] && b <= a) row[a][b - start[a]] += r.n[i] * r.n[j]
      }
    }
  })
  const get = (i: number, j: number) => (j >= start[i] && j <= i ? row[i][j - start[i]] : 0)
  held.forEach((h, k) => {
    const [hx, hy] = want[k === 0 ? 0 : want.length - 1]
    for (let i = 0; i < count; i++) {
      const w = i >= h ? get(i, h) : get(h, i)
      if (i === h || !w) continue
      x[i] -= w * hx
      y[i] -= w * hy
      if (i > h) row[i][h - start[i]] = 0
      else row[h][i - start[h]] = 0
    }
    row[h][h - start[h]] = 1
    x[h] = hx
    y[h] = hy
  })
  // Cholesky within the skyline (Golub & Van Loan, Matrix Computations, 4.2 and 4.3).
  for (let i = 0; i < count; i++) {
    for (let j = start[i]; j < i; j++) {
      let s = row[i][j - start[i]]
      for (let k = Math.max(start[i], start[j]); k < j; k++) s -= row[i][k - start[i]] * row[j][k - start[j]]
      row[i][j - start[i]] = s / row[j][j - start[j]]
    }
    let d = row[i][i - start[i]]
    for (let k = start[i]; k < i; k++) d -= row[i][k - start[i]] ** 2
    if (!(d > 1e-13)) return null
    row[i][i - start[i]] = Math.sqrt(d)
  }
  for (let i = 0; i < count; i++) {
    for (let k = start[i]; k < i; k++) {
      x[i] -= row[i][k - start[i]] * x[k]
      y[i] -= row[i][k - start[i]] * y[k]
    }
    x[i] /= row[i][i - start[i]]
    y[i] /= row[i][i - start[i]]
  }
  for (let i = count - 1; i >= 0; i--) {
    x[i] /= row[i][i - start[i]]
    y[i] /= row[i][i - start[i]]
    for (let k = start[i]; k < i; k++) {
      x[k] -= row[i][k - start[i]] * x[i]
      y[k] -= row[i][k - start[i]] * y[i]
    }
  }
  return Array.from(x, (v, i) => [v, y[i]])
}
