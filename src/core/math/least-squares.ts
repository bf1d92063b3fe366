/** Dense non-linear least squares for a handful of parameters. */

/** Solves the small dense system A x = b by elimination with partial pivoting; null when singular. */
export function solveDense(a: number[][], b: number[]): number[] | null {
  const n = b.length
  const m = a.map((row, i) => [...row, b[i]])
  for (let c = 0; c < n; c++) {
    let p = c
    for (let r = c + 1; r < n; r++) if (Math.abs(m[r][c]) > Math.abs(m[p][c])) p = r
    if (!(Math.abs(m[p][c]) > 1e-300)) return null
    ;[m[c], m[p]] = [m[p], m[c]]
    for (let r = c + 1; r < n; r++) {
      const f = m[r][c] / m[c][c]
      if (f !== 0) for (let k = c; k <= n; k++) m[r][k] -= f * m[c][k]
    }
  }
  const x = new Array<number>(n).fill(0)
  for (let r = n - 1; r >= 0; r--) {
    let s = m[r][n]
    for (let k = r + 1; k < n; k++) s -= m[r][k] * x[k]
    x[r] = s / m[r][r]
  }
  return x
}

/**
 * Levenberg-Marquardt (Marquardt 1963): minimises the sum of squared residuals.
 * `row(i, x, grad)` returns residual i at x and writes its gradient into `grad` where one is wanted.
 * @param worth a step that brings less than this share of the sum is the last
 */
export function levenbergMarquardt(
  start: number[],
  count: number,
  row: (i: number, x: readonly number[], grad: number[] | null) => number,
  iterations = 60,
  worth = 1e-14,
): { x: number[]; sum: number } {
  const n = start.length
  const grad = new Array<number>(n).fill(0)
  let x = [...start]
  const cost = (p: readonly number[]) => {
    let s = 0
    for (let i = 0; i < count; i++) s += row(i, p, null) ** 2
    return s
  }
  let sum = cost(x)
  let lambda = 1e-3
  for (let it = 0; it < iterations; it++) {
    const jtj = Array.from({ length: n }, () => new Array<number>(n).fill(0))
    const jtr = new Array<number>(n).fill(0)
    for (let i = 0; i < count; i++) {
      const r = row(i, x, grad)
      for (let p = 0; p < n; p++) {
        jtr[p] -= grad[p] * r
        for (let q = 0; q <= p; q++) jtj[p][q] += grad[p] * grad[q]
      }
    }
    for (let p = 0; p < n; p++) for (let q = p + 1; q < n; q++) jtj[p][q] = jtj[q][p]
    let better = false
    for (let tries = 0; tries < 12 && !better; tries++) {
      const damped = jtj.map((line, i) => line.map((v, j) => (i === j ? v * (1 + lambda) + 1e-15 : v)))
      const step = solveDense(damped, jtr)
      if (!step) {
        lambda *= 10
        continue
      }
      const trial = x.map((v, i) => v + step[i])
      const s = cost(trial)
      if (s < sum) {
        const gain = sum - s
        x = trial
        sum = s
        lambda = Math.max(lambda / 8, 1e-12)
        better = gain > worth * sum
        if (!better) return { x, sum }
      } else lambda *= 6
    }
    if (!better) break
  }
  return { x, sum }
}
