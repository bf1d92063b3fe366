/** Laws of vectors, maps and solvers over numbers by chance. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { fewRuns } from '@/testing/small-bodies'
import {
  about,
  applyPoint,
  compose,
  determinant,
  identity,
  mirror,
  placeOn,
  rotation,
  rotationBetween,
  scaling,
  standing,
  translation,
} from './affine'
import { solveBanded } from './banded'
import { evenBasis, evenBend, evenSlope } from './even-cubics'
import { solveDense } from './least-squares'
import { insideOutline } from './outline'
import { solveBand, solveSkyline } from './skyline'
import { circleThrough, meanOf, sphereThrough, spreadOf } from './through'
import {
  add,
  addScaled,
  cross,
  distance,
  dot,
  frame,
  length,
  normalize,
  perpendicular,
  scale,
  sub,
  type Vec3,
} from './vec'

const number = fc.integer({ min: -80, max: 80 }).map((v) => v / 8)
const vector: fc.Arbitrary<Vec3> = fc.tuple(number, number, number)
const nonzero = vector.filter((v) => length(v) > 0.5)
const close = (a: readonly number[], b: readonly number[], digits = 9) =>
  a.forEach((v, k) => expect(v).toBeCloseTo(b[k], digits))

describe('vectors', () => {
  it('Lagrange: the cross and the dot product share the square of both lengths; the cross is square to both', () => {
    fc.assert(
      fc.property(vector, vector, (a, b) => {
        const c = cross(a, b)
        expect(dot(c, c) + dot(a, b) ** 2).toBeCloseTo(dot(a, a) * dot(b, b), 6)
        expect(dot(c, a)).toBeCloseTo(0, 6)
        close(cross(b, a), scale(c, -1))
        close(addScaled(a, b, 2), add(a, scale(b, 2)))
        expect(distance(a, b)).toBeCloseTo(length(sub(a, b)), 9)
      }),
      fewRuns(100),
    )
  })
  it('frames are right-handed and of length one, whatever the direction', () => {
    fc.assert(
      fc.property(nonzero, (v) => {
        const n = normalize(v)
        expect(length(n)).toBeCloseTo(1, 12)
        expect(dot(perpendicular(n), n)).toBeCloseTo(0, 9)
        const [x, y, z] = frame(n)
        close(z, n)
        close(cross(x, y), z)
        expect(length(x)).toBeCloseTo(1, 9)
      }),
      fewRuns(100),
    )
  })
})

describe('maps', () => {
  it('composed do one after the other; determinants multiply', () => {
    fc.assert(
      fc.property(nonzero, number, vector, vector, vector, (axis, angle, move, factors, p) => {
        const a = compose(translation(move), rotation(axis, 9 * angle))
        const b = scaling(...(factors as [number, number, number]))
        close(applyPoint(compose(a, b), p), applyPoint(a, applyPoint(b, p)), 6)
        expect(determinant(compose(a, b))).toBeCloseTo(factors[0] * factors[1] * factors[2], 6)
        close(compose(a, identity), a)
      }),
      fewRuns(60),
    )
  })
  it('turns keep lengths and their axis; a mirror keeps its plane and turns the handedness', () => {
    fc.assert(
      fc.property(nonzero, number, vector, vector, (axis, angle, at, p) => {
        const turn = rotation(axis, 9 * angle)
        expect(length(applyPoint(turn, p))).toBeCloseTo(length(p), 9)
        close(applyPoint(turn, axis), axis)
        close(applyPoint(about(at, turn), at), at)
        const m = mirror(at, axis)
        expect(determinant(m)).toBeCloseTo(-1, 9)
        const n = normalize(axis)
        const q = applyPoint(m, p)
        expect(dot(sub(q, at), n)).toBeCloseTo(-dot(sub(p, at), n), 6)
        close(cross(sub(q, p), n), [0, 0, 0], 6)
      }),
      fewRuns(60),
    )
  })
  it('the turn between two directions takes one to the other, opposite ones too; a place on an axis stands on it', () => {
    fc.assert(
      fc.property(nonzero, nonzero, vector, number, (a, b, at, turn) => {
        const [m, n] = [normalize(a), normalize(b)]
        close(applyPoint(rotationBetween(m, n), m), n, 6)
        close(applyPoint(rotationBetween(m, scale(m, -1)), m), scale(m, -1), 6)
        const [x, y, z] = standing(n, 9 * turn)
        close(cross(x, y), z, 6)
        close(z, n, 6)
        const place = placeOn(at, n, 9 * turn)
        close(applyPoint(place, [0, 0, 0]), at, 6)
        close(sub(applyPoint(place, [0, 0, 2]), at), scale(n, 2), 6)
      }),
      fewRuns(60),
    )
  })
})

describe('solvers', () => {
  const size = 6
  /** A matrix with a heavy diagonal, and a right side. */
  const system = fc.tuple(
    fc.array(fc.array(number, { minLength: size, maxLength: size }), { minLength: size, maxLength: size }),
    fc.array(number, { minLength: size, maxLength: size }),
  )
  it('a dense system comes out as the numbers it was made of', () => {
    fc.assert(
      fc.property(system, ([rows, x]) => {
        const a = rows.map((row, i) => row.map((v, j) => (i === j ? v + 100 : v)))
        const b = a.map((row) => row.reduce((s, v, j) => s + v * x[j], 0))
        close(
          solveDense(
            a.map((r) => [...r]),
            [...b],
          )!,
          x,
          6,
        )
      }),
      fewRuns(40),
    )
  })
  it('symmetric ones with a band agree with the dense solver', () => {
    fc.assert(
      fc.property(system, ([rows, b]) => {
        const band = 2
        const a = rows.map((row, i) =>
          row.map((_, j) => (i === j ? 60 : Math.abs(i - j) <= band ? rows[Math.min(i, j)][Math.max(i, j)] : 0)),
        )
        const right = solveDense(
          a.map((r) => [...r]),
          [...b],
        )!
        const flat = Float64Array.from(a.flat())
        const r = Float64Array.from(b)
        expect(solveSkyline(flat.slice(), size, r)).toBe(true)
        close([...r], right, 6)
        const narrow = new Float64Array(size * (band + 1))
        for (let i = 0; i < size; i++)
          for (let j = Math.max(0, i - band); j <= i; j++) narrow[i * (band + 1) + j - i + band] = a[i][j]
        const n = Float64Array.from(b)
        expect(solveBand(narrow, size, band, n)).toBe(true)
        close([...n], right, 6)
      }),
      fewRuns(40),
    )
  })
})

