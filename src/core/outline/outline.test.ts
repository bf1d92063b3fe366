import { describe, expect, it } from '@jest/globals'
import { areasOf, nesting, signedArea } from './areas'
import { drawingPlane, drawingSchema, endsOf, pointsOf, toPlane, toSpace, type Drawing, type Place } from './drawing'
import { chainsOf, lengthOf, sampleCurve, sweepOf } from './sample'
import { at, endOf, fitSpline, throughSpline } from './spline'

const square = (s: number, x = 0, y = 0): Place[] => [
  [x, y],
  [x + s, y],
  [x + s, y + s],
  [x, y + s],
]

describe('drawing planes', () => {
  it('take a place to space and back, right-handed, seen the right way up', () => {
    for (const [n, x] of [
      [[0, 0, 1], undefined],
      [[0, 0, -1], undefined],
      [[1, 2, 3], undefined],
      [
        [0, 1, 0],
        [0, 0, 1],
      ],
    ] as const) {
      const plane = drawingPlane([5, -2, 7], n, x)
      const p = toSpace(plane, [3, 4])
      expect(toPlane(plane, p)[0]).toBeCloseTo(3, 12)
      expect(toPlane(plane, p)[1]).toBeCloseTo(4, 12)
      const d = p.map((v, k) => v - [5, -2, 7][k])
      expect(Math.abs(d.reduce((s, v, k) => s + v * plane.normal[k], 0))).toBeLessThan(1e-12)
    }
    expect(drawingPlane([0, 0, 0], [0, 0, 1]).x).toEqual([1, 0, 0])
    // A first direction along the normal says nothing: some direction in the plane is taken.
    expect(Math.hypot(...drawingPlane([0, 0, 0], [0, 0, 1], [0, 0, 2]).x)).toBeCloseTo(1, 12)
  })
  it('a spline has either points it runs through or control points', () => {
    const spline = (extra: object) =>
      drawingSchema.safeParse({ points: [], curves: [{ kind: 'spline', ...extra }] }).success
    expect(spline({ through: [0, 1, 2] })).toBe(true)
    expect(spline({ control: [0, 1, 2, 3], closed: true })).toBe(true)
    expect(spline({})).toBe(false)
    expect(spline({ through: [0, 1], control: [0, 1, 2, 3] })).toBe(false)
  })
})

