/** What drawings come to, curve by curve and edit by edit, kept as figures: any change to them shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import { digest, outcome } from '@/testing/digest'
import { areasOf, nesting, signedArea } from './areas'
import { attached } from './attach'
import { wayOut } from './along'
import { offsetBeside } from './beside'
import { chained } from './chained'
import { constraintKinds, dimensionKinds } from './constraint'
import { copied, mirrored, moved } from './copies'
import { chamfered, filleted } from './corners'
import { crossingsOf } from './crossings'
import {
  circleThrough,
  drawArcAround,
  drawArcThrough,
  drawEllipse,
  drawLine,
  drawPolygon,
  drawRectangle,
  drawSlot,
  drawSpline,
  drawTangentArc,
} from './draw'
import type { Curve, Drawing, Place } from './drawing'
import { constructionTurned, extended, splitCurve, trimmed, uncut, without } from './edit'
import { faultsOf } from './faults'
import { fillsOf } from './fills'
import { freedomOf } from './freedom'
import { joined } from './joined'
import { canHold, lawsOf, measuresOf } from './laws/laws'
import { areaUnder, lengthOfCurve } from './measure'
import { alongOf, nearestOn, piecesOf } from './parametric'
import { proposals, roundSize } from './propose'
import { chainsOf, sampleCurve } from './sample'
import { snapTo } from './snap'
import { drag, solve } from './solve'
import { chordParameters, fitSpline, throughSpline } from './spline'
import { splitAt } from './split'
import { transformed, turnFlat } from './transform'
import { constraintWord, curveWord, dimensionWord } from './words'

/** Curves of every kind, some of which cross or touch. */
const curves: Curve[] = [
  { kind: 'line', from: 0, to: 1 },
  { kind: 'line', from: 1, to: 2 },
  { kind: 'line', from: 2, to: 3 },
  { kind: 'line', from: 3, to: 0 },
  { kind: 'circle', centre: 4, radius: 3 },
  { kind: 'arc', centre: 4, from: 5, to: 6, ccw: true },
  { kind: 'arc', centre: 7, from: 8, to: 9, ccw: false },
  { kind: 'ellipse', centre: 7, long: 5, short: 2, turn: 30 },
  { kind: 'spline', through: [0, 4, 2, 10] },
  { kind: 'spline', control: [3, 7, 9, 11] },
  { kind: 'spline', through: [5, 8, 10, 11], closed: true },
  { kind: 'line', from: 10, to: 11, construction: true },
]
const drawings: Record<string, Drawing> = Object.fromEntries(
  [1, 2, 3].map((seed) => {
    const { next } = random(seed)
    const near = (x: number, y: number): Place => [x + 2 * next(), y + 2 * next()]
    const points: Place[] = [
      near(0, 0),
      near(20, 0),
      near(20, 14),
      near(0, 14),
      near(9, 7),
      near(15, 6),
      near(9, 12),
      near(14, 4),
      near(18, 4),
      near(13, 9),
      near(4, 18),
      near(24, 9),
    ]
    return [`by chance ${seed}`, { points, curves }]
  }),
)
const place: Place = [12, 5]
const anchor = (at: Place, point?: number) => ({ at, ...(point === undefined ? {} : { point }) })

