/** Laws of what is done with curves: where they meet, how they are cut, and what runs beside them. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { fewRuns } from '@/testing/small-bodies'
import { offsetBeside } from './beside'
import { alongOf } from './parametric'
import type { Drawing } from './drawing'
import { meets } from './meets'
import { splitAt } from './split'

const number = fc.integer({ min: -40, max: 40 }).map((v) => v / 4)
const radius = fc.integer({ min: 2, max: 40 }).map((v) => v / 4)
const place = fc.tuple(number, number)
const line = fc.tuple(place, fc.integer({ min: 0, max: 359 })).map(([at, a]) => {
  const t = ((a + 0.3) * Math.PI) / 180
  return { at, way: [Math.cos(t), Math.sin(t)] as const }
})
const round = fc.tuple(place, radius).map(([centre, r]) => ({ centre, radius: r }))
const off = (c: object, p: readonly number[]): number => {
  if ('way' in c) {
    const { at, way } = c as { at: readonly number[]; way: readonly number[] }
    return Math.abs((p[0] - at[0]) * way[1] - (p[1] - at[1]) * way[0])
  }
  const { centre, radius: r } = c as { centre: readonly number[]; radius: number }
  return Math.abs(Math.hypot(p[0] - centre[0], p[1] - centre[1]) - r)
}

describe('places where lines and circles meet', () => {
  it('lie on both; the same for either order; none where they lie apart', () => {
    const curve = fc.oneof(line, round)
    fc.assert(
      fc.property(curve, curve, (a, b) => {
        const [one, other] = [meets(a as never, b as never), meets(b as never, a as never)]
        for (const p of one) expect([off(a, p) < 1e-6, off(b, p) < 1e-6]).toEqual([true, true])
        const key = (list: readonly (readonly number[])[]) =>
          list.map((p) => p.map((v) => (v + 1e-9).toFixed(4)).join()).sort()
        expect(key(one)).toEqual(key(other))
        if ('way' in a && 'way' in b)
          expect(one).toHaveLength(Math.abs(a.way[0] * b.way[1] - a.way[1] * b.way[0]) < 1e-9 ? 0 : 1)
        else if ('way' in a !== 'way' in b) {
          const [l, c] = 'way' in a ? [a, b] : [b, a]
          const gap = off(l, (c as { centre: readonly number[] }).centre)
          expect(one).toHaveLength(gap <= (c as { radius: number }).radius ? 2 : 0)
        }
      }),
      fewRuns(200),
    )
  })
})

/** A row of a line, an arc to the left and a line that leaves it square to where it came from. */
const row = (l: number, r: number): Drawing => ({
  points: [
    [0, 0],
    [l, 0],
    [l, r],
    [l + r, r],
    [l + r, r + l],
  ],
  curves: [
    { kind: 'line', from: 0, to: 1 },
    { kind: 'arc', from: 1, to: 3, centre: 2, ccw: true },
    { kind: 'line', from: 3, to: 4 },
  ],
})

describe('curves that are cut', () => {
  it('run through the same places, pieces one after the other', () => {
    fc.assert(
      fc.property(
        radius,
        radius,
        fc.integer({ min: 0, max: 2 }),
        fc.uniqueArray(fc.integer({ min: 1, max: 99 }), { minLength: 1, maxLength: 4 }),
        (l, r, i, percents) => {
          const d = row(l, r)
          const shares = percents.map((v) => v / 100)
          const { drawing, pieces, cuts } = splitAt(d, i, shares)
          expect([pieces.length, cuts.length, pieces[0]]).toEqual([shares.length + 1, shares.length, i])
          const along = alongOf(d, d.curves[i])
          const at = [0, ...[...shares].sort((a, b) => a - b), 1]
          pieces.forEach((k, n) => {
            const own = alongOf(drawing, drawing.curves[k])
            for (const t of [0, 0.25, 0.5, 0.75, 1]) {
              const want = along(at[n] + t * (at[n + 1] - at[n]))
              own(t).forEach((v, c) => expect(v).toBeCloseTo(want[c], 6))
            }
          })
        },
      ),
      fewRuns(60),
    )
  })
  it('at their very ends, or beyond, are left as they are; a circle takes two cuts', () => {
    const d = row(4, 2)
    expect(splitAt(d, 0, [0, 1])).toEqual({ drawing: d, pieces: [0], cuts: [] })
    const ring: Drawing = { points: [[1, 2]], curves: [{ kind: 'circle', centre: 0, radius: 3 }] }
    expect(splitAt(ring, 0, [0.25]).pieces).toEqual([0])
    const halves = splitAt(ring, 0, [0.25, 0.75])
    expect(halves.drawing.curves.map((c) => c.kind)).toEqual(['arc', 'arc'])
    for (const c of halves.drawing.curves)
      for (const t of [0, 0.3, 1]) {
        const [x, y] = alongOf(halves.drawing, c)(t)
        expect(Math.hypot(x - 1, y - 2)).toBeCloseTo(3, 6)
      }
  })
})

describe('a row moved sideways', () => {
  it('lies to its left by the distance everywhere: lines beside, the arc within by as much', () => {
    fc.assert(
      fc.property(radius, radius, fc.integer({ min: -7, max: 7 }), (l, r, eighths) => {
        const by = eighths / 8
        fc.pre(by !== 0 && r + 0 > by + 0.2)
        const d = row(l + 3, r + 1)
        const made = offsetBeside(d, [0, 1, 2], by)!
        const fresh = made.curves.slice(3)
        expect(fresh.map((c) => c.kind)).toEqual(['line', 'arc', 'line'])
        for (const t of [0, 0.5, 1]) {
          expect(alongOf(made, fresh[0])(t)[1]).toBeCloseTo(by, 6)
          expect(alongOf(made, fresh[2])(t)[0]).toBeCloseTo(l + 3 + r + 1 - by, 6)
          const [x, y] = alongOf(made, fresh[1])(t)
          expect(Math.hypot(x - (l + 3), y - (r + 1))).toBeCloseTo(r + 1 - by, 6)
        }
      }),
      fewRuns(40),
    )
  })
  it('circles grow by it, and are refused where nothing is left', () => {
    const ring: Drawing = { points: [[1, 2]], curves: [{ kind: 'circle', centre: 0, radius: 3 }] }
    const grown = offsetBeside(ring, [0], 1)!
    expect(grown.curves[1]).toMatchObject({ kind: 'circle', radius: 4 })
    expect(offsetBeside(ring, [0], -2.5)!.curves[1]).toMatchObject({ radius: 0.5 })
    expect(offsetBeside(ring, [0], -3.5)).toBeNull()
  })
})