describe('curves as rows of places', () => {
  const d: Drawing = {
    points: [
      [0, 0],
      [10, 0],
      [10, 10],
      [10, 5],
      [0, 10],
    ],
    curves: [
      { kind: 'line', from: 0, to: 1 },
      { kind: 'arc', from: 1, to: 2, centre: 3, ccw: true },
      { kind: 'line', from: 4, to: 2 },
      { kind: 'line', from: 4, to: 0 },
      { kind: 'circle', centre: 3, radius: 2 },
    ],
  }
  it('lengths by closed form: a half round, a circle, an ellipse by Ramanujan', () => {
    expect(lengthOf(sampleCurve(d, d.curves[1], 1e-5))).toBeCloseTo(5 * Math.PI, 3)
    expect(lengthOf(sampleCurve(d, d.curves[4], 1e-5))).toBeCloseTo(4 * Math.PI, 3)
    const e = {
      points: [[0, 0]],
      curves: [{ kind: 'ellipse', centre: 0, long: 5, short: 3, turn: 30 }],
    } as unknown as Drawing
    // Ramanujan's second formula (1914), exact to 1e-5 here.
    const h = ((5 - 3) / (5 + 3)) ** 2
    const round = Math.PI * 8 * (1 + (3 * h) / (10 + Math.sqrt(4 - 3 * h)))
    expect(lengthOf(sampleCurve(e, e.curves[0], 1e-6))).toBeCloseTo(round, 3)
  })
  it('the way an arc runs is told apart', () => {
    const arc = { kind: 'arc', from: 1, to: 2, centre: 3 } as const
    expect(sweepOf(d, { ...arc, ccw: true })).toBeCloseTo(180, 9)
    expect(sweepOf(d, { ...arc, ccw: false })).toBeCloseTo(-180, 9)
  })
  it('chains of curves, whichever way each runs; the hole is left out of the area', () => {
    const chains = chainsOf(d, 1e-4)
    expect(chains).toHaveLength(2)
    expect(chains.every((c) => c.closed)).toBe(true)
    expect(chains.find((c) => c.curves.length > 1)!.curves.sort()).toEqual([0, 1, 2, 3])
    const [area] = areasOf(chains.map((c) => c.places))
    // The circle lies on the rim of the half round's diameter, inside the whole: 100 + 12.5 pi - 4 pi.
    expect(area).toBeCloseTo(100 + 12.5 * Math.PI - 4 * Math.PI, 2)
    const open = chainsOf({ ...d, curves: d.curves.slice(0, 2) }, 1e-3)
    expect(open).toMatchObject([{ closed: false, curves: [0, 1] }])
    // Where three meet, a chain ends.
    expect(
      chainsOf({ ...d, curves: [...d.curves.slice(0, 4), { kind: 'line', from: 0, to: 2 }] }, 0.1).length,
    ).toBeGreaterThan(1)
    expect(d.curves.map((c) => endsOf(c)?.length ?? 0)).toEqual([2, 2, 2, 2, 0])
    expect(pointsOf(d.curves[1])).toEqual([1, 2, 3])
  })
  it('nested loops: islands in holes count again', () => {
    const loops = [square(20), square(10, 5, 5), square(4, 8, 8), square(5, 30, 0)]
    expect(nesting(loops)).toEqual([0, 1, 2, 0])
    expect(areasOf(loops)).toEqual([300, 16, 25])
    expect(signedArea(square(3).reverse())).toBe(-9)
  })
})

describe('cubic splines', () => {
  const wave = Array.from({ length: 80 }, (_, i): Place => [i, 8 * Math.sin(i / 9)])
  it('run through their points, natural at the ends, or round', () => {
    const s = throughSpline(
      wave.filter((_, i) => i % 8 === 0),
      false,
    )!
    expect(Math.hypot(...at(s, 0))).toBeLessThan(1e-9)
    expect(at(s, endOf(s))[0]).toBeCloseTo(72, 9)
    for (const p of wave.filter((_, i) => i % 8 === 0)) {
      let best = Infinity
      for (let t = 0; t <= 4000; t++) {
        const q = at(s, (endOf(s) * t) / 4000)
        best = Math.min(best, Math.hypot(q[0] - p[0], q[1] - p[1]))
      }
      expect(best).toBeLessThan(0.02)
    }
    const ring = Array.from({ length: 12 }, (_, i): Place => [
      10 * Math.cos((i * Math.PI) / 6),
      10 * Math.sin((i * Math.PI) / 6),
    ])
    const r = throughSpline(ring, true)!
    for (let t = 0; t < 60; t++) expect(Math.hypot(...at(r, (endOf(r) * t) / 60))).toBeCloseTo(10, 1)
    expect(throughSpline([[0, 0]], false)).toBeNull()
    const two = throughSpline(
      [
        [0, 0],
        [4, 2],
      ],
      false,
    )!
    expect(at(two, 0.5)[0]).toBeCloseTo(2, 9)
    expect(at(two, 0.5)[1]).toBeCloseTo(1, 9)
  })
  it('fitted by least squares they keep their ends, come nearer with more control points, and refuse too many', () => {
    const few = fitSpline(wave, 8, false)!,
      many = fitSpline(wave, 20, false)!
    expect(many.most).toBeLessThan(few.most)
    expect(many.most).toBeLessThan(0.02)
    expect(many.spline.control[0]).toEqual(wave[0])
    expect(many.spline.control[19]).toEqual(wave[79])
    expect(fitSpline(wave, 3, false)).toBeNull()
    expect(fitSpline(wave, 81, false)).toBeNull()
  })
})
