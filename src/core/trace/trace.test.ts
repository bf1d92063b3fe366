import { describe, expect, it } from '@jest/globals'
import type { Curve, CurveKind, Place } from '@/core/outline/drawing'
import { chords, notched, rounded, scoop, slot, type Profile } from '@/testing/profiles'
import { Stopped } from '@/core/base/step-error'
import { areasOf } from '@/core/outline/areas'
import { fitEllipse, fromEllipse, geometricCircle, Sums } from './fits'
import { trace, type TraceChoice, type Traced } from './trace'

const all = (t: number): TraceChoice => ({ line: t, arc: t, circle: t, ellipse: t, spline: t })
const of = (places: readonly Place[], choice = all(0.05), closed = true) => trace([{ places, closed }], choice)
const kindsOf = (t: Traced) => t.drawing.curves.map((c) => c.kind)
/** Pieces in order as letters, from wherever they begin: the least of all turns of the word. */
const word = (t: Traced) => {
  const w = kindsOf(t)
    .map((k) => k[0])
    .join('')
  return [...w].map((_, i) => w.slice(i) + w.slice(0, i)).sort()[0]
}
const radii = (t: Traced) =>
  t.drawing.curves.flatMap((c) => {
    if (c.kind !== 'arc') return []
    const [p, m] = [t.drawing.points[c.from], t.drawing.points[c.centre]]
    return [Math.hypot(p[0] - m[0], p[1] - m[1])]
  })
const joints = (t: Traced): Place[] => t.drawing.curves.flatMap((c) => ('from' in c ? [t.drawing.points[c.from]] : []))
const nearest = (p: Place, all: readonly Place[]) => Math.min(...all.map((q) => Math.hypot(p[0] - q[0], p[1] - q[1])))
const round = (n: number, at: (a: number) => Place): Place[] =>
  Array.from({ length: n }, (_, i) => at((2 * Math.PI * i) / n))
const corners = (p: Profile): Place[] => [p.start, ...p.sides.map((s) => s.to)]

