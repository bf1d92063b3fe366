import { describe, expect, it } from '@jest/globals'
import { sampleCurve } from '@/core/outline/sample'
import type { Curve, Drawing, Place } from '@/core/outline/drawing'
import { fitStretch, nearestPlace, stretchOf } from './stretch'

const circle: Place[] = Array.from({ length: 90 }, (_, i) => {
  const a = (2 * Math.PI * i) / 90
  return [3 + 5 * Math.cos(a), 4 + 5 * Math.sin(a)]
})

describe('stretches picked by hand', () => {
  it('run the short way round or the long', () => {
    const row = { places: circle, closed: true }
    const [a, b] = [nearestPlace(row, [8, 4]), nearestPlace(row, [3, 9])]
    expect([a, b]).toEqual([0, expect.any(Number)])
    expect(stretchOf(row, a, b, false).length).toBe(b + 1)
    expect(stretchOf(row, a, b, true).length).toBe(90 - b + 1)
    expect(stretchOf({ places: circle, closed: false }, 20, 5, false)[0]).toEqual(circle[20])
  })
  it('a circle, an arc and a line are found with how far off they are', () => {
    const whole = fitStretch(circle, 'circle', 0.05, true)!
    expect(whole.drawing.points[0][0]).toBeCloseTo(3, 9)
    expect((whole.drawing.curves[0] as { radius: number }).radius).toBeCloseTo(5, 9)
    expect(whole.most).toBeLessThan(1e-9)
    const arc = fitStretch(stretchOf({ places: circle, closed: true }, 0, 22, false), 'arc', 0.05)!
    expect(arc.drawing.curves[0]).toMatchObject({ kind: 'arc', ccw: true })
    const bent: Place[] = [
      [0, 0],
      [5, 0.02],
      [10, -0.02],
      [15, 0.02],
      [20, 0],
    ]
    const line = fitStretch(bent, 'line', 0.05)!
    expect(line.most).toBeGreaterThan(0.01)
    expect(line.most).toBeLessThan(0.03)
    expect(
      fitStretch(
        [
          [0, 0],
          [1, 0],
          [2, 0],
        ],
        'circle',
        0.05,
      ),
    ).toBeNull()
  })
  it('an ellipse and a closed spline all round', () => {
    const d: Drawing = { points: [[0, 0]], curves: [{ kind: 'ellipse', centre: 0, long: 9, short: 4, turn: 25 }] }
    const row = sampleCurve(d, d.curves[0], 1e-3).slice(0, -1)
    const e = fitStretch(row, 'ellipse', 0.01, true)!.drawing.curves[0] as Extract<Curve, { kind: 'ellipse' }>
    expect([e.long, e.short]).toEqual([expect.closeTo(9, 4), expect.closeTo(4, 4)])
    const s = fitStretch(row, 'closed spline', 0.01, true)!
    expect(s.most).toBeLessThanOrEqual(0.01)
    expect((s.drawing.curves[0] as { control: number[] }).control.length).toBeLessThan(row.length / 5)
  })
})