describe.each(Object.keys(drawings))('a drawing %s', (name) => {
  const d = drawings[name]
  it('curves: along, near, sampled, cut, measured', () => {
    expect(
      digest(
        curves.map((c, i) => {
          const along = alongOf(d, c)
          return [
            curveWord(d, i),
            [0, 0.13, 0.5, 0.9, 1].map(along),
            nearestOn(d, c, place),
            piecesOf(d, c),
            sampleCurve(d, c, 0.05),
            [areaUnder(d, c), lengthOfCurve(d, c)],
            [0, 1].map((end) => outcome(() => wayOut(d, c, end))),
            splitAt(d, i, [0.2, 0.7]),
            outcome(() => splitCurve(d, i, place)),
            outcome(() => trimmed(d, i, place)),
            outcome(() => extended(d, i, place)),
            outcome(() => offsetBeside(d, [i], 0.7)),
            snapTo(d, along(0.31), { reach: 1, from: [3, 4] }),
            snapTo(d, along(0.5), { reach: 0.5, round: Math.round, but: { curves: new Set([i]) } }),
          ]
        }),
      ),
    ).toMatchSnapshot()
  })
  it('as a whole: crossings, areas, faults, freedom, proposals, chains', () => {
    const { fills, ...rest } = fillsOf(d)
    expect(
      digest({
        crossings: [crossingsOf(d), crossingsOf(d, true)],
        fills,
        rest,
        faults: faultsOf(d),
        freedom: freedomOf(d, []),
        proposals: [0.1, 1, 3].map((t) => proposals(d, t)),
        chains: chainsOf(d, 0.1),
        joined: joined(d, 1.5),
        measures: measuresOf(d),
      }),
    ).toMatchSnapshot()
  })
  it('edited: corners, copies, mirrors, offsets, what is added', () => {
    const picked = { points: [1, 4], curves: [0, 4, 6, 8] }
    expect(
      digest(
        [
          () => filleted(d, 1, 2),
          () => filleted(d, 6, 0.5),
          () => chamfered(d, 2, 1.5),
          () => copied(d, picked, [turnFlat(30), [1, 0, 0, 1, 5, 2]]),
          () => moved(d, picked, turnFlat(-45)),
          () => mirrored(d, picked, 3),
          () => offsetBeside(d, [0, 1, 2, 3], 1),
          () => offsetBeside(d, [0, 1, 2, 3], -1.5),
          () => without(d, picked),
          () => constructionTurned(d, [0, 11]),
          () => uncut(d, 0),
          () =>
            attached(
              d,
              {
                points: [
                  [0, 0],
                  [3, 3],
                ],
                curves: [{ kind: 'line', from: 0, to: 1 }],
              },
              1,
            ),
          () => transformed(d, [0.5, 0.2, -0.2, 0.5, 1, 2]),
          () => drawLine(d, anchor([0, 0]), anchor([4, 5], 2), 'horizontal'),
          () => drawLine(d, { at: place, onCurve: 4 }, { at: [3, 3], middleOf: 1 }),
          () => drawArcThrough(d, anchor([0, 0]), anchor([4, 0]), [2, 1]),
          () => drawArcAround(d, anchor([0, 0]), anchor([4, 0]), anchor([0, 5]), false),
          () => drawTangentArc(d, 0, 1, anchor([25, 6])),
          () => drawEllipse(d, anchor([0, 0]), [4, 1], 2),
          () => drawRectangle(d, anchor([0, 0]), anchor([4, 3])),
          () => drawSlot(d, anchor([0, 0]), anchor([9, 3]), 2),
          () => drawPolygon(d, anchor([0, 0]), anchor([3, 0]), 5),
          () =>
            drawSpline(
              d,
              [
                [0, 0],
                [1, 2],
                [3, 2],
                [4, 0],
              ].map((p) => anchor(p as unknown as Place)),
              'through',
              true,
            ),
          () =>
            drawSpline(
              d,
              [
                [0, 0],
                [1, 2],
                [3, 2],
                [4, 0],
              ].map((p) => anchor(p as unknown as Place)),
              'control',
              false,
            ),
        ].map(outcome),
      ),
    ).toMatchSnapshot()
  })
  it('held: each constraint and dimension, solved and dragged', () => {
    const parts = [
      { points: [], curves: [0, 1] },
      { points: [0, 2], curves: [] },
      { points: [5], curves: [0] },
      { points: [], curves: [4, 5] },
      { points: [], curves: [4, 6] },
      { points: [1], curves: [4] },
      { points: [], curves: [0] },
      { points: [], curves: [4] },
      { points: [0, 2], curves: [1] },
      { points: [], curves: [7, 0] },
    ]
    const held = parts.flatMap((p) => [
      ...constraintKinds.map((kind) => ({ ...p, kind })),
      ...dimensionKinds.map((kind) => ({ ...p, kind, value: 4.5 })),
    ])
    const may = held.filter((h) => canHold(d, h))
    const told = may.map((h) => {
      const isDimension = 'value' in h
      const with_: Drawing = isDimension ? { ...d, dimensions: [h] } : { ...d, constraints: [h] as never }
      const values = isDimension ? [4.5] : []
      const { laws } = lawsOf(with_, values)
      return [
        isDimension ? dimensionWord(with_, h) : constraintWord(with_, h as never),
        laws.length,
        outcome(() => solve(with_, values, 30)),
        outcome(() => freedomOf(with_, values).free),
        measuresOf(with_),
      ]
    })
    const some: Drawing = {
      ...d,
      constraints: [
        { kind: 'horizontal', points: [], curves: [0] },
        { kind: 'perpendicular', points: [], curves: [0, 1] },
        { kind: 'tangent', points: [], curves: [4, 2] },
      ] as never,
      dimensions: [{ kind: 'length', points: [], curves: [0], value: 21 }] as never,
    }
    expect(
      digest([
        told,
        outcome(() => solve(some, [21])),
        outcome(() => drag(some, [21], [{ point: 2, to: [25, 15] }], [{ curve: 4, to: 3.5 }])),
        outcome(() => freedomOf(some, [21])),
      ]),
    ).toMatchSnapshot()
  })
})

