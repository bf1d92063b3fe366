/** Every constraint and dimension, on drawings by chance: its equations have the slopes they say, and what cannot be held is refused. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { StepError } from '@/core/base/step-error'
import { constraintKinds, dimensionKinds, type Constraint, type Dimension } from '../constraint'
import type { Curve, Drawing, Place } from '../drawing'
import { numbersOf } from '../unknowns'
import { canHold, lawsOf, measuresOf } from './laws'

/** Two or more of each sort of curve on twelve points, some of them ends of two. */
const curves: Curve[] = [
  { kind: 'line', from: 0, to: 1 },
  { kind: 'line', from: 1, to: 2 },
  { kind: 'circle', centre: 5, radius: 2 },
  { kind: 'circle', centre: 6, radius: 3 },
  { kind: 'arc', centre: 7, from: 2, to: 8, ccw: true },
  { kind: 'arc', centre: 9, from: 8, to: 10, ccw: false },
  { kind: 'ellipse', centre: 11, long: 3, short: 2, turn: 20 },
  { kind: 'ellipse', centre: 5, long: 4, short: 1, turn: -50 },
  { kind: 'spline', through: [4, 6, 9, 10] },
  { kind: 'spline', control: [0, 3, 7, 11] },
  { kind: 'line', from: 3, to: 4 },
  { kind: 'line', from: 10, to: 11 },
]
/** Twelve points, each within 2 mm of one of a grid of 6 mm: the way between any two has a direction. */
const offset = fc.integer({ min: -200, max: 200 })
const places = fc
  .array(fc.tuple(offset, offset), { minLength: 12, maxLength: 12 })
  .map((list) => list.map(([x, y], i): Place => [6 * (i % 4) + x / 100, 6 * Math.floor(i / 4) + y / 100]))
const some = (most: number, of: number) => fc.uniqueArray(fc.nat(of - 1), { maxLength: most })
const parts = fc.record({ points: some(3, 12), curves: some(3, curves.length) })
const drawingOf = (points: Place[], more: Partial<Drawing> = {}): Drawing => ({ points, curves, ...more })

/** Of each law, how far its slopes are from those of central differences, as a share. */
function worstSlope(d: Drawing): number {
  const { unknowns, laws } = lawsOf(
    d,
    (d.dimensions ?? []).map(() => 3),
  )
  const x = numbersOf(d, unknowns)
  let worst = 0
  for (const law of laws) {
    const { slope } = law.at(x)
    law.numbers.forEach((k, i) => {
      const h = 1e-5
      const near = [h, -h].map((s) => law.at(x.map((v, j) => (j === k ? v + s : v))).value)
      const measured = (near[0] - near[1]) / (2 * h)
      worst = Math.max(worst, Math.abs(slope[i] - measured) / (1 + Math.abs(measured)))
    })
  }
  return worst
}

const refused = (work: () => void): boolean => {
  try {
    work()
    return false
  } catch (error) {
    expect(error).toBeInstanceOf(StepError)
    expect((error as StepError).code).toBe('bad-constraint')
    expect((error as StepError).message).toMatch(/^(Constraint|Dimension) 1, .* needs .*\.$/)
    return true
  }
}

/** Tries something on drawings by chance: held with the right slopes, or refused, as `canHold` says. */
function onDrawings<T extends Constraint | Dimension>(
  kind: T['kind'],
  put: (what: T) => Partial<Drawing>,
  held: (d: Drawing) => void,
): void {
  let count = 0
  fc.assert(
    fc.property(places, parts, (points, named) => {
      const what = { kind, ...named } as T
      const d = drawingOf(points, put(what))
      const can = canHold(drawingOf(points), what)
      expect(refused(() => lawsOf(d, []))).toBe(!can)
      if (!can) return
      count++
      expect(worstSlope(d)).toBeLessThan(2e-4)
      held(d)
    }),
    { numRuns: 1000, seed: 3 },
  )
  expect(count).toBeGreaterThan(4)
}

describe.each(constraintKinds)('%s', (kind) => {
  it('has the slopes it says where it can be held, and is refused by name where it cannot', () =>
    onDrawings<Constraint>(
      kind,
      (c) => ({ constraints: [c] }),
      () => {},
    ))
})

describe.each(dimensionKinds)('%s', (kind) => {
  it('has the slopes it says, measures above nought, and is refused by name for what it cannot measure', () =>
    onDrawings<Dimension>(
      kind,
      (c) => ({ dimensions: [c] }),
      (d) => expect(measuresOf(d)[0]).toBeGreaterThanOrEqual(0),
    ))
})

describe('a distance', () => {
  const d = drawingOf(Array.from({ length: 12 }, (_, i): Place => [3 * i, (i * i) % 7]))
  it('is none between a spline and a circle', () => {
    for (const pair of [
      [8, 2],
      [2, 8],
      [9, 2],
    ])
      expect(canHold(d, { kind: 'distance', points: [], curves: pair })).toBe(false)
    expect(canHold(d, { kind: 'distance', points: [], curves: [2, 3] })).toBe(true)
  })
})
