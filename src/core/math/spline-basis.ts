/** Basis functions of B-splines. */

/**
 * Takes the basis functions that are not zero on a span from degree j - 1 to degree j, in place (Cox and de Boor's recursion; Piegl and
 * Tiller, The NURBS Book, A2.2). Begin with n[0] = 1 and j = 1.
 * @param n functions 0 to j - 1 of the lower degree; function j is added
 * @param span the span of the knots that `t` lies in
 */
export function raiseBasis(
  n: Float64Array | number[],
  j: number,
  knots: ArrayLike<number>,
  span: number,
  t: number,
): void {
  let saved = 0
  for (let r = 0; r < j; r++) {
    const before = t - knots[span + 1 - j + r]
    const after = knots[span + r + 1] - t
    const part = n[r] / (after + before)
    n[r] = saved + after * part
    saved = before * part
  }
  n[j] = saved
}
