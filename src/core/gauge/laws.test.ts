/** What holds for distances and winding numbers of any body. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { applyPoint } from '@/core/math/affine'
import type { Vec3 } from '@/core/math/vec'
import { meshArea } from '@/core/mesh/measures'
import { transformMesh } from '@/core/mesh/tri-mesh'
import { inward } from '@/testing/shapes'
import { anyBody, anyMove, fewRuns } from '@/testing/small-bodies'
import { deviation, referenceOf, sampleDeviation, signedDistance } from './deviation'
import { loyaltyOf } from './loyalty'
import { WindingNumber } from './winding'

const places: Vec3[] = [-6, -2, 1, 5].flatMap((x) =>
  [-5, 0.5, 4].map((y): Vec3 => [x + 0.11, y + 0.07, 0.9 * x - y + 0.03]),
)

describe('deviation', () => {
  it('of a body to itself is nought, each way and together', () => {
    fc.assert(
      fc.property(anyBody, (body) => {
        const d = deviation(body, body, { samples: 500, tolerance: 0.01 })
        for (const way of [d.there, d.back, d.both]) {
          expect(way.max).toBeLessThan(1e-4)
          expect(Math.abs(way.mean)).toBeLessThan(1e-4)
          expect(way.within).toBeCloseTo(1, 9)
        }
      }),
      fewRuns(12),
    )
  })
  it('has a sign that turns with the body, and a size that does not', () => {
    fc.assert(
      fc.property(anyBody, (body) => {
        const [out, turned] = [referenceOf(body), referenceOf(inward(body))]
        for (const [x, y, z] of places) {
          const d = signedDistance(out, x, y, z)
          if (Math.abs(d) > 1e-3) expect(signedDistance(turned, x, y, z)).toBeCloseTo(-d, 5)
        }
      }),
      fewRuns(20),
    )
  })
  it('is the same from anywhere', () => {
    fc.assert(
      fc.property(anyBody, anyMove, (body, move) => {
        const [here, there] = [referenceOf(body), referenceOf(transformMesh(body, move))]
        for (const p of places)
          expect(signedDistance(there, ...applyPoint(move, p))).toBeCloseTo(signedDistance(here, ...p), 3)
      }),
      fewRuns(20),
    )
  })
  it('weighs its samples by area: together they are all of it', () => {
    fc.assert(
      fc.property(anyBody, (body) => {
        const { weight } = sampleDeviation(body, referenceOf(body), 300)
        const whole = weight.reduce((a, b) => a + b, 0)
        expect(whole / meshArea(body)).toBeCloseTo(1, 4)
      }),
      fewRuns(15),
    )
  })
})

describe('the winding number', () => {
  it('is one inside, nought outside, and agrees with the sign of the distance; turned over it is less than nought', () => {
    fc.assert(
      fc.property(anyBody, (body) => {
        const [w, turned, reference] = [new WindingNumber(body), new WindingNumber(inward(body)), referenceOf(body)]
        for (const p of places) {
          const d = signedDistance(reference, ...p)
          if (Math.abs(d) < 0.05) continue
          expect(w.at(...p)).toBeCloseTo(d < 0 ? 1 : 0, 1)
          expect(turned.at(...p)).toBeCloseTo(d < 0 ? -1 : 0, 1)
        }
      }),
      fewRuns(20),
    )
  })
})

describe('loyalty', () => {
  it('of a body to itself: all is kept, nothing is new or lost, and not one corner has moved', () => {
    fc.assert(
      fc.property(anyBody, (body) => {
        const l = loyaltyOf(body, body)
        expect(l).toMatchObject({ kept: 1, lost: 0, fresh: 0, equal: 1 })
      }),
      fewRuns(8),
    )
  })
})