it('rows of places: areas, nesting, splines, circles, round sizes', () => {
  const ring = (x: number, r: number, n = 24): Place[] =>
    Array.from({ length: n }, (_, i): Place => [
      x + r * Math.cos((2 * Math.PI * i) / n),
      r * Math.sin((2 * Math.PI * i) / n),
    ])
  const loops = [ring(0, 10), ring(2, 5), ring(3, 2), ring(30, 4), ring(-4, 1)]
  const wave: Place[] = Array.from({ length: 20 }, (_, i): Place => [i, 3 * Math.sin(0.5 * i)])
  expect(
    digest([
      loops.map(signedArea),
      nesting(loops),
      areasOf(loops),
      chordParameters(wave),
      fitSpline(wave, 7, false),
      fitSpline(ring(0, 5), 8, true),
      throughSpline(wave.slice(0, 6), false),
      throughSpline(ring(0, 3, 7), true),
      circleThrough([0, 0], [4, 0], [2, 3]),
      circleThrough([0, 0], [1, 1], [2, 2]),
      chained(
        [
          [
            [0, 0],
            [1, 0],
          ],
          [
            [2, 1],
            [1, 0],
          ],
          [
            [5, 5],
            [6, 6],
          ],
        ],
        1e-6,
      ),
      [7.03, 12.49, 3.1416, 0.0021].flatMap((v) => [0.02, 0.1, 0.6].map((t) => roundSize(v, t))),
    ]),
  ).toMatchSnapshot()
})

it('a polygon needs a size and three to two hundred sides', () => {
  const none: Drawing = { points: [], curves: [] }
  const made = (r: number, sides: number) => drawPolygon(none, anchor([1, 2]), anchor([1 + r, 2]), sides)
  expect(made(2, 3)?.curves.filter((c) => c.kind === 'line')).toHaveLength(3)
  for (const [r, sides] of [
    [0, 5],
    [2, 2],
    [2, 201],
    [0, 2],
  ])
    expect(made(r, sides)).toBeNull()
})
it('a closed chain has each place once, an open one both its ends', () => {
  const square: Drawing = {
    points: [
      [0, 0],
      [4, 0],
      [4, 3],
      [0, 3],
    ],
    curves: [
      [0, 1],
      [2, 1],
      [2, 3],
      [3, 0],
    ].map(([from, to]) => ({ kind: 'line', from, to })),
  }
  const [loop] = chainsOf(square, 0.1)
  expect([loop.closed, loop.places.length]).toEqual([true, 4])
  const [run] = chainsOf({ ...square, curves: square.curves.slice(0, 3) }, 0.1)
  expect([run.closed, run.places.length]).toEqual([false, 4])
})
