/** What is regular in a part: closed forms of where shapes lie that touch, and groups of what is nearly alike. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { offShape, type Shape } from '@/core/fit/shape'
import { cross, dot, length, normalize, perpendicular, scale, sub, type Vec3 } from '@/core/math/vec'
import { anyDirection, fewRuns } from '@/testing/small-bodies'
import { angle, groupsOf, radiusOf, roundOf, roundSteps, said, unsigned, withRadius } from './finder'
import { touchingPlace } from './touching'

const coordinate = fc.integer({ min: -40, max: 40 }).map((v) => v / 4)
const place = fc.tuple(coordinate, coordinate, coordinate)

describe('a round wall that touches two planes', () => {
  it('stands its radius off both, on the sides where it lay, moved only across its axis', () => {
    fc.assert(
      fc.property(
        anyDirection,
        fc.integer({ min: 20, max: 160 }),
        place,
        fc.integer({ min: 4, max: 40 }),
        fc.tuple(coordinate, coordinate),
        (axis, degrees, at, quarters, [p, q]) => {
          const u = perpendicular(axis)
          const v = cross(axis, u)
          const [c, s] = [Math.cos((degrees * Math.PI) / 180), Math.sin((degrees * Math.PI) / 180)]
          const normals: Vec3[] = [u, [0, 1, 2].map((k) => c * u[k] + s * v[k]) as unknown as Vec3]
          const planes = normals.map((n, i): Shape => ({ kind: 'plane', at: scale(n, [p, q][i] + 0.01), axis: n }))
          const wall: Shape = { kind: 'cylinder', at, axis, radius: quarters / 4 }
          const sides = planes.map((x) => Math.sign(dot(sub(at, x.at), x.axis!)))
          fc.pre(sides.every((x) => x !== 0))
          const moved = touchingPlace(wall, planes)!
          planes.forEach((x, i) => expect(dot(sub(moved, x.at), x.axis!)).toBeCloseTo(sides[i] * wall.radius!, 6))
          expect(dot(sub(moved, at), axis)).toBeCloseTo(0, 6)
        },
      ),
      fewRuns(100),
    )
  })
  it('tells no place between planes that are parallel', () => {
    const plane = (z: number): Shape => ({ kind: 'plane', at: [0, 0, z], axis: [0, 0, 1] })
    expect(
      touchingPlace({ kind: 'cylinder', at: [0, 0, 1], axis: [1, 0, 0], radius: 1 }, [plane(0), plane(2)]),
    ).toBeNull()
  })
})

describe('directions', () => {
  it('are the same for both ways, and of the same line', () => {
    fc.assert(
      fc.property(anyDirection, (d) => {
        const one = unsigned(d)
        expect(one).toEqual(unsigned(scale(d, -1)))
        expect(angle(one, d)).toBeCloseTo(0, 6)
        const largest = [...one].sort((a, b) => Math.abs(b) - Math.abs(a))[0]
        expect(largest).toBeGreaterThan(0)
      }),
      fewRuns(50),
    )
  })
  it('the largest part of a direction counts, whatever its sign', () => {
    expect(unsigned([0.1, -0.9, 0.3])).toEqual([-0.1, 0.9, -0.3])
    expect(unsigned([-0.9, 0.1, 0.3])).toEqual([0.9, -0.1, -0.3])
  })
  it('stand at their angle, up to a right one', () => {
    const a: Vec3 = [1, 0, 0]
    for (const d of [0, 1, 30, 89, 90])
      expect(angle(a, [Math.cos((d * Math.PI) / 180), Math.sin((d * Math.PI) / 180), 0])).toBeCloseTo(d, 6)
    expect(angle(a, normalize([-1, 1, 0]))).toBeCloseTo(45, 9)
    expect(length(cross(a, a))).toBe(0)
  })
  it('are said without a nought that has a sign', () => expect(said([-0.00001, 1, -0.5])).toBe('0, 1, -0.5'))
})

describe('numbers that are nearly alike', () => {
  it('fall into groups no wider than asked, each number once', () => {
    fc.assert(
      fc.property(fc.array(coordinate, { maxLength: 30 }), fc.integer({ min: 0, max: 8 }), (values, width) => {
        const groups = groupsOf(
          values.map((v, i) => ({ i, v })),
          width / 4,
        )
        expect(
          groups
            .flat()
            .map((x) => x.i)
            .sort((a, b) => a - b),
        ).toEqual(values.map((_, i) => i))
        for (const g of groups) expect(g[g.length - 1].v - g[0].v).toBeLessThanOrEqual(width / 4)
        for (let k = 1; k < groups.length; k++) expect(groups[k][0].v - groups[k - 1][0].v).toBeGreaterThan(width / 4)
      }),
      fewRuns(100),
    )
  })
  it('are rounded to the coarsest step that lies near, never to one that would always be', () => {
    expect(roundOf(5.98, 0.05, roundSteps)).toBe(6)
    expect(roundOf(5.24, 0.02, roundSteps)).toBe(5.25)
    expect(roundOf(5.2, 0.002, roundSteps)).toBe(5.2)
    expect(roundOf(5.234, 0.0001, roundSteps)).toBe(5.234)
    expect(roundOf(5.2345, 0.0001, roundSteps)).toBeNull()
    expect(roundOf(5.43, 0.2, roundSteps)).toBeNull()
  })
})

it('a new radius is that of the wall, of a ring its tube, and moves its skin by as much', () => {
  const ring: Shape = { kind: 'ring', at: [0, 0, 0], axis: [0, 0, 1], radius: 10, thickness: 2 }
  const bar: Shape = { kind: 'cylinder', at: [0, 0, 0], axis: [0, 0, 1], radius: 10 }
  expect([radiusOf(ring), radiusOf(bar)]).toEqual([2, 10])
  expect(withRadius(ring, 3)).toEqual({ ...ring, thickness: 3 })
  expect(offShape(withRadius(bar, 11), [12, 0, 5]) - offShape(bar, [12, 0, 5])).toBeCloseTo(-1, 9)
  expect(offShape(withRadius(ring, 3), [12, 0, 5]) - offShape(ring, [12, 0, 5])).toBeCloseTo(-1, 9)
})
