import { describe, expect, it } from '@jest/globals'
import { attached } from './attach'
import { offsetBeside } from './beside'
import { copied, mirrored, moved } from './copies'
import { chamfered, filleted } from './corners'
import { crossingsOf } from './crossings'
import * as draw from './draw'
import { emptyDrawing, type Drawing, type Place } from './drawing'
import { constructionTurned, extended, splitCurve, trimmed, without } from './edit'
import { faultsOf } from './faults'
import { fillsOf } from './fills'
import { lengthOfCurve } from './measure'
import { nearestOn } from './parametric'
import { proposals, roundSize } from './propose'
import { snapTo } from './snap'
import { solve } from './solve'
import { at, endOf, pieceOf, throughSpline } from './spline'
import { transformed, turnFlat } from './transform'

const to = (x: number, y: number): draw.Anchor => ({ at: [x, y] })
const plate = draw.drawRectangle(emptyDrawing, to(0, 0), to(40, 20))!
const areas = (d: Drawing) => fillsOf(d).fills.map((f) => f.area)
const solid = (d: Drawing) => fillsOf(d).fills.reduce((s, f) => s + (f.depth % 2 ? 0 : f.area), 0)
const holds = (d: Drawing) =>
  solve(
    d,
    (d.dimensions ?? []).map((x) => (x.driven ? null : (x.value as number))),
  )

describe('areas of a drawing (closed forms)', () => {
  it('a closed spline encloses the same either way round, and its rim runs anticlockwise', () => {
    const points = Array.from({ length: 12 }, (_, i): Place => [
      10 * Math.cos((i * Math.PI) / 6),
      10 * Math.sin((i * Math.PI) / 6),
    ])
    const ring = points.map((_, i) => i)
    const drawn = (control: number[]): Drawing => ({ points, curves: [{ kind: 'spline', control, closed: true }] })
    const [left, right] = [drawn(ring), drawn([...ring].reverse())].map((d) => fillsOf(d).fills)
    expect(right.map((f) => f.area)).toEqual([expect.closeTo(left[0].area, 6)])
    expect(left[0].outer.curves).toEqual([{ curve: 0, forward: true }])
    expect(right[0].outer.curves).toEqual([{ curve: 0, forward: false }])
  })
  it('leaves holes out and counts what lies in them', () => {
    let d = draw.drawCircle(plate, to(20, 10), 6)!
    d = draw.drawCircle(d, to(20, 10), 2)!
    const f = [...fillsOf(d).fills].sort((a, b) => a.depth - b.depth)
    expect(f.map((x) => x.depth)).toEqual([0, 1, 2])
    expect(f[0].area).toBeCloseTo(800 - 36 * Math.PI, 9)
    expect(f[1].area).toBeCloseTo(32 * Math.PI, 9)
    expect(f[2].area).toBeCloseTo(4 * Math.PI, 9)
  })
  it('divides where curves cross: a lens of two unit circles, 2 π / 3 - √3 / 2', () => {
    const d = draw.drawCircle(draw.drawCircle(emptyDrawing, to(0, 0), 1)!, to(1, 0), 1)!
    const list = areas(d).sort((a, b) => a - b)
    const lens = (2 * Math.PI) / 3 - Math.sqrt(3) / 2
    expect(list).toHaveLength(3)
    expect(list[0]).toBeCloseTo(lens, 6)
    expect(list[2]).toBeCloseTo(Math.PI - lens, 6)
    expect(crossingsOf(d).map((c) => c.at[0])).toEqual([expect.closeTo(0.5, 9), expect.closeTo(0.5, 9)])
  })
  it('takes curves drawn twice once, and touching ones apart', () => {
    const twice: Drawing = { points: plate.points, curves: [...plate.curves, ...plate.curves] }
    expect(areas(twice)).toEqual([expect.closeTo(800, 9)])
    expect(faultsOf(twice).filter((f) => f.kind === 'duplicate')).toHaveLength(4)
    const touching = draw.drawCircle(plate, to(20, 10), 10)!
    expect(areas(touching)).toHaveLength(3) // it touches above and below
    expect(solid(touching)).toBeCloseTo(800, 6)
  })
  it('an ellipse and a spline by their own measures', () => {
    const e = draw.drawEllipse(emptyDrawing, to(0, 0), [5, 0], 2)!
    expect(areas(e)[0]).toBeCloseTo(10 * Math.PI, 9)
    // Ramanujan's second formula for the circumference, good to 1e-5 here.
    const h = (3 / 7) ** 2
    expect(lengthOfCurve(e, e.curves[0])).toBeCloseTo(Math.PI * 7 * (1 + (3 * h) / (10 + Math.sqrt(4 - 3 * h))), 4)
  })
})

