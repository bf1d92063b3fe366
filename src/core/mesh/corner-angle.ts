/** The corner of a triangle or quad, by the numbers of its vertices. */

/** Cosine of the angle at vertex v between a and b. */
export function cornerCosine(p: ArrayLike<number>, v: number, a: number, b: number): number {
  let [dot, x, y] = [0, 0, 0]
  for (let k = 0; k < 3; k++) {
    const e = p[3 * a + k] - p[3 * v + k]
    const f = p[3 * b + k] - p[3 * v + k]
    dot += e * f
    x += e * e
    y += f * f
  }
  return Math.max(-1, Math.min(1, dot / (Math.sqrt(x * y) || 1e-300)))
}
