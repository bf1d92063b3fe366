import { describe, expect, it } from '@jest/globals'
import { Algorithm, make_gcs_wrapper, SolveStatus } from '@salusoft89/planegcs'
import { StepError } from '@/core/base/step-error'
import { constraintKinds, type Constraint, type Dimension } from './constraint'
import type { Curve, Drawing, Place } from './drawing'
import { drawRectangle, drawSlot } from './draw'
import { freedomOf } from './freedom'
import { lawsOf, measuresOf } from './laws/laws'
import { drag, solve } from './solve'
import { numbersOf } from './unknowns'

const c = (kind: Constraint['kind'], curves: number[] = [], points: number[] = []): Constraint => ({
  kind,
  curves,
  points,
})
const dim = (kind: Dimension['kind'], value: number, curves: number[] = [], points: number[] = []): Dimension => ({
  kind,
  value,
  curves,
  points,
})
const line = (from: number, to: number): Curve => ({ kind: 'line', from, to })
const circle = (centre: number, radius: number): Curve => ({ kind: 'circle', centre, radius })
const values = (d: Drawing) => (d.dimensions ?? []).map((x) => (x.driven ? null : (x.value as number)))
const solved = (d: Drawing) => solve(d, values(d))
const far = (a: Place, b: Place) => Math.hypot(a[0] - b[0], a[1] - b[1])

const rectangle = (dimensions: Dimension[]): Drawing => ({
  points: [
    [0, 0],
    [9, 1],
    [11, 5],
    [-1, 6],
  ],
  curves: [line(0, 1), line(1, 2), line(2, 3), line(3, 0)],
  constraints: [
    c('fixed', [], [0]),
    c('horizontal', [0]),
    c('horizontal', [2]),
    c('vertical', [1]),
    c('vertical', [3]),
  ],
  dimensions,
})

