/** Eigenvalues and vectors of symmetric matrices by cyclic Jacobi rotation (Golub & Van Loan, Matrix Computations, 8.5). */
import type { Vec3 } from './vec'

/**
 * @param matrix symmetric, n x n
 * @returns values in no order; the vector of value i is column i of `vectors`
 */
export function jacobiEigen(matrix: readonly (readonly number[])[]): { values: number[]; vectors: number[][] } {
  const n = matrix.length
  const a = matrix.map((row) => [...row])
  const v = a.map((_, i) => a.map((__, j): number => (i === j ? 1 : 0)))
  for (let sweep = 0; sweep < 60; sweep++) {
    let off = 0,
      size = 0
    for (let p = 0; p < n; p++) {
      size += Math.abs(a[p][p])
      for (let q = p + 1; q < n; q++) off += Math.abs(a[p][q])
    }
    if (off <= 1e-15 * size || off === 0) break
    for (let p = 0; p < n - 1; p++)
      for (let q = p + 1; q < n; q++) {
        if (a[p][q] === 0) continue
        const theta = (a[q][q] - a[p][p]) / (2 * a[p][q])
        const t = Math.sign(theta || 1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1))
        const c = 1 / Math.sqrt(t * t + 1),
          s = t * c
        for (let k = 0; k < n; k++) [a[k][p], a[k][q]] = [c * a[k][p] - s * a[k][q], s * a[k][p] + c * a[k][q]]
        for (let k = 0; k < n; k++) [a[p][k], a[q][k]] = [c * a[p][k] - s * a[q][k], s * a[p][k] + c * a[q][k]]
        for (let k = 0; k < n; k++) [v[k][p], v[k][q]] = [c * v[k][p] - s * v[k][q], s * v[k][p] + c * v[k][q]]
      }
  }
  return { values: a.map((row, i) => row[i]), vectors: v }
}

/**
 * @param m upper part of a 3x3 matrix as [xx, xy, xz, yy, yz, zz]
 * @returns values in rising order with their unit vectors
 */
export function symmetricEigen(m: readonly number[]): { values: Vec3; vectors: [Vec3, Vec3, Vec3] } {
  const { values, vectors: v } = jacobiEigen([
    [m[0], m[1], m[2]],
    [m[1], m[3], m[4]],
    [m[2], m[4], m[5]],
  ])
  const order = [0, 1, 2].sort((i, j) => values[i] - values[j])
  return {
    values: [values[order[0]], values[order[1]], values[order[2]]],
    vectors: order.map((i): Vec3 => [v[0][i], v[1][i], v[2][i]]) as [Vec3, Vec3, Vec3],
  }
}
