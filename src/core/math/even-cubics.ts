/** Cubic B-splines over even knots, at a share of a cell: the four that are not zero there (Piegl & Tiller, The NURBS Book, ch. 2). */

export type Four = [number, number, number, number]

export const evenBasis = (t: number): Four => {
  const s = 1 - t
  return [(s * s * s) / 6, (3 * t * t * t - 6 * t * t + 4) / 6, (3 * s * s * s - 6 * s * s + 4) / 6, (t * t * t) / 6]
}

/** Their slopes, for a cell. */
export const evenSlope = (t: number): Four => {
  const s = 1 - t
  return [(-s * s) / 2, (3 * t * t - 4 * t) / 2, (4 * s - 3 * s * s) / 2, (t * t) / 2]
}

/** Their second derivatives, for a cell squared. */
export const evenBend = (t: number): Four => {
  const s = 1 - t
  return [s, 3 * t - 2, 3 * s - 2, t]
}