describe('known profiles come back', () => {
  it.each([
    ['slot', slot(30, 6), 'alal', [6, 6]],
    ['rounded rectangle', rounded(40, 25, 4), 'alalalal', [4, 4, 4, 4]],
    ['notched plate', notched, 'alalllll', [4, 10]],
  ] as const)('%s, exactly where the data is exact', (_n, profile, letters, expected) => {
    const t = of(chords(profile))
    expect(word(t)).toBe(letters)
    expect(t.most).toBeLessThan(1e-9)
    radii(t)
      .sort((a, b) => a - b)
      .forEach((r, i) => expect(r).toBeCloseTo(expected[i], 7))
    for (const p of joints(t)) expect(nearest(p, corners(profile))).toBeLessThan(1e-7)
  })
  it.each([0.005, 0.01, 0.015])('with noise of %d: no piece more or less, junctions and radii near', (noise) => {
    for (let seed = 1; seed <= 4; seed++)
      for (const [profile, letters, r] of [
        [slot(30, 6), 'alal', [6, 6]],
        [rounded(40, 25, 4), 'alalalal', [4, 4, 4, 4]],
        [notched, 'alalllll', [4, 10]],
      ] as const) {
        const t = of(chords(profile, { noise, seed, chord: 0.01, line: 2 }))
        expect(word(t)).toBe(letters)
        // A quarter round of a dozen places says its radius to a few times the noise.
        radii(t)
          .sort((a, b) => a - b)
          .forEach((v, i) => expect(Math.abs(v - r[i])).toBeLessThan(0.02 + 4 * noise))
        expect(t.most).toBeLessThan(4 * noise)
      }
  })
  it('arcs run into lines exactly smoothly, and lines meet in corners that both pass through', () => {
    const t = of(chords(rounded(40, 25, 4), { noise: 0.01, seed: 3 }))
    const { points, curves } = t.drawing
    for (const c of curves) {
      if (c.kind !== 'arc') continue
      const [m, p, q] = [points[c.centre], points[c.from], points[c.to]]
      const r = Math.hypot(p[0] - m[0], p[1] - m[1])
      expect(Math.hypot(q[0] - m[0], q[1] - m[1])).toBeCloseTo(r, 9)
      // The line that ends where the arc begins is square to the radius there.
      const line = curves.find((l) => l.kind === 'line' && l.to === c.from) as Extract<Curve, { kind: 'line' }>
      const [a, b] = [points[line.from], points[line.to]]
      const along =
        ((b[0] - a[0]) * (p[0] - m[0]) + (b[1] - a[1]) * (p[1] - m[1])) / (r * Math.hypot(b[0] - a[0], b[1] - a[1]))
      expect(Math.abs(along)).toBeLessThan(1e-9)
    }
  })
  it('a polygon stays a polygon, one of many sides is a circle, a squashed one an ellipse', () => {
    for (const n of [3, 4, 6, 8])
      expect(kindsOf(of(round(n, (a) => [10 * Math.cos(a), 10 * Math.sin(a)])))).toEqual(Array(n).fill('line'))
    const circle = of(round(24, (a) => [3 + 10 * Math.cos(a), 10 * Math.sin(a)]))
    expect(circle.drawing.curves[0]).toMatchObject({ kind: 'circle' })
    expect((circle.drawing.curves[0] as { radius: number }).radius).toBeCloseTo(10, 9)
    const ellipse = of(round(64, (a) => [20 * Math.cos(a) + 1, 8 * Math.sin(a)]))
    expect(ellipse.drawing.curves[0]).toMatchObject({ kind: 'ellipse', turn: expect.any(Number) })
    // With circles and arcs switched off it is drawn otherwise.
    expect(
      kindsOf(
        of(
          round(24, (a) => [10 * Math.cos(a), 10 * Math.sin(a)]),
          { line: 0.05 },
        ),
      ),
    ).toHaveLength(24)
    expect(
      kindsOf(
        of(
          round(48, (a) => [10 * Math.cos(a), 10 * Math.sin(a)]),
          { spline: 0.05 },
        ),
      ),
    ).toEqual(['spline'])
  })
  it('a small rounded rectangle, whose places all lie near an ellipse, is none', () => {
    const tiny = chords(rounded(2.4, 1.6, 0.24), { chord: 0.001, line: 5 })
    expect(word(of(tiny))).toBe('alalalal')
  })
  it('places half-way along facets do not draw a radius inward', () => {
    const n = 30
    const both = Array.from({ length: 2 * n }, (_, i): Place => {
      const [a, b] = [Math.floor(i / 2), Math.floor(i / 2) + (i % 2)].map((k) => (2 * Math.PI * k) / n)
      return [(5 * Math.cos(a) + 5 * Math.cos(b)) / 2, (5 * Math.sin(a) + 5 * Math.sin(b)) / 2]
    })
    expect((of(both).drawing.curves[0] as { radius: number }).radius).toBeCloseTo(5, 9)
  })
})

describe('freely bending outlines', () => {
  it('several hundred bits between two corners become two splines, lean and within the tolerance', () => {
    const t = of(chords(scoop))
    expect(kindsOf(t)).toEqual(['spline', 'spline'])
    for (const c of t.drawing.curves)
      if (c.kind === 'spline') expect(c.control!.length).toBeLessThanOrEqual(Math.ceil(61 / 5))
    expect(t.most).toBeLessThan(0.05)
  })
  it('a round without corners becomes one that runs on smoothly; without splines lines and arcs hold it', () => {
    const blob = round(300, (a) => {
      const r = 20 + 4 * Math.sin(3 * a) + 2 * Math.cos(5 * a)
      return [r * Math.cos(a), r * Math.sin(a)]
    })
    const smooth = of(blob)
    expect(smooth.drawing.curves).toMatchObject([{ kind: 'spline', closed: true }])
    expect(smooth.most).toBeLessThan(0.05)
    const pieces = of(blob, { line: 0.05, arc: 0.05 })
    expect(new Set(kindsOf(pieces))).toEqual(new Set<CurveKind>(['line', 'arc']))
    expect(pieces.most).toBeLessThan(0.0515)
  })
})

