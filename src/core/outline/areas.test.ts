/** Laws of crossings, areas and freedom over drawings by chance, each beside a count or a formula. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { fewRuns } from '@/testing/small-bodies'
import { crossingsOf } from './crossings'
import type { Curve, Drawing, Place } from './drawing'
import { fillsOf } from './fills'
import { freedomOf } from './freedom'
import { alongOf } from './parametric'
import { drawingPlane } from './drawing'
import { profileOf } from './profile'

const number = fc.integer({ min: -40, max: 40 }).map((v) => v / 4)
/** Away from the grid of all others, so that nothing touches by accident. */
const odd = fc
  .tuple(number, number, fc.integer({ min: 1, max: 997 }))
  .map(([x, y, k]): Place => [x + k / 9973, y + k / 7919])

const segments = (list: readonly (readonly [Place, Place])[]): Drawing => ({
  points: list.flat(),
  curves: list.map((_, i): Curve => ({ kind: 'line', from: 2 * i, to: 2 * i + 1 })),
})

describe('crossings', () => {
  it('of segments are those that two turns each tell, and lie on both', () => {
    const turn = (a: Place, b: Place, c: Place) => (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
    fc.assert(
      fc.property(fc.array(fc.tuple(odd, odd), { minLength: 2, maxLength: 9 }), (list) => {
        fc.pre(list.every(([p, q]) => Math.hypot(p[0] - q[0], p[1] - q[1]) > 0.5))
        const d = segments(list)
        const want: string[] = []
        let near = false
        for (let i = 0; i < list.length; i++)
          for (let j = i + 1; j < list.length; j++) {
            const [[a, b], [p, q]] = [list[i], list[j]]
            const turns = [turn(a, b, p), turn(a, b, q), turn(p, q, a), turn(p, q, b)]
            near ||= turns.some((t) => Math.abs(t) < 1e-3)
            if (turns[0] * turns[1] < 0 && turns[2] * turns[3] < 0) want.push(`${i} ${j}`)
          }
        fc.pre(!near)
        const found = crossingsOf(d)
        expect(found.map((c) => `${c.a} ${c.b}`).sort()).toEqual(want.sort())
        for (const c of found)
          for (const [curve, share] of [
            [c.a, c.ta],
            [c.b, c.tb],
          ])
            alongOf(d, d.curves[curve])(share).forEach((v, k) => expect(v).toBeCloseTo(c.at[k], 6))
      }),
      fewRuns(60),
    )
  })
  it('of a circle and a line are none, or two at the root of its radius and its distance', () => {
    fc.assert(
      fc.property(fc.integer({ min: 4, max: 40 }), fc.integer({ min: -60, max: 60 }), odd, (r4, h8, centre) => {
        const [r, h] = [r4 / 4, h8 / 8 + 0.013]
        fc.pre(Math.abs(Math.abs(h) - r) > 0.05)
        const d: Drawing = {
          points: [centre, [centre[0] - 30, centre[1] + h], [centre[0] + 30, centre[1] + h]],
          curves: [
            { kind: 'circle', centre: 0, radius: r },
            { kind: 'line', from: 1, to: 2 },
          ],
        }
        const found = crossingsOf(d)
          .map((c) => c.at[0] - centre[0])
          .sort((a, b) => a - b)
        const half = Math.sqrt(Math.max(0, r * r - h * h))
        expect(found).toEqual(Math.abs(h) < r ? [expect.closeTo(-half, 5), expect.closeTo(half, 5)] : [])
      }),
      fewRuns(60),
    )
  })
  it('of construction lines count only when they are asked for; joined ends are none', () => {
    const d: Drawing = {
      points: [
        [0, 0],
        [4, 0],
        [2, -2],
        [2, 2],
        [8, 3],
      ],
      curves: [
        { kind: 'line', from: 0, to: 1 },
        { kind: 'line', from: 2, to: 3, construction: true },
        { kind: 'line', from: 1, to: 4 },
      ],
    }
    expect(crossingsOf(d)).toEqual([])
    expect(crossingsOf(d, true).map((c) => [c.a, c.b])).toEqual([[0, 1]])
  })
})

describe('areas', () => {
  it('of a grid of lines are its cells', () => {
    const steps = fc.array(fc.integer({ min: 1, max: 8 }), { minLength: 1, maxLength: 4 })
    fc.assert(
      fc.property(steps, steps, (columns, rows) => {
        const at = (list: readonly number[]) => list.reduce<number[]>((s, v) => [...s, s[s.length - 1] + v], [0])
        const [x, y] = [at(columns), at(rows)]
        const [w, h] = [x[x.length - 1], y[y.length - 1]]
        const d = segments([
          ...x.map((v): [Place, Place] => [
            [v, -1],
            [v, h + 1],
          ]),
          ...y.map((v): [Place, Place] => [
            [-1, v],
            [w + 1, v],
          ]),
        ])
        const cells = columns.flatMap((c) => rows.map((r) => c * r)).sort((a, b) => a - b)
        const found = fillsOf(d)
          .fills.map((f) => f.area)
          .sort((a, b) => a - b)
        expect(found).toEqual(cells.map((c) => expect.closeTo(c, 6)))
        expect(fillsOf(d).crossings).toHaveLength(x.length * y.length)
      }),
      fewRuns(25),
    )
  })
  it('of rings in rings lie in each other, and each leaves out what is within', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 5 }), odd, (n, centre) => {
        const d: Drawing = {
          points: [centre],
          curves: Array.from({ length: n }, (_, i): Curve => ({ kind: 'circle', centre: 0, radius: 1 + 2 * i })),
        }
        const { fills } = fillsOf(d)
        const sorted = [...fills].sort((a, b) => a.depth - b.depth)
        expect(sorted.map((f) => f.depth)).toEqual(Array.from({ length: n }, (_, i) => n - 1 - i).reverse())
        sorted.forEach((f, i) => {
          const outer = 1 + 2 * (n - 1 - i)
          const inner = i === n - 1 ? 0 : outer - 2
          expect(f.area).toBeCloseTo(Math.PI * (outer ** 2 - inner ** 2), 3)
          expect(f.holes).toHaveLength(i === n - 1 ? 0 : 1)
        })
      }),
      fewRuns(10),
    )
  })
  it('of two circles that cross are a lens and two moons', () => {
    fc.assert(
      fc.property(fc.integer({ min: 3, max: 17 }), odd, (tenths, at) => {
        // Both of radius 1, so far apart: the lens is 2 acos(d / 2) - d / 2 sqrt(4 - d^2).
        const gap = tenths / 10
        const d: Drawing = {
          points: [at, [at[0] + gap, at[1]]],
          curves: [
            { kind: 'circle', centre: 0, radius: 1 },
            { kind: 'circle', centre: 1, radius: 1 },
          ],
        }
        const lens = 2 * Math.acos(gap / 2) - (gap / 2) * Math.sqrt(4 - gap * gap)
        const found = fillsOf(d).fills.map((f) => f.area)
        expect(found).toHaveLength(3)
        expect(found.filter((a) => Math.abs(a - lens) < 1e-3).length).toBeGreaterThan(0)
        expect(found.reduce((a, b) => a + b, 0)).toBeCloseTo(2 * Math.PI - lens, 3)
      }),
      fewRuns(15),
    )
  })
  it('are none of chains that hang loose', () => {
    const d = segments([
      [
        [0, 0],
        [5, 0],
      ],
      [
        [2, -3],
        [2, 3],
      ],
    ])
    expect(fillsOf(d).fills).toEqual([])
  })
  it('have none of a chain in their border that hangs loose from it, however many links it has', () => {
    const corners: Place[] = [
      [0, 0],
      [10, 0],
      [10, 10],
      [0, 10],
    ]
    // Three links inward from a corner, the last with a fork.
    const tail: Place[] = [
      [2, 2],
      [4, 3],
      [6, 6],
      [7, 5],
    ]
    const line = (from: number, to: number): Curve => ({ kind: 'line', from, to })
    const square = [0, 1, 2, 3].map((i) => line(i, (i + 1) % 4))
    const { fills } = fillsOf({
      points: [...corners, ...tail],
      curves: [...square, line(0, 4), line(4, 5), line(5, 6), line(5, 7)],
    })
    expect(fills).toHaveLength(1)
    expect(fills[0].outer.curves.map((c) => c.curve).sort()).toEqual([0, 1, 2, 3])
    expect(fills[0].area).toBeCloseTo(100, 9)
    expect(fills[0].outer.places).toHaveLength(4)
  })
})

