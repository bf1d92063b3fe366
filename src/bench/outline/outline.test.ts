/** What the bench makes of places, picks and numbers in a drawing, without a screen. */
import { beforeEach, describe, expect, it, jest } from '@jest/globals'
import type { Dimension } from '@/core/outline/constraint'
import { drawCircle, drawLine, drawRectangle, type Anchor } from '@/core/outline/draw'
import { emptyDrawing, type Drawing } from '@/core/outline/drawing'
import { measuresOf } from '@/core/outline/laws/laws'
import { useBench } from '@/bench/state/store'
import { useTool } from '@/bench/state/tool'
import { layValues } from '@/bench/state/values'
import { marksOf } from './dimension-marks'
import { constraintFor, dimensionChoices, dimensionFor, fittingConstraints } from './holding'
import { previewOf } from './preview'
import {
  chooseWay,
  drawingNow,
  freshOutline,
  numbersFor,
  outline,
  outlineKind,
  planeNow,
  putDrawingAway,
} from './state'
import { wayGroups, wayOf, ways } from './ways'
import { freshBench } from '@/testing/fresh-bench'

const to = (x: number, y: number): Anchor => ({ at: [x, y] })
const plate = drawRectangle(emptyDrawing, to(0, 0), to(40, 20))!
const { options } = outline.getState()

beforeEach(freshBench)
beforeEach(() => {
  outline.setState({ ...freshOutline, options })
  useTool.getState().take({ kind: outlineKind, values: { drawing: plate } })
  useBench.setState({ question: null })
  layValues(undefined)
})

describe('ways of drawing', () => {
  it('each tells what its next click does, and fits in one row of its group', () => {
    for (const w of ways) {
      expect(w.hints.length).toBeGreaterThan(0)
      if (w.make && w.places !== 'many') expect(w.hints).toHaveLength(w.places)
      expect(wayOf(w.id)).toBe(w)
    }
    for (const g of wayGroups) expect(ways.filter((w) => w.group === g).length).toBeLessThanOrEqual(8)
  })
  it.each([
    ['line', [to(0, 0)], [30, 90], [0, 30], ['length']],
    ['line', [to(0, 0)], [10, 30], [8.660254, 5], ['length', 'angle']],
    ['circle', [to(0, 0)], [12], [6, 0], ['diameter']],
    ['rectangle', [to(0, 0)], [40, 20], [40, 20], ['length', 'length']],
    ['slot', [to(0, 0), to(30, 0)], [10], [30, 5], ['radius']],
    ['polygon', [to(0, 0)], [10], [5, 0], ['diameter']],
  ] as const)('typed numbers place the last of a %s and dimension it', (id, placed, numbers, where, kinds) => {
    const w = wayOf(id)
    const last = w.typed!.place(placed, numbers, [1, 0])!
    expect(last[0]).toBeCloseTo(where[0], 5)
    expect(last[1]).toBeCloseTo(where[1], 5)
    const made = w.make!(emptyDrawing, [...placed, { at: last }], options, null)!
    const dimensions = w.typed!.dimensions!(emptyDrawing, made, numbers)
    expect(dimensions.map((d) => d.kind)).toEqual(kinds)
    // What it says is what was drawn.
    measuresOf({ ...made, dimensions }).forEach((v, i) => expect(v).toBeCloseTo(Number(dimensions[i].value), 6))
  })
  it('shows what the next place would make, and nothing before there are enough', () => {
    chooseWay('circle')
    outline.setState({ at: { kind: null, at: [5, 5] } })
    expect(previewOf()).toBeNull()
    outline.setState({ placed: [to(0, 5)] })
    expect(previewOf()!.curves.at(-1)).toMatchObject({ kind: 'circle', radius: 5 })
    chooseWay('line')
    expect(outline.getState()).toMatchObject({ placed: [], at: null, typed: '' })
  })
})

