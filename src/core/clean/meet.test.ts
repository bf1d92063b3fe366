/** Where surfaces meet, against closed forms; and the places that lie on several. */
import { describe, expect, it } from '@jest/globals'
import { offShape, type Shape } from '@/core/fit/shape'
import { distance, normalize, type Vec3 } from '@/core/math/vec'
import { conicsOf, meet, ontoConic, seamOf } from './meet'
import { onto } from './onto'

const z: Vec3 = [0, 0, 1]
const plane = (at: Vec3, axis: Vec3): Shape => ({ kind: 'plane', at, axis: normalize(axis) })
const tube = (at: Vec3, axis: Vec3, radius: number): Shape => ({ kind: 'cylinder', at, axis: normalize(axis), radius })
const rod = tube([0, 0, 0], z, 10)
const round = (from: number, to: number, n: number, f: (a: number) => Vec3) =>
  Array.from({ length: n + 1 }, (_, i) => f(from + ((to - from) * i) / n))
const within = { close: 1e-6, loose: 1e-3 }

describe('lines, circles and ellipses', () => {
  it.each<[string, Shape, Shape, object[]]>([
    ['two planes', plane([0, 0, 3], z), plane([2, 0, 0], [1, 0, 0]), [{ kind: 'line' }]],
    ['parallel planes', plane([0, 0, 3], z), plane([0, 0, 0], z), []],
    ['a tube cut square', rod, plane([0, 0, 7], z), [{ kind: 'circle', radius: 10, centre: [0, 0, 7] }]],
    ['a tube cut along', rod, plane([6, 0, 0], [1, 0, 0]), [{ kind: 'line' }, { kind: 'line' }]],
    ['a tube touched along', rod, plane([10, 0, 0], [1, 0, 0]), [{ kind: 'line' }]],
    ['a tube missed', rod, plane([11, 0, 0], [1, 0, 0]), [{ kind: 'line' }]],
    ['a tube cut at 45 degrees', rod, plane([0, 0, 0], [1, 0, 1]), [{ kind: 'ellipse', minor: 10 }]],
    [
      'two balls',
      { kind: 'sphere', at: [0, 0, 0], radius: 5 },
      { kind: 'sphere', at: [0, 0, 6], radius: 5 },
      [{ kind: 'circle', radius: 4 }],
    ],
    ['a ball cut', { kind: 'sphere', at: [0, 0, 0], radius: 5 }, plane([0, 0, 3], z), [{ kind: 'circle', radius: 4 }]],
    [
      'a fillet ring and its tube',
      { kind: 'ring', at: [0, 0, 0], axis: z, radius: 8, thickness: 2 },
      rod,
      [{ kind: 'circle', radius: 10 }],
    ],
    [
      'a bend and the bar it runs on as',
      { kind: 'ring', at: [0, 0, 0], axis: z, radius: 20, thickness: 3 },
      tube([20, 0, 0], [0, 1, 0], 3),
      [{ kind: 'circle', radius: 3 }],
    ],
  ])('%s', (name, a, b, want) => {
    const found = conicsOf(a, b, 1e-6)
    // A plane beside a tube only touches where the tolerance says so.
    if (name === 'a tube missed')
      return expect(found.every((c) => distance(ontoConic(c, [10, 0, 0]), [10, 0, 0]) > 0.5)).toBe(true)
    expect(found).toHaveLength(want.length)
    found.forEach((c, i) => expect(c).toMatchObject(want[i]))
  })
  it('a cone cut aslant: the ellipse lies on both', () => {
    const cone: Shape = { kind: 'cone', at: [0, 0, 0], axis: z, halfAngle: 30 }
    const cut = plane([0, 0, 10], [0.3, 0, 1])
    const [e] = conicsOf(cone, cut, 1e-6)
    expect(e.kind).toBe('ellipse')
    for (const a of [0, 1, 2, 3, 4, 5]) {
      const p = ontoConic(e, [10 * Math.cos(a), 10 * Math.sin(a), 10])
      expect(Math.abs(offShape(cone, p)) + Math.abs(offShape(cut, p))).toBeLessThan(1e-9)
    }
  })
})

describe('along a run of mesh edges', () => {
  it('of two curves the one that is meant, the way the run goes', () => {
    const row = round(0, Math.PI / 2, 6, (a) => [10 * Math.cos(a), 10 * Math.sin(a), 7])
    expect(meet(rod, plane([0, 0, 7], z), row, false, within)?.curve).toMatchObject({ kind: 'circle', axis: [0, 0, 1] })
    const back = meet(rod, plane([0, 0, 7], z), [...row].reverse(), false, within)?.curve
    expect(back).toMatchObject({ kind: 'circle' })
    expect(back?.kind === 'circle' && back.axis[2]).toBe(-1)
  })
  it('a closed circle begins where all that turn about its axis begin', () => {
    const row = round(0, 2 * Math.PI, 24, (a) => [10 * Math.cos(a), 10 * Math.sin(a), 7])
    const m = meet(rod, plane([0, 0, 7], z), row, true, within)!
    expect(distance(m.start!, [10 * seamOf(z)[0], 10 * seamOf(z)[1], 7])).toBeLessThan(1e-12)
    expect(distance(seamOf(z), seamOf([0, 0, -1]))).toBe(0)
  })
  it('two crossing tubes meet in a cubic that lies on both to a few millionths of its length', () => {
    const bar = tube([0, 0, 0], [1, 0, 0], 3)
    const row = round(0, 2 * Math.PI, 40, (a) => [
      Math.sqrt(100 - 9 * Math.cos(a) ** 2),
      3 * Math.cos(a),
      3 * Math.sin(a),
    ])
    const m = meet(rod, bar, row, true, within)!
    expect(m.curve.kind).toBe('spline')
    expect(m.off).toBeLessThan(1e-4)
  })
  it('surfaces that do not meet there give none', () => {
    const row: Vec3[] = [
      [10, 0, 0],
      [10, 0, 5],
      [10, 0, 10],
    ]
    expect(meet(rod, plane([0, 0, 50], z), row, false, within)).toBeNull()
  })
})

describe('places on several surfaces', () => {
  it('three planes: their corner', () => {
    const { at, off } = onto([1, 2, 3], [plane([5, 0, 0], [1, 0, 0]), plane([0, 6, 0], [0, 1, 0]), plane([0, 0, 7], z)])
    expect(off).toBeLessThan(1e-12)
    expect(distance(at, [5, 6, 7])).toBeLessThan(1e-9)
  })
  it('where two surfaces run on into each other a place comes as near to both as their seam lets it', () => {
    const { at, off } = onto([10, 0.3, 4], [rod, plane([10, 0, 0], [1, 0, 0])])
    expect(off).toBeLessThan(1e-4)
    expect(at[2]).toBe(4)
  })
})