describe('constructions with known coordinates', () => {
  it('a rectangle by its sides, whole to the last digit', () => {
    const s = solved(rectangle([dim('length', 40, [0]), dim('length', 25, [1])]))
    expect(s.holds).toBe(true)
    ;[
      [0, 0],
      [40, 0],
      [40, 25],
      [0, 25],
    ].forEach((p, i) => expect(far(s.drawing.points[i], p as [number, number])).toBeLessThan(1e-12))
    expect(freedomOf(s.drawing, [40, 25])).toMatchObject({ free: 0, points: [0, 0, 0, 0], clashes: [] })
  })

  it("Apollonius' circle: tangent to three circles that are fixed", () => {
    const d: Drawing = {
      points: [
        [0, 0],
        [10, 0],
        [0, 8],
        [3, 3],
      ],
      curves: [circle(0, 2), circle(1, 3), circle(2, 1), circle(3, 2)],
      constraints: [c('fixed', [0, 1, 2]), c('tangent', [0, 3]), c('tangent', [1, 3]), c('tangent', [2, 3])],
    }
    const s = solved(d)
    const m = s.drawing.points[3]
    const r = (s.drawing.curves[3] as { radius: number }).radius
    for (const [p, k] of [
      [[0, 0], 2],
      [[10, 0], 3],
      [[0, 8], 1],
    ] as const)
      expect(far(m, p)).toBeCloseTo(r + k, 12)
    // The differences of x² + y² = (r + 2)², (x - 10)² + y² = (r + 3)² and x² + (y - 8)² = (r + 1)² are linear.
    expect(m[0]).toBeCloseTo((95 - 2 * r) / 20, 10)
    expect(m[1]).toBeCloseTo((67 + 2 * r) / 16, 10)
    expect(freedomOf(s.drawing, []).free).toBe(0)
  })

  it('a common tangent of two circles touches both at the known places', () => {
    // Radii 3 and 1, centres 10 apart: the outer tangent falls by asin(2/10).
    const d: Drawing = {
      points: [
        [0, 0],
        [10, 0],
        [1, 4],
        [9, 2],
      ],
      curves: [circle(0, 3), circle(1, 1), line(2, 3)],
      constraints: [
        c('fixed', [0, 1]),
        c('tangent', [2, 0]),
        c('tangent', [2, 1]),
        c('onCurve', [0], [2]),
        c('onCurve', [1], [3]),
      ],
    }
    const s = solved(d)
    const a = Math.asin(2 / 10)
    expect(s.holds).toBe(true)
    expect(far(s.drawing.points[2], [3 * Math.sin(a), 3 * Math.cos(a)])).toBeLessThan(1e-9)
    expect(far(s.drawing.points[3], [10 + Math.sin(a), Math.cos(a)])).toBeLessThan(1e-9)
  })

  it.each([3, 5, 6, 7, 12])('a regular polygon of %d sides by equal sides on a circle', (n) => {
    const points: Place[] = Array.from({ length: n }, (_, i) => {
      const t = (2 * Math.PI * (i + 0.25 * Math.sin(i * 5))) / n
      return [9 * Math.cos(t), 9 * Math.sin(t)]
    })
    const d: Drawing = {
      points: [...points, [0, 0]],
      curves: [...points.map((_, i) => line(i, (i + 1) % n)), { ...circle(n, 9), construction: true }],
      constraints: [
        c('fixed', [], [n]),
        c(
          'equal',
          points.map((_, i) => i),
        ),
        c(
          'onCurve',
          [n],
          points.map((_, i) => i),
        ),
      ],
      dimensions: [dim('length', 12, [0])],
    }
    const s = solved(d)
    expect(s.holds).toBe(true)
    const r = 12 / (2 * Math.sin(Math.PI / n))
    expect((s.drawing.curves[n] as { radius: number }).radius).toBeCloseTo(r, 9)
    expect(freedomOf(s.drawing, [12]).free).toBe(1) // it can still turn
  })

  it('an ellipse tangent to a line reaches it as its support function says', () => {
    const d: Drawing = {
      points: [
        [0, 0],
        [-9, 6],
        [9, 7],
      ],
      curves: [{ kind: 'ellipse', centre: 0, long: 6, short: 3, turn: 20 }, line(1, 2)],
      constraints: [c('fixed', [0]), c('horizontal', [1]), c('tangent', [1, 0])],
    }
    const s = solved(d)
    const t = (20 * Math.PI) / 180
    expect(s.drawing.points[1][1]).toBeCloseTo(Math.hypot(6 * Math.sin(t), 3 * Math.cos(t)), 10)
  })

  it('mirrors by symmetry, centres by midpoint, keeps pieces in line', () => {
    const d: Drawing = {
      points: [
        [0, -5],
        [0, 5],
        [4, 1],
        [-3, 2],
        [1, 1],
        [7, 3],
        [9, 5],
      ],
      curves: [line(0, 1), line(2, 3), line(5, 6)],
      constraints: [c('fixed', [0]), c('symmetric', [0], [2, 3]), c('midpoint', [1], [4]), c('collinear', [1, 2])],
    }
    const s = solved(d)
    const [, , p, q, m, u, v] = s.drawing.points
    expect(p[0]).toBeCloseTo(-q[0], 12)
    expect(p[1]).toBeCloseTo(q[1], 12)
    expect(m[0]).toBeCloseTo(0, 12)
    expect(u[1]).toBeCloseTo(p[1], 10)
    expect(v[1]).toBeCloseTo(p[1], 10)
  })
})

