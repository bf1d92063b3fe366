/** Laws of measures: closed forms, and the same figures wherever the part stands. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { applyPoint, rotation, translation, compose } from '@/core/math/affine'
import { distance, dot, length, sub, type Vec3 } from '@/core/math/vec'
import { transformMesh } from '@/core/mesh/tri-mesh'
import { anyMove, fewRuns } from '@/testing/small-bodies'
import { box, cylinder, without } from '@/testing/shapes'
import { measure, type MeasureKind } from './measure'

const plate = box(40, 20, 6, 4)
const peg = cylinder(4, 20, 64, 5)
const open = without(cylinder(4, 20, 64, 5), (_x, _y, z) => z > 19.9)
const coordinate = fc.integer({ min: -40, max: 40 }).map((v) => v / 4)
const place = fc.tuple(coordinate, coordinate, coordinate)

describe('a distance', () => {
  it('is that of the places; its parts make it up; along and across a direction too', () => {
    fc.assert(
      fc.property(place, place, place, (p, q, way) => {
        fc.pre(length(way) > 0.1)
        const m = measure('distance', plate, { as: 'point', at: [...p] }, plate, { as: 'point', at: [...q] }, way)
        const { x, y, z, along, across } = m.facts as Record<string, number>
        expect(m.value).toBeCloseTo(distance(p, q), 5)
        expect([x, y, z].map((v, k) => v - (q[k] - p[k])).every((v) => Math.abs(v) < 1e-5)).toBe(true)
        expect(Math.hypot(along, across)).toBeCloseTo(m.value, 4)
        expect(along * length(way)).toBeCloseTo(dot(sub(q, p), way), 3)
        expect([m.from, m.to]).toEqual([p, q])
      }),
      fewRuns(60),
    )
  })
  it('from an axis is square to it, whichever is touched first', () => {
    const bar = { as: 'axis', at: [4, 0, 10] } as const
    const off = { as: 'point', at: [3, 4, 100] } as const
    for (const [a, b] of [
      [bar, off],
      [off, bar],
    ] as const) {
      const m = measure('distance', peg, { ...a, at: [...a.at] }, peg, { ...b, at: [...b.at] })
      expect(m.value).toBeCloseTo(5, 2)
      expect(m.facts.z).toBeCloseTo(0, 2)
    }
  })
})

describe('faces', () => {
  const lid = (degrees: number) => transformMesh(plate, compose(translation([0, 0, 30]), rotation([0, 1, 0], degrees)))
  const from = (degrees: number) => {
    const at = applyPoint(compose(translation([0, 0, 30]), rotation([0, 1, 0], degrees)), [20, 10, 0])
    return measure('faces', plate, { as: 'plane', at: [20, 10, 6] }, lid(degrees), { as: 'plane', at: [...at] })
  }
  it('tell by how much they are out of parallel, and are parallel below half a degree', () => {
    for (const [degrees, parallel] of [
      [0, true],
      [0.3, true],
      [0.45, true],
      [0.6, false],
      [3, false],
      [-10, false],
    ] as const) {
      const { facts } = from(degrees)
      expect(facts.outOfParallel).toBeCloseTo(Math.abs(degrees), 2)
      expect([degrees, facts.parallel, facts.facing]).toEqual([degrees, parallel, true])
    }
  })
  it('have the gap between them, and a mark that runs square from the first', () => {
    const m = from(0)
    expect(m.value).toBeCloseTo(24, 4)
    expect(distance(m.from, m.to)).toBeCloseTo(24, 4)
    expect([m.to[0] - m.from[0], m.to[1] - m.from[1]].map(Math.abs).every((v) => v < 1e-4)).toBe(true)
    // Both sides of one plate look away from each other; faces that look the same way do not face.
    const same = measure('faces', plate, { as: 'plane', at: [20, 10, 6] }, lid(0), { as: 'plane', at: [20, 10, 36] })
    expect([same.value, same.facts.facing]).toEqual([expect.closeTo(30, 4), false])
  })
})

describe('angles', () => {
  it('between faces are those of the material, between lines the smaller one, mixed that to the face', () => {
    const line = (to: Vec3) => ({ as: 'line', at: [0, 0, 0], to: [...to] }) as never
    const top = { as: 'plane', at: [20, 10, 6] } as never
    const side = { as: 'plane', at: [40, 10, 3] } as never
    const base = { as: 'plane', at: [20, 10, 0] } as never
    const angle = (a: never, b: never) => measure('angle', plate, a, plate, b).value
    expect(angle(top, side)).toBeCloseTo(90, 5)
    expect(angle(top, base)).toBeCloseTo(0, 5)
    expect(angle(top, top)).toBeCloseTo(180, 5)
    expect(angle(line([1, 0, 0]), line([Math.cos(2.5), Math.sin(2.5), 0]))).toBeCloseTo(180 - (2.5 * 180) / Math.PI, 4)
    expect(angle(top, line([1, 0, 0]))).toBeCloseTo(0, 5)
    expect(angle(line([0, 0, 1]), top)).toBeCloseTo(90, 5)
    expect(() => angle(top, { as: 'point', at: [0, 0, 0] } as never)).toThrow(
      expect.objectContaining({ code: 'no-direction' }),
    )
  })
})

describe('marks', () => {
  it('of a diameter run across the wall, its radius from the axis on both sides', () => {
    const m = measure('diameter', peg, { as: 'axis', at: [4, 0, 10] }, peg, undefined)
    expect(distance(m.from, m.to)).toBeCloseTo(m.value, 5)
    const middle = [0, 1, 2].map((k) => (m.from[k] + m.to[k]) / 2)
    expect(Math.hypot(middle[0], middle[1])).toBeLessThan(1e-3)
    expect(middle[2]).toBeCloseTo(10, 3)
    expect(Math.abs(m.facts.axisZ as number)).toBeCloseTo(1, 4)
    expect(m.to[0]).toBeCloseTo(4, 2)
  })
  it('of a wall run from the place to what lies behind it; of a rim they stand on it', () => {
    const wall = measure('wall', plate, { as: 'point', at: [13.1, 7.3, 6] }, plate, undefined)
    expect(distance(wall.from, wall.to)).toBeCloseTo(6, 3)
    const rim = measure('rim', open, { as: 'point', at: [4, 0, 20] }, open, undefined)
    expect(rim.facts.edges).toBe(64)
    expect(rim.value).toBeCloseTo(64 * 8 * Math.sin(Math.PI / 64), 4)
    expect(Math.hypot(rim.from[0], rim.from[1])).toBeCloseTo(4, 4)
  })
})

it('all figures are the same wherever the part stands', () => {
  fc.assert(
    fc.property(anyMove, (move) => {
      const at = (p: Vec3) => [...applyPoint(move, p)] as [number, number, number]
      const cases: [MeasureKind, typeof plate, object, object | undefined][] = [
        ['faces', plate, { as: 'plane', at: [20, 10, 6] }, { as: 'plane', at: [11, 7, 0] }],
        ['wall', plate, { as: 'point', at: [13.1, 7.3, 6] }, undefined],
        ['diameter', peg, { as: 'axis', at: [4, 0, 10] }, undefined],
        ['rim', open, { as: 'point', at: [4, 0, 20] }, undefined],
        ['angle', plate, { as: 'plane', at: [20, 10, 6] }, { as: 'plane', at: [40, 10, 3] }],
      ]
      for (const [kind, mesh, a, b] of cases) {
        const moved = transformMesh(mesh, move)
        const put = (t: object | undefined) => t && { ...t, at: at((t as { at: Vec3 }).at) }
        const [here, there] = [
          measure(kind, mesh, a as never, mesh, b as never),
          measure(kind, moved, put(a) as never, moved, put(b) as never),
        ]
        expect([kind, there.value]).toEqual([kind, expect.closeTo(here.value, 2)])
      }
    }),
    fewRuns(8),
  )
})