describe('changes', () => {
  it('rounds and cuts corners, keeping what the corner was held to', () => {
    const f = filleted({ ...plate, dimensions: [{ kind: 'length', points: [], curves: [0], value: 40 }] }, 0, 5)!
    expect(solid(f)).toBeCloseTo(800 - 25 * (1 - Math.PI / 4), 9)
    expect(f.dimensions!.map((d) => d.kind)).toEqual(['distance', 'radius'])
    expect(holds(f).holds).toBe(true)
    expect(solid(chamfered(plate, 2, 4)!)).toBeCloseTo(792, 9)
    expect(filleted(plate, 0, 30)).toBeNull()
    expect(chamfered(plate, 0, 25)).toBeNull()
  })
  it('trims up to what crosses, extends to what comes next, splits in two', () => {
    let d = draw.drawLine(plate, to(10, -5), to(10, 25))!
    d = trimmed(d, 4, [10, -3])
    d = trimmed(d, 4, [10, 23])
    expect(
      areas(d)
        .map((a) => Math.round(a))
        .sort((a, b) => a - b),
    ).toEqual([200, 600])
    const s = holds(d).drawing
    expect(faultsOf(s).filter((f) => f.kind === 'open')).toHaveLength(0)
    let e: Drawing | null = draw.drawLine(plate, to(10, 5), to(10, 10))!
    e = extended(e, 4, [10, 10])
    e = extended(e!, 4, [10, 5])
    expect(
      areas(e!)
        .map((a) => Math.round(a))
        .sort((a, b) => a - b),
    ).toEqual([200, 600])
    expect(extended(draw.drawLine(emptyDrawing, to(0, 0), to(1, 0))!, 0, [1, 0])).toBeNull()
    const cut = splitCurve(plate, 0, [15, 0])
    expect(cut.curves).toHaveLength(5)
    expect(solid(cut)).toBeCloseTo(800, 9)
    expect(trimmed(plate, 0, [20, 0]).curves).toHaveLength(3)
  })
  it('takes away with what hangs on it, and leaves the rest as it was', () => {
    const d: Drawing = {
      ...draw.drawCircle(plate, to(20, 10), 5)!,
      dimensions: [
        { kind: 'diameter', points: [], curves: [4], value: 10 },
        { kind: 'length', points: [], curves: [1], value: 20 },
      ],
    }
    const less = without(d, { points: [], curves: [0] })
    expect(less.curves.map((c) => c.kind)).toEqual(['line', 'line', 'line', 'circle'])
    expect(less.points).toHaveLength(5)
    expect(less.constraints!.map((c) => c.curves)).toEqual([[0], [1], [2]])
    expect(less.dimensions!.map((c) => c.curves[0])).toEqual([3, 0])
    expect(without(d, { points: [0], curves: [] }).curves).toHaveLength(3)
  })
  it('offsets runs and circles to one side, corners sharp and joins smooth', () => {
    const slot = draw.drawSlot(emptyDrawing, to(0, 0), to(30, 0), 5)!
    const out = offsetBeside(slot, [0, 1, 2, 3], -2)!
    expect(solid(out)).toBeCloseTo(420 + 49 * Math.PI - (300 + 25 * Math.PI), 9)
    expect(offsetBeside(slot, [0, 1, 2, 3], 6)).toBeNull()
    expect(solid(offsetBeside(plate, [0, 1, 2, 3], 3)!)).toBeCloseTo(800 - 34 * 14, 9)
  })
  it('copies in rows, mirrors, moves', () => {
    const d = draw.drawCircle(plate, to(8, 8), 2)!
    const rows = copied(d, { points: [], curves: [4] }, [
      [1, 0, 0, 1, 8, 0],
      [1, 0, 0, 1, 16, 0],
    ])
    expect(solid(rows)).toBeCloseTo(800 - 12 * Math.PI, 9)
    expect(rows.constraints!.filter((c) => c.kind === 'equal')).toHaveLength(2)
    const axis = constructionTurned(draw.drawLine(d, to(20, 0), to(20, 20))!, [5])
    const twin = mirrored(axis, { points: [], curves: [4] }, 5)!
    expect(twin.points.at(-1)!.map((v) => Number(v.toFixed(9)))).toEqual([32, 8])
    expect(holds(twin).holds).toBe(true)
    expect(moved(d, { points: [], curves: [4] }, [1, 0, 0, 1, 3, 4]).points[4]).toEqual([11, 12])
    // An uneven map makes an ellipse of a circle, and follows an arc within a thousandth.
    const e = transformed(draw.drawArcThrough(d, to(0, 0), to(2, 0), [1, 1])!, [2, 0, 0, 1, 0, 0])
    expect(e.curves[4]).toMatchObject({ kind: 'ellipse', long: 4, short: 2 })
    const arc = e.curves[5]
    expect(arc.kind).toBe('spline')
    for (let i = 0; i <= 20; i++) {
      const t = (Math.PI * i) / 20
      expect(nearestOn(e, arc, [2 + 2 * Math.cos(t), Math.sin(t)]).distance).toBeLessThan(1e-4)
    }
    expect(transformed(plate, turnFlat(90)).points[2].map((v) => Math.round(v))).toEqual([-20, 40])
  })
  it('pieces of a spline are the same curve to the last digit', () => {
    const places: Place[] = [
      [0, 0],
      [3, 5],
      [8, 4],
      [12, 9],
      [15, 2],
    ]
    for (const closed of [false, true]) {
      const s = throughSpline(places, closed)!
      const piece = pieceOf(s, 0.2 * endOf(s), 0.9 * endOf(s))
      for (let i = 0; i <= 20; i++) {
        const [p, q] = [at(piece, i / 20), at(s, (0.2 + (0.7 * i) / 20) * endOf(s))]
        expect(Math.hypot(p[0] - q[0], p[1] - q[1])).toBeLessThan(1e-12)
      }
    }
  })
})

