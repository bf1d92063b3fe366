/** Laws of volumes: silent on what is possible, and with figures on what is not. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { booleanDiffers, piecesDiffer } from './adds-up'

const size = fc.double({ min: 1, max: 1e6, noNaN: true })
const share = fc.double({ min: 0, max: 1, noNaN: true })

describe('pieces', () => {
  it('that add up are silent, whatever their number; a missing thousandth is told with the sum', () => {
    fc.assert(
      fc.property(fc.array(size, { minLength: 1, maxLength: 6 }), (pieces) => {
        const whole = pieces.reduce((s, v) => s + v, 0)
        expect(piecesDiffer(whole, pieces)).toBeNull()
        expect(piecesDiffer(1.001 * whole, pieces)).toMatch(/^The pieces do not add up/)
        expect(piecesDiffer(1.001 * whole, pieces, 0.002 * whole)).toBeNull()
      }),
    )
    expect(piecesDiffer(22634, [12000, 11123])).toBe(
      'The pieces do not add up: 12000 + 11123 is 23123 mm³, and the whole was 22634 mm³.',
    )
  })
})

describe('booleans', () => {
  it('of any overlap are possible; beyond both ends they are not', () => {
    fc.assert(
      fc.property(size, size, share, (a, b, overlap) => {
        const both = overlap * Math.min(a, b)
        expect(booleanDiffers('union', [a, b], a + b - both)).toBeNull()
        expect(booleanDiffers('difference', [a, b], a - both)).toBeNull()
        expect(booleanDiffers('intersection', [a, b], both)).toBeNull()
        const beyond = 0.001 * Math.max(a, b)
        expect(booleanDiffers('union', [a, b], a + b + beyond)).toMatch(/union cannot be right/)
        expect(booleanDiffers('union', [a, b], Math.max(a, b) - beyond)).toMatch(/cannot be right/)
        expect(booleanDiffers('difference', [a, b], a + beyond)).toMatch(/difference cannot be right/)
        expect(booleanDiffers('difference', [a, b], a - b - beyond)).toMatch(/cannot be right/)
        expect(booleanDiffers('intersection', [a, b], Math.min(a, b) + beyond)).toMatch(/intersection cannot be right/)
      }),
    )
  })
})