describe('least squares of cubic splines', () => {
  const weights = (t: number) => evenBasis(t)
  it.each([false, true])('values of a spline give its control points back, round: %s', (round) => {
    fc.assert(
      fc.property(fc.array(fc.tuple(number, number), { minLength: 8, maxLength: 8 }), (control) => {
        const count = control.length
        const spans = round ? count : count - 3
        const rows = Array.from({ length: 5 * spans }, (_, i) => ({
          first: Math.floor(i / 5),
          n: weights((i % 5) / 5 + 0.07),
        }))
        const want = rows.map(({ first, n }) =>
          [0, 1].map((k) => n.reduce((sum, w, i) => sum + w * control[(first + i) % count][k], 0)),
        ) as [number, number][]
        const found = solveBanded(count, round, rows, want, [])!
        found.forEach((f, i) => close(f, control[i], 6))
      }),
      fewRuns(20),
    )
  })
  it('an unknown that no row speaks of is left open, and said to be', () => {
    expect(solveBanded(6, false, [{ first: 0, n: weights(0.3) }], [[1, 1]], [])).toBeNull()
  })
})

describe('shapes through places', () => {
  it('a circle through places of one is that one; places of a line tell none', () => {
    fc.assert(
      fc.property(number, number, fc.integer({ min: 2, max: 40 }), (x, y, r) => {
        const places = [0.2, 1.4, 2.9, 4.4].map((a): [number, number] => [x + r * Math.cos(a), y + r * Math.sin(a)])
        const c = circleThrough(places)!
        close([c.x, c.y, c.r], [x, y, r], 6)
      }),
      fewRuns(40),
    )
    expect(circleThrough([])).toBeNull()
  })
  it('a circle and a ball through places of one are that one', () => {
    fc.assert(
      fc.property(vector, fc.integer({ min: 2, max: 40 }), nonzero, (centre, radius, axis) => {
        const [x, y, z] = frame(normalize(axis))
        const on = (a: number, b: number): Vec3 =>
          addScaled(
            addScaled(addScaled(centre, x, radius * Math.cos(a) * Math.cos(b)), y, radius * Math.sin(a) * Math.cos(b)),
            z,
            radius * Math.sin(b),
          )
        const ball = sphereThrough([0.1, 1.1, 2.3, 3.9, 5.2].map((a, i) => on(a, 0.3 * i - 0.7)))!
        close(ball.centre, centre, 5)
        expect(ball.radius).toBeCloseTo(radius, 5)
      }),
      fewRuns(40),
    )
  })
  it('the mean is the middle; the spread has its parts along and across', () => {
    const places: Vec3[] = [
      [-2, 0, 0],
      [2, 0, 0],
      [0, -1, 0],
      [0, 1, 0],
    ]
    close(meanOf(places), [0, 0, 0])
    // xx, xy, xz, yy, yz, zz.
    expect(spreadOf(places, [0, 0, 0])).toEqual([8, 0, 0, 2, 0, 0])
    expect(spreadOf([[1, 2, 3]], [0, 0, 0])).toEqual([1, 2, 3, 4, 6, 9])
    expect(sphereThrough(places)).toBeNull()
  })
})

