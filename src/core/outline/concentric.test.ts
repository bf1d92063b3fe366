import { describe, expect, it } from '@jest/globals'
import { concentric, drawRing } from './concentric'
import { drawCircle, type Anchor } from './draw'
import { emptyDrawing, type Drawing } from './drawing'
import { fillsOf } from './fills'
import { moved } from './copies'

const to = (x: number, y: number): Anchor => ({ at: [x, y] })
/** Areas between borders, those of rings by what lies in them taken off (closed forms). */
const areas = (d: Drawing) =>
  fillsOf(d)
    .fills.map((f) => f.area)
    .sort((a, b) => a - b)

describe('circles about one centre', () => {
  const two = drawCircle(drawCircle(emptyDrawing, to(0, 0), 5)!, to(30, 0), 8)!
  it('are copied farther out, all that are picked at once, and stay concentric', () => {
    const d = concentric(two, [0, 1], 2)!
    expect(d.points).toHaveLength(2)
    expect(d.curves.map((c) => c.kind === 'circle' && c.radius)).toEqual([5, 8, 7, 10])
    expect(areas(d)).toEqual(
      [49 - 25, 25, 100 - 64, 64].sort((a, b) => a - b).map((x) => expect.closeTo(Math.PI * x, 6) as unknown),
    )
    const shifted = moved(d, { points: [0], curves: [] }, [1, 0, 0, 1, 3, 4])
    for (const k of [0, 2]) {
      const c = shifted.curves[k]
      expect(c.kind === 'circle' && shifted.points[c.centre]).toEqual([3, 4])
    }
  })
  it('are copied farther in as long as something is left, and of nothing else', () => {
    expect(concentric(two, [0], -2)!.curves.at(-1)).toMatchObject({ radius: 3 })
    expect(concentric(two, [0, 1], -5)).toBeNull()
    expect(concentric(two, [], 1)).toBeNull()
    const line: Drawing = {
      points: [
        [0, 0],
        [1, 0],
      ],
      curves: [{ kind: 'line', from: 0, to: 1 }],
    }
    expect(concentric(line, [0], 1)).toBeNull()
  })
  it('make a ring, in either order; a circle that is there is taken for one of the two', () => {
    for (const radii of [
      [4, 7],
      [7, 4],
    ] as const)
      expect(areas(drawRing(emptyDrawing, to(1, 2), radii)!)).toEqual([
        expect.closeTo(Math.PI * 16, 6),
        expect.closeTo(Math.PI * 33, 6),
      ])
    const round = drawRing(two, { at: [0, 0], point: 0 }, [5, 9])!
    expect(round.curves).toHaveLength(3)
    expect(round.points).toHaveLength(2)
    expect(drawRing(two, to(0, 0), [5, 5])).toBeNull()
    expect(drawRing(two, to(0, 0), [0, 5])).toBeNull()
  })
})