describe('bad input and size', () => {
  it('doubled places, open runs, two places, nothing', () => {
    const twice = chords(slot(30, 6)).flatMap((p) => [p, p])
    expect(word(of(twice))).toBe('alal')
    const open = of(
      [
        [0, 0],
        [10, 0],
        [10, 5],
      ],
      all(0.01),
      false,
    )
    expect(kindsOf(open)).toEqual(['line', 'line'])
    expect(
      kindsOf(
        of(
          [
            [0, 0],
            [4, 3],
          ],
          all(0.01),
          false,
        ),
      ),
    ).toEqual(['line'])
    expect(of([[1, 1]], all(0.01), false).left).toEqual([0])
    expect(of([], all(0.01)).left).toEqual([0])
    expect(
      of(
        [
          [0, 0],
          [10, 0],
          [0, 10],
        ],
        { circle: 0.01 },
      ).left,
    ).toEqual([0])
  })
  it('a row of very many places, and a stop while it is divided', () => {
    // More than a function can be given one by one.
    const many = round(200_000, (a) => [50 * Math.cos(a), 50 * Math.sin(a)])
    expect((of(many, { circle: 0.01 }).drawing.curves[0] as { radius: number }).radius).toBeCloseTo(50, 6)
    expect(areasOf([many])[0]).toBeCloseTo(2500 * Math.PI, 3)
    const stop = new AbortController()
    stop.abort()
    const work = { progress: () => {}, signal: stop.signal }
    expect(() => trace([{ places: chords(notched), closed: true }], all(0.05), work)).toThrow(Stopped)
  })
  it('many places and many loops come out whole', () => {
    const long = chords(rounded(400, 250, 40), { chord: 0.0008, line: 0.7 })
    expect(long.length).toBeGreaterThan(1800)
    expect(word(of(long))).toBe('alalalal')
    const many = Array.from({ length: 300 }, (_, i) => ({
      places: chords(i % 2 ? rounded(40, 25, 4) : slot(30, 6)),
      closed: true,
    }))
    expect(trace(many, all(0.05)).drawing.curves).toHaveLength(150 * 12)
  })
})

describe('fits', () => {
  it('circle and ellipse through exact places; the nearest point of an ellipse', () => {
    const places = round(40, (a) => [2 + 7 * Math.cos(a / 3), -1 + 7 * Math.sin(a / 3)])
    const first = new Sums(places).circle(0, 39)!
    expect(first.radius).toBeCloseTo(7, 9)
    expect(geometricCircle(places, { centre: [0, 0], radius: 5 }).centre[0]).toBeCloseTo(2, 9)
    const turn = 0.4
    const e = fitEllipse(
      round(30, (a) => {
        const [x, y] = [9 * Math.cos(a), 4 * Math.sin(a)]
        return [1 + Math.cos(turn) * x - Math.sin(turn) * y, 2 + Math.sin(turn) * x + Math.cos(turn) * y]
      }),
    )!
    expect(e.long).toBeCloseTo(9, 8)
    expect(e.short).toBeCloseTo(4, 8)
    expect(e.turn).toBeCloseTo(turn, 8)
    const plain = { centre: [0, 0] as Place, long: 9, short: 4, turn: 0 }
    expect(fromEllipse(plain, [12, 0])).toBeCloseTo(3, 9)
    expect(fromEllipse(plain, [0, 0])).toBeCloseTo(4, 9)
    expect(fromEllipse(plain, [0, -6])).toBeCloseTo(2, 9)
  })
  it('no circle of places on a line', () => {
    expect(
      new Sums([
        [0, 0],
        [1, 1],
        [2, 2],
        [3, 3],
      ]).circle(0, 3),
    ).toBeNull()
  })
})