describe('even cubics', () => {
  it('weights are a share each; slope and bend are their derivatives', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.01, max: 0.99, noNaN: true }), (t) => {
        const [w, s, b] = [evenBasis(t), evenSlope(t), evenBend(t)]
        expect(w.reduce((p, q) => p + q, 0)).toBeCloseTo(1, 12)
        expect(w.every((v) => v >= 0)).toBe(true)
        expect(s.reduce((p, q) => p + q, 0)).toBeCloseTo(0, 12)
        const h = 1e-5
        const [lo, hi] = [evenBasis(t - h), evenBasis(t + h)]
        close(
          s,
          hi.map((v, k) => (v - lo[k]) / (2 * h)),
          6,
        )
        const [sl, sh] = [evenSlope(t - h), evenSlope(t + h)]
        close(
          b,
          sh.map((v, k) => (v - sl[k]) / (2 * h)),
          5,
        )
      }),
      fewRuns(50),
    )
  })
})

it('a place is inside an outline when it is nearer the middle of a star-shaped one than its rim', () => {
  fc.assert(
    fc.property(
      fc.array(fc.integer({ min: 4, max: 12 }), { minLength: 5, maxLength: 14 }),
      fc.integer({ min: 0, max: 359 }),
      (reach, degrees) => {
        const n = reach.length
        const corner = (i: number): [number, number] => {
          const a = (2 * Math.PI * (i % n)) / n
          return [reach[i % n] * Math.cos(a), reach[i % n] * Math.sin(a)]
        }
        const outline = Array.from({ length: n }, (_, i) => corner(i))
        const a = ((degrees + 0.37) * Math.PI) / 180
        const i = Math.floor((a * n) / (2 * Math.PI))
        // Where the ray crosses the side between two corners.
        const [p, q] = [corner(i), corner(i + 1)]
        const [dx, dy] = [Math.cos(a), Math.sin(a)]
        const rim = (p[0] * (q[1] - p[1]) - p[1] * (q[0] - p[0])) / (dx * (q[1] - p[1]) - dy * (q[0] - p[0]))
        for (const [share, inside] of [
          [0.98, true],
          [0.1, true],
          [1.02, false],
          [3, false],
        ] as const)
          expect([share, insideOutline(outline, [share * rim * dx, share * rim * dy])]).toEqual([share, inside])
      },
    ),
    fewRuns(80),
  )
})
