/** Smooth curves through rows of numbers: cubic splines with slopes told at the ends, natural ones where they are not, or closed ones. */

/**
 * Slopes of the cubic spline with continuous second derivatives through values at parameters (de Boor 2001, A practical guide to splines,
 * ch. IV: the tridiagonal system for slopes, here solved by elimination with the wrap carried along).
 * @param at parameters, rising; for closed curves the last is the period, where the first value stands again
 * @param ends slopes at both ends; null: the second derivative is 0 there
 */
export function splineSlopes(
  at: readonly number[],
  values: readonly number[],
  ends: readonly [number | null, number | null] | 'closed',
): number[] {
  const n = values.length
  if (n < 2) return values.map(() => 0)
  const closed = ends === 'closed'
  const h = (i: number) => (closed ? at[((i + n) % n) + 1] - at[(i + n) % n] : at[i + 1] - at[i])
  const v = (i: number) => values[(i + n) % n]
  const rows: number[][] = []
  const right: number[] = []
  for (let i = 0; i < n; i++) {
    const row = new Array<number>(n).fill(0)
    if (!closed && (i === 0 || i === n - 1)) {
      const slope = ends[i === 0 ? 0 : 1]
      const j = i === 0 ? 1 : n - 2
      row[i] = slope === null ? 2 : 1
      if (slope === null) row[j] += 1
      const step = i === 0 ? h(0) : h(n - 2)
      right.push(slope ?? (3 * (i === 0 ? v(1) - v(0) : v(n - 1) - v(n - 2))) / step)
    } else {
      const [a, b] = [h(i - 1), h(i)]
      row[(i + n - 1) % n] += b
      row[i] += 2 * (a + b)
      row[(i + 1) % n] += a
      right.push(3 * ((b * (v(i) - v(i - 1))) / a + (a * (v(i + 1) - v(i))) / b))
    }
    rows.push(row)
  }
  // Sections are few: a dense elimination with pivots does.
  for (let c = 0; c < n; c++) {
    let p = c
    for (let r = c + 1; r < n; r++) if (Math.abs(rows[r][c]) > Math.abs(rows[p][c])) p = r
    ;[rows[c], rows[p]] = [rows[p], rows[c]]
    ;[right[c], right[p]] = [right[p], right[c]]
    for (let r = c + 1; r < n; r++) {
      const f = rows[r][c] / rows[c][c]
      if (!f) continue
      for (let k = c; k < n; k++) rows[r][k] -= f * rows[c][k]
      right[r] -= f * right[c]
    }
  }
  const out = new Array<number>(n).fill(0)
  for (let r = n - 1; r >= 0; r--) {
    let s = right[r]
    for (let k = r + 1; k < n; k++) s -= rows[r][k] * out[k]
    out[r] = s / rows[r][r]
  }
  return out
}

/** The value between two knots `h` apart, at a share of the way, by values and slopes there (cubic Hermite). */
export function hermite(a: number, b: number, slopeA: number, slopeB: number, h: number, t: number): number {
  const u = t * t * (3 - 2 * t)
  return (1 - u) * a + u * b + h * (t * (1 - t) * (1 - t) * slopeA - t * t * (1 - t) * slopeB)
}