describe('what it measures and is held to', () => {
  it('lengths, distances, radii, angles and arc lengths', () => {
    const d: Drawing = {
      points: [
        [0, 0],
        [4, 3],
        [4, 0],
        [10, 0],
        [12, 0],
        [10, 2],
        [20, 5],
      ],
      curves: [line(0, 1), line(0, 2), { kind: 'arc', from: 4, to: 5, centre: 3, ccw: true }, circle(6, 2.5)],
      dimensions: [
        dim('length', 0, [0]),
        { ...dim('distance', 0, [], [0, 1]), along: 'x' },
        dim('distance', 0, [1], [1]),
        dim('angle', 0, [0, 1]),
        dim('radius', 0, [2]),
        dim('diameter', 0, [3]),
        dim('arcLength', 0, [2]),
        dim('angle', 0, [0]),
      ],
    }
    const wanted = [5, 4, 3, 36.86989764584402, 2, 5, Math.PI, 36.86989764584402]
    measuresOf(d).forEach((v, i) => expect(v).toBeCloseTo(wanted[i], 10))
  })

  it('great changes of a number keep the sense of the drawing', () => {
    const slot = drawSlot({ points: [], curves: [] }, { at: [0, 0] }, { at: [30, 0] }, 5)!
    for (const [length, radius] of [
      [300, 5],
      [40, 19],
      [200, 0.5],
    ]) {
      const d: Drawing = { ...slot, dimensions: [dim('distance', length, [], [0, 1]), dim('radius', radius, [1])] }
      const s = solved(d)
      expect(s.holds).toBe(true)
      const [under, right, over] = s.drawing.curves as unknown as [
        { from: number; to: number },
        { from: number; to: number; centre: number },
        { from: number; to: number },
      ]
      const at = (i: number) => s.drawing.points[i]
      expect(far(at(right.from), at(right.centre))).toBeCloseTo(radius, 9)
      expect(far(at(under.from), at(under.to))).toBeCloseTo(length, 9)
      expect(far(at(over.from), at(under.to))).toBeCloseTo(2 * radius, 9)
    }
  })

  it('says what contradicts and what is said twice, by name', () => {
    const over = rectangle([dim('length', 40, [0]), dim('length', 25, [1]), dim('length', 41, [2])])
    expect(solved(over).holds).toBe(false)
    const { clashes } = freedomOf(over, [40, 25, 41])
    expect(clashes).toHaveLength(1)
    expect(clashes[0]).toMatchObject({ owner: { of: 'dimension', index: 2 }, conflict: true })
    expect(clashes[0].with).toContainEqual({ of: 'dimension', index: 0 })
    const twice = rectangle([dim('length', 40, [0]), dim('length', 25, [1]), dim('length', 40, [2])])
    const s = solved(twice)
    expect(s.holds).toBe(true)
    expect(freedomOf(s.drawing, [40, 25, 40]).clashes).toMatchObject([
      { owner: { of: 'dimension', index: 2 }, conflict: false },
    ])
  })

  it('refuses points and curves that a constraint cannot take, in words', () => {
    const d = drawRectangle({ points: [], curves: [] }, { at: [0, 0] }, { at: [4, 3] })!
    const words = (extra: Constraint) => {
      try {
        solve({ ...d, constraints: [extra] }, [])
        return 'held'
      } catch (e) {
        return e instanceof StepError ? e.message : 'crashed'
      }
    }
    for (const kind of constraintKinds) expect(words(c(kind))).toMatch(/^Constraint 1, .*, needs /)
    expect(words(c('tangent', [0, 1]))).toMatch(/not straight/)
    expect(words(c('parallel', [0, 9]))).toMatch(/names 9 that is not there/)
  })

  it('the laws have the derivatives that differences show', () => {
    const d: Drawing = {
      points: [
        [0, 0],
        [10, 1],
        [3, 7],
        [12, 6],
        [5, 3],
        [8, 8],
        [1, 2],
      ],
      curves: [
        line(0, 1),
        line(2, 3),
        circle(4, 2),
        { kind: 'arc', from: 1, to: 5, centre: 2, ccw: true },
        { kind: 'ellipse', centre: 6, long: 3, short: 1, turn: 30 },
      ],
      constraints: [
        c('parallel', [0, 1]),
        c('perpendicular', [0, 1]),
        c('tangent', [0, 2]),
        c('tangent', [0, 3]),
        c('tangent', [2, 3]),
        c('tangent', [1, 4]),
        c('equal', [2, 3]),
        c('onCurve', [4], [3]),
        c('midpoint', [3], [4]),
        c('symmetric', [1], [0, 5]),
      ],
      dimensions: [dim('angle', 20, [0, 1]), dim('arcLength', 5, [3]), dim('distance', 3, [0], [2])],
    }
    const { laws, unknowns } = lawsOf(d, values(d))
    const x = numbersOf(d, unknowns)
    for (const l of laws) {
      const { slope } = l.at(x)
      l.numbers.forEach((k, i) => {
        const h = 1e-6
        const [a, b] = [Float64Array.from(x), Float64Array.from(x)]
        a[k] += h
        b[k] -= h
        expect(slope[i]).toBeCloseTo((l.at(a).value - l.at(b).value) / (2 * h), 5)
      })
    }
  })
})