describe('holding what is picked', () => {
  it('offers what fits and nothing else', () => {
    expect(fittingConstraints(plate, { points: [], curves: [0, 2] })).toEqual([
      'horizontal',
      'vertical',
      'parallel',
      'perpendicular',
      'equal',
      'collinear',
      'fixed',
    ])
    expect(fittingConstraints(plate, { points: [0, 2], curves: [] })).toEqual([
      'coincident',
      'horizontal',
      'vertical',
      'fixed',
    ])
    expect(fittingConstraints(plate, { points: [], curves: [] })).toEqual([])
    // The line to be symmetric about may be picked at any time.
    const d = drawLine(plate, to(20, -5), to(20, 25))!
    expect(constraintFor(d, 'symmetric', { points: [0, 1], curves: [4] })!.curves).toEqual([4])
    expect(constraintFor(d, 'symmetric', { points: [], curves: [4, 1, 3] })).not.toBeNull()
  })
  it('dimensions start with what is measured', () => {
    const d = drawCircle(plate, to(10, 10), 3)!
    const of = (curves: number[], points: number[] = []) =>
      dimensionChoices.flatMap((c) => {
        const dim = dimensionFor(d, c, { points, curves })
        return dim ? [`${c.key} ${String(dim.value)}`] : []
      })
    expect(of([4])).toEqual(['length 18.849556', 'diameter 6', 'radius 3', 'arc-length 18.849556'])
    expect(of([0, 1])).toContain('angle 90')
    expect(of([], [0, 2])).toEqual(['distance 44.72136', 'across 40', 'up 20'])
    expect(of([0], [4])).toEqual(['distance 10'])
  })
})

describe('where a dimension stands', () => {
  const dim = (kind: Dimension['kind'], curves: number[], more: Partial<Dimension> = {}): Dimension => ({
    kind,
    curves,
    points: [],
    ...more,
  })
  const d = drawCircle(plate, to(10, 10), 3)!
  it('a length runs outside of the drawing beside its line', () => {
    const m = marksOf(d, dim('length', [0]), 0.1)
    expect(m.at).toEqual([20, expect.closeTo(-2.4, 9)])
    expect(m.ends.map((e) => e[0])).toEqual([0, 40])
    expect(marksOf(d, dim('length', [0], { place: [5, -7] }), 0.1).at).toEqual([5, -7])
  })
  it('a distance across stands level, a diameter runs through the centre, an angle spans its lines', () => {
    const across = marksOf(d, dim('distance', [], { points: [0, 2], along: 'x' }), 0.1)
    expect(across.ends[0][1]).toBeCloseTo(across.ends[1][1], 9)
    const round = marksOf(d, dim('diameter', [4]), 0.1)
    expect([0, 1].map((k) => (round.ends[0][k] + round.ends[1][k]) / 2)).toEqual([
      expect.closeTo(10, 9),
      expect.closeTo(10, 9),
    ])
    const corner = marksOf(d, dim('angle', [0, 1]), 0.1)
    for (const e of corner.ends) expect(Math.hypot(e[0] - 40, e[1])).toBeCloseTo(4.4, 9)
    expect(marksOf(d, dim('angle', [0]), 0.1).lines).toHaveLength(2)
  })
})

describe('the drawing in hand', () => {
  it('fills in the lists that a recipe may leave out, always to the same object', () => {
    const bare = { ...plate, constraints: [{ kind: 'horizontal', curves: [0] }] }
    useTool.getState().setValues({ drawing: bare })
    expect(drawingNow().constraints![0].points).toEqual([])
    expect(drawingNow()).toBe(drawingNow())
    expect(planeNow().normal).toEqual([0, 0, 1])
  })
  it('reads its numbers with the values of the job', () => {
    layValues({ wall: 2.5 })
    const d: Drawing = {
      ...plate,
      dimensions: [
        { kind: 'length', points: [], curves: [0], value: '10*wall', name: 'w' },
        { kind: 'length', points: [], curves: [1], value: 'w/5' },
        { kind: 'length', points: [], curves: [2], driven: true },
      ],
    }
    expect(numbersFor(d)).toEqual([25, 5, null])
    layValues({})
    expect(() => numbersFor(d)).toThrow(/no value named "wall"/)
  })
  it('is put away unasked only while it is as it was opened', () => {
    const away = jest.fn()
    expect(putDrawingAway(away)).toBe(false)
    useTool.getState().pick({ drawing: drawCircle(plate, to(5, 5), 1) })
    expect(putDrawingAway(away)).toBe(true)
    expect(away).not.toHaveBeenCalled()
    const { question } = useBench.getState()
    if (question?.ask === 'sure') question.done()
    expect(away).toHaveBeenCalledTimes(1)
  })
})
