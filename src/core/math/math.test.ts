import { describe, expect, it } from '@jest/globals'
import { Matrix4, Quaternion, Vector3 } from 'three'
import {
  about,
  applyPoint,
  compose,
  determinant,
  mirror,
  rotation,
  rotationBetween,
  scaling,
  translation,
} from './affine'
import { conjugateGradient } from './conjugate-gradient'
import { symmetricEigen } from './eigen'
import { levenbergMarquardt, solveDense } from './least-squares'
import { random } from './random'
import { cross, dot, frame, length, normalize, sub, type Vec3 } from './vec'

const near = (a: readonly number[], b: readonly number[], digits = 9) =>
  a.forEach((v, i) => expect(v).toBeCloseTo(b[i], digits))

describe('affine maps', () => {
  const p: Vec3 = [1.5, -2, 0.25]
  // Reference: the three library's matrices.
  it('turn, move, scale and compose as the three library does', () => {
    const axis = new Vector3(1, 2, -0.5).normalize()
    const m = new Matrix4().compose(
      new Vector3(3, 4, 5),
      new Quaternion().setFromAxisAngle(axis, 0.7),
      new Vector3(2, 2, 2),
    )
    const ours = compose(translation([3, 4, 5]), compose(rotation(axis.toArray(), (0.7 * 180) / Math.PI), scaling(2)))
    near(applyPoint(ours, p), new Vector3(...p).applyMatrix4(m).toArray())
    expect(determinant(ours)).toBeCloseTo(m.determinant(), 9)
  })
  it('quarter turns come out exact', () => {
    expect(applyPoint(rotation([0, 0, 1], 90), [7, 0, 0]).map((v) => v + 0)).toEqual([0, 7, 0])
    expect(applyPoint(rotation([0, 0, 1], -270), [7, 0, 0]).map((v) => v + 0)).toEqual([0, 7, 0])
  })
  it('a mirror twice is nothing and turns the handedness', () => {
    const m = mirror([1, 2, 3], [1, 1, 0])
    near(applyPoint(m, applyPoint(m, p)), p)
    expect(determinant(m)).toBeCloseTo(-1, 12)
  })
  it('turns about a centre leave the centre; the shortest turn takes one direction to the other', () => {
    near(applyPoint(about([4, 5, 6], rotation([0, 1, 0], 33)), [4, 5, 6]), [4, 5, 6])
    for (const [a, b] of [
      [
        [1, 0, 0],
        [0, 1, 0],
      ],
      [
        [0, 0, 1],
        [0, 0, -1],
      ],
      [
        [1, 2, 3],
        [1, 2, 3],
      ],
    ] as [Vec3, Vec3][])
      near(applyPoint(rotationBetween(a, b), normalize(a)), normalize(b))
  })
})

describe('linear algebra', () => {
  const rng = random(11)
  it('eigenvalues of random symmetric matrices: trace, determinant and A v = w v', () => {
    for (let k = 0; k < 50; k++) {
      const [xx, xy, xz, yy, yz, zz] = Array.from({ length: 6 }, () => rng.normal())
      const a = [
        [xx, xy, xz],
        [xy, yy, yz],
        [xz, yz, zz],
      ]
      const { values, vectors } = symmetricEigen([xx, xy, xz, yy, yz, zz])
      expect(values[0] + values[1] + values[2]).toBeCloseTo(xx + yy + zz, 9)
      expect(values[0] <= values[1] && values[1] <= values[2]).toBe(true)
      vectors.forEach((v, i) =>
        near(
          a.map((row) => dot(row as unknown as Vec3, v)),
          v.map((c) => c * values[i]),
          7,
        ),
      )
      expect(Math.abs(dot(vectors[0], vectors[1]))).toBeLessThan(1e-9)
    }
  })
  it('conjugate gradients agree with elimination', () => {
    const n = 30
    const b = Array.from({ length: n }, () => rng.normal())
    const m = Array.from({ length: n }, () => Array.from({ length: n }, () => rng.normal()))
    // M^T M + I is symmetric and positive definite.
    const a = m.map((_, i) => m.map((__, j) => m.reduce((s, row) => s + row[i] * row[j], i === j ? 1 : 0)))
    const x = conjugateGradient(
      n,
      (v, out) =>
        a.forEach((row, i) => {
          out[i] = row.reduce((s, c, j) => s + c * v[j], 0)
        }),
      Float64Array.from(a, (r, i) => r[i]),
      Float64Array.from(b),
      new Float64Array(n),
      { tolerance: 1e-12 },
    )
    near(Array.from(x), solveDense(a, b)!, 6)
  })
  it('a singular system is refused', () =>
    expect(
      solveDense(
        [
          [1, 2],
          [2, 4],
        ],
        [1, 2],
      ),
    ).toBeNull())
  it('Levenberg-Marquardt finds the bottom of the valley of Rosenbrock (1960): 1, 1', () => {
    const { x, sum } = levenbergMarquardt(
      [-1.2, 1],
      2,
      (i, v, g) => {
        const first = i === 0
        if (g) [g[0], g[1]] = first ? [-20 * v[0], 10] : [-1, 0]
        return first ? 10 * (v[1] - v[0] ** 2) : 1 - v[0]
      },
      200,
    )
    near(x, [1, 1], 6)
    expect(sum).toBeLessThan(1e-12)
  })
  it('frames are right-handed and square', () => {
    for (let k = 0; k < 20; k++) {
      const n = normalize([rng.normal(), rng.normal(), rng.normal()])
      const [x, y, z] = frame(n)
      near(cross(x, y), z)
      expect(length(x)).toBeCloseTo(1, 12)
      expect(length(sub(z, n))).toBe(0)
    }
  })
  it('random numbers repeat by seed and have the mean and spread they should', () => {
    const a = random(5),
      b = random(5)
    const list = Array.from({ length: 20000 }, () => a.normal())
    expect(list.slice(0, 5)).toEqual(Array.from({ length: 5 }, () => b.normal()))
    const mean = list.reduce((s, v) => s + v, 0) / list.length
    expect(Math.abs(mean)).toBeLessThan(0.03)
    expect(Math.sqrt(list.reduce((s, v) => s + (v - mean) ** 2, 0) / list.length)).toBeCloseTo(1, 1)
  })
})