describe('dragging', () => {
  it('goes along with the hand as far as the laws let it, and no further', () => {
    const d = solved(rectangle([dim('length', 40, [0])])).drawing
    const up = drag(d, [40], [{ point: 2, to: [55, 33] }])
    expect(up.holds).toBe(true)
    expect(up.drawing.points[2][0]).toBeCloseTo(40, 9)
    expect(up.drawing.points[2][1]).toBeCloseTo(33, 2)
    expect(up.drawing.points[0]).toEqual([0, 0])
    // What hangs together with nothing under the hand stays the very same.
    const two: Drawing = { ...d, points: [...d.points, [90, 90]], curves: [...d.curves, circle(4, 3)] }
    const moved = drag(two, [40], [{ point: 2, to: [40, 30] }]).drawing
    expect(moved.curves[4]).toBe(two.curves[4])
  })
})

describe('beside an independent solver (the constraint solver of the npm registry)', () => {
  it('both bring the same drawing to the same laws, with the same freedom', async () => {
    const d = rectangle([dim('length', 40, [0])])
    const gcs = await make_gcs_wrapper()
    d.points.forEach(([x, y], i) => gcs.push_primitive({ type: 'point', id: `p${i}`, x, y, fixed: i === 0 }))
    ;[0, 1, 2, 3].forEach((i) =>
      gcs.push_primitive({ type: 'line', id: `l${i}`, p1_id: `p${i}`, p2_id: `p${(i + 1) % 4}` }),
    )
    gcs.push_primitive({ type: 'horizontal_l', id: 'h0', l_id: 'l0' })
    gcs.push_primitive({ type: 'horizontal_l', id: 'h2', l_id: 'l2' })
    gcs.push_primitive({ type: 'vertical_l', id: 'v1', l_id: 'l1' })
    gcs.push_primitive({ type: 'vertical_l', id: 'v3', l_id: 'l3' })
    gcs.push_primitive({ type: 'p2p_distance', id: 'd', p1_id: 'p0', p2_id: 'p1', distance: 40 })
    expect(gcs.solve(Algorithm.DogLeg)).toBe(SolveStatus.Success)
    const free = gcs.gcs.dof()
    gcs.apply_solution()
    const other = gcs.sketch_index.get_sketch_point('p2')
    gcs.destroy_gcs_module()
    const s = solved(d)
    expect(free).toBe(1)
    expect(freedomOf(s.drawing, [40]).free).toBe(free)
    expect(s.drawing.points[2][0]).toBeCloseTo(other.x, 6)
    // The height is free: ours moves least, both keep it near where it was drawn.
    expect(Math.abs(s.drawing.points[2][1] - other.y)).toBeLessThan(1)
  })
})

describe('a drawing that is pulled where it cannot be', () => {
  it('stays as it was: a circle is not pulled through its middle', () => {
    const circle: Drawing = {
      points: [
        [0, 0],
        [20, 0],
      ],
      curves: [
        { kind: 'circle', centre: 0, radius: 5 },
        { kind: 'line', from: 0, to: 1 },
      ],
    }
    for (const to of [-3, -0.5]) {
      const { drawing, holds } = drag(circle, [], [], [{ curve: 0, to }])
      expect(holds).toBe(true)
      expect(drawing).toEqual(circle)
    }
    expect(drag(circle, [], [], [{ curve: 0, to: 7 }]).drawing.curves[0]).toMatchObject({
      radius: expect.closeTo(7, 2),
    })
  })
})