describe('what a place is meant to be', () => {
  const o = { reach: 0.5, round: (v: number) => Math.round(v) }
  it.each([
    [[0.2, 0.3], 'point', [0, 0]],
    [[20.2, 0.1], 'middle', [20, 0]],
    [[13.3, 0.2], 'curve', [13.3, 0]],
    [[7.4, 7.6], null, [7, 8]],
  ] as const)('%j is %s', (p, kind, where) => {
    const s = snapTo(plate, p, o)
    expect(s.kind).toBe(kind)
    expect(s.at[0]).toBeCloseTo(where[0], 9)
    expect(s.at[1]).toBeCloseTo(where[1], 9)
  })
  it('is level with the place before, or on a reference', () => {
    expect(snapTo(plate, [9.2, 7.1], { ...o, from: [3, 7] })).toMatchObject({ kind: 'horizontal', at: [9, 7] })
    const row: Place[] = [
      [5, 5],
      [9, 9],
    ]
    expect(snapTo(plate, [7.1, 7], { ...o, references: [row] }).kind).toBe('reference')
    expect(snapTo(plate, [9.1, 9], { ...o, references: [row] })).toMatchObject({ kind: 'corner', at: [9, 9] })
  })
})

describe('what a drawing nearly holds', () => {
  it('is proposed once, and not where it holds already', () => {
    const d: Drawing = {
      points: [
        [0, 0],
        [40, 0.02],
        [10, 10],
        [30, 10.01],
        [10.02, 10],
      ],
      curves: [
        { kind: 'line', from: 0, to: 1 },
        { kind: 'circle', centre: 2, radius: 3.01 },
        { kind: 'circle', centre: 3, radius: 2.99 },
        { kind: 'circle', centre: 4, radius: 5 },
      ],
    }
    const list = proposals(d, 0.05)
    expect(list.map((p) => p.constraint?.kind ?? p.dimension!.kind)).toEqual([
      'horizontal',
      'equal',
      'concentric',
      'diameter',
      'diameter',
    ])
    expect(list[3].dimension!.value).toBe(6)
    const held = {
      ...d,
      constraints: list.flatMap((p) => p.constraint ?? []),
      dimensions: list.flatMap((p) => p.dimension ?? []),
    }
    expect(proposals(held, 0.05)).toEqual([])
    expect([3.02, 3.48, 3.27, 3.249].map((v) => roundSize(v, 0.03))).toEqual([3, 3.5, null, null])
  })
  it('a fitted piece meets its neighbour exactly and runs on smoothly', () => {
    const first: Drawing = {
      points: [
        [0, 0],
        [10.03, 0],
      ],
      curves: [{ kind: 'line', from: 0, to: 1 }],
    }
    const arc: Drawing = {
      points: [
        [9.98, 0.02],
        [15, 5],
        [10, 5],
      ],
      curves: [{ kind: 'arc', from: 0, to: 1, centre: 2, ccw: true }],
    }
    const d = holds(attached(first, arc, 0.2)).drawing
    expect(d.points).toHaveLength(4)
    expect(d.constraints).toMatchObject([{ kind: 'tangent', curves: [0, 1] }])
    const corner: Drawing = {
      points: [
        [10, 0.1],
        [10.01, 8],
      ],
      curves: [{ kind: 'line', from: 0, to: 1 }],
    }
    const sharp = attached(first, corner, 0.3)
    expect(sharp.points[1][1]).toBeCloseTo(0, 12)
    expect(sharp.constraints ?? []).toEqual([])
  })
})
