/** Eigenvalues and vectors of a symmetric 3x3 matrix by cyclic Jacobi rotation (Golub & Van Loan, Matrix Computations, 8.5). */
import type { Vec3 } from './vec'

/**
 * @param m upper part of the matrix as [xx, xy, xz, yy, yz, zz]
 * @returns values in rising order with their unit vectors
 */
export function symmetricEigen(m: readonly number[]): { values: Vec3; vectors: [Vec3, Vec3, Vec3] } {
  const a = [
    [m[0], m[1], m[2]],
    [m[1], m[3], m[4]],
    [m[2], m[4], m[5]],
  ]
  const v = [
    [1, 0, 0],
    [0, 1, 0],
    [0, 0, 1],
  ]
  for (let sweep = 0; sweep < 50; sweep++) {
    const off = Math.abs(a[0][1]) + Math.abs(a[0][2]) + Math.abs(a[1][2])
    if (off <= 1e-15 * (Math.abs(a[0][0]) + Math.abs(a[1][1]) + Math.abs(a[2][2])) || off === 0) break
    for (let p = 0; p < 2; p++) {
      for (let q = p + 1; q < 3; q++) {
        if (a[p][q] === 0) continue
        const theta = (a[q][q] - a[p][p]) / (2 * a[p][q])
        const t = Math.sign(theta || 1) / (Math.abs(theta) + Math.sqrt(theta * theta + 1))
        const c = 1 / Math.sqrt(t * t + 1),
          s = t * c
        for (let k = 0; k < 3; k++) {
          const kp = a[k][p],
            kq = a[k][q]
          a[k][p] = c * kp - s * kq
          a[k][q] = s * kp + c * kq
        }
        for (let k = 0; k < 3; k++) {
          const pk = a[p][k],
            qk = a[q][k]
          a[p][k] = c * pk - s * qk
          a[q][k] = s * pk + c * qk
        }
        for (let k = 0; k < 3; k++) {
          const kp = v[k][p],
            kq = v[k][q]
          v[k][p] = c * kp - s * kq
          v[k][q] = s * kp + c * kq
        }
      }
    }
  }
  const order = [0, 1, 2].sort((i, j) => a[i][i] - a[j][j])
  return {
    values: [a[order[0]][order[0]], a[order[1]][order[1]], a[order[2]][order[2]]],
    vectors: order.map((i): Vec3 => [v[0][i], v[1][i], v[2][i]]) as [Vec3, Vec3, Vec3],
  }
}