describe('freedom', () => {
  const corners: Place[] = [
    [0, 0],
    [6, 0],
    [6, 4],
    [0, 4],
  ]
  const box = (more: Partial<Drawing> = {}): Drawing => ({
    points: corners,
    curves: [0, 1, 2, 3].map((i): Curve => ({ kind: 'line', from: i, to: (i + 1) % 4 })),
    ...more,
  })
  const hold = (kind: string, curves: number[], points: number[] = []) => ({ kind, curves, points }) as never
  it('is two numbers a point, less one for each law that says something new', () => {
    expect(freedomOf(box(), []).free).toBe(8)
    const level = [hold('horizontal', [0]), hold('vertical', [1]), hold('horizontal', [2]), hold('vertical', [3])]
    level.forEach((_, n) => expect(freedomOf(box({ constraints: level.slice(0, n + 1) }), []).free).toBe(7 - n))
    // A rectangle: a place and two sizes.
    const f = freedomOf(box({ constraints: level }), [])
    expect([f.free, f.points, f.clashes]).toEqual([4, [2, 2, 2, 2], []])
  })
  it('what is said twice is told, with whom it repeats, and takes nothing more', () => {
    const level = [hold('horizontal', [0]), hold('horizontal', [2])]
    const f = freedomOf(box({ constraints: [...level, hold('parallel', [0, 2])] }), [])
    expect(f.free).toBe(6)
    expect(f.clashes).toHaveLength(1)
    expect(f.clashes[0]).toMatchObject({ conflict: false, owner: { index: 2 } })
    expect(f.clashes[0].with.map((o) => o.index).sort()).toEqual([0, 1])
  })
})

describe('a profile', () => {
  it('has its middle in space where its first area or run lies', () => {
    const square: [number, number][] = [
      [10, 20],
      [14, 20],
      [14, 26],
      [10, 26],
    ]
    const lines = square.map((_, i) => ({ kind: 'line' as const, from: i, to: (i + 1) % 4 }))
    const drawn = {
      plane: drawingPlane([1, 2, 3], [0, 0, 1]),
      drawing: { points: square, curves: lines },
      reference: [],
    }
    const { middle, areas } = profileOf('o', drawn, [])
    expect(areas).toHaveLength(1)
    ;[13, 25, 3].forEach((v, k) => expect(middle[k]).toBeCloseTo(v, 9))
    const run = profileOf('o', { ...drawn, drawing: { points: square, curves: lines.slice(0, 1) } }, [])
    expect(run.runs).toHaveLength(1)
    ;[13, 22, 3].forEach((v, k) => expect(run.middle[k]).toBeCloseTo(v, 9))
  })
})
