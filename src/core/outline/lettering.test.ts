import { describe, expect, it } from '@jest/globals'
import { drawCircle, drawLettering } from './draw'
import { emptyDrawing, type Drawing } from './drawing'
import { without } from './edit'
import { extentOf } from './extent'
import { faultsOf } from './faults'
import { fillsOf } from './fills'
import { joined } from './joined'
import { lettersOf, loadGlyphs, withLetters } from './lettering'
import { sampleCurve } from './sample'

const words = { text: 'ROWING', size: 5, font: 'text', align: 'left' } as const
const whole = async (d: Drawing) => {
  const { drawing, missing } = lettersOf(d, await loadGlyphs())
  const one = joined(withLetters(d, drawing), extentOf(d) * 1e-7)
  const places = drawing.curves.flatMap((c) => sampleCurve(drawing, c, 0.01))
  return {
    one,
    missing,
    x: [Math.min(...places.map((p) => p[0])), Math.max(...places.map((p) => p[0]))],
    y: [Math.min(...places.map((p) => p[1])), Math.max(...places.map((p) => p[1]))],
    places,
  }
}

describe('lettering', () => {
  it('has capitals as high as asked, closed letters with their holes, wherever it is aligned', async () => {
    const d = drawLettering(emptyDrawing, { at: [10, 20] }, { ...words, text: 'HEO' })!
    const { one, y, x } = await whole(d)
    expect(y[0]).toBeCloseTo(20, 0)
    expect(y[1] - 20).toBeGreaterThan(4.99)
    expect(x[0]).toBeGreaterThan(10)
    expect(faultsOf(one)).toEqual([])
    expect(
      fillsOf(one)
        .fills.map((f) => f.depth)
        .sort(),
    ).toEqual([0, 0, 0, 1]) // O has a hole
    const centred = await whole(drawLettering(emptyDrawing, { at: [10, 20] }, { ...words, align: 'centre' })!)
    expect((centred.x[0] + centred.x[1]) / 2).toBeCloseTo(10, 0)
    const wide: Drawing = { ...d, lettering: [{ ...d.lettering![0], spacing: 2 }] }
    expect((await whole(wide)).x[1] - x[1]).toBeCloseTo(4, 9)
  })
  it('runs round a circle, its feet on it', async () => {
    const ring = drawCircle(emptyDrawing, { at: [0, 0] }, 30)!
    const d = drawLettering(ring, { at: [0, 30], onCurve: 0 }, { ...words, align: 'centre' })!
    expect(d.lettering![0].around).toBe(0)
    const { places } = await whole(d)
    const far = places.map((p) => Math.hypot(...p))
    expect(Math.min(...far)).toBeGreaterThan(29.8)
    expect(Math.max(...far)).toBeLessThan(35.6)
    // Without its circle it is straight; without its point it is gone.
    expect(without(d, { points: [], curves: [0] }).lettering?.[0]?.around).toBeUndefined()
    expect(without(d, { points: [1], curves: [] }).lettering).toEqual([])
  })
  it('names what the font does not have', async () => {
    const { missing, places } = await whole(drawLettering(emptyDrawing, { at: [0, 0] }, { ...words, text: 'A漢Ω' })!)
    expect(missing).toEqual(['漢', 'Ω'])
    expect(places.length).toBeGreaterThan(5)
    expect(drawLettering(emptyDrawing, { at: [0, 0] }, { ...words, text: '  ' })).toBeNull()
  })
})
