import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import { normalize } from '@/core/math/vec'
import { MeshSearch } from '@/core/mesh/closest'
import { sphere, torus, without } from '@/testing/shapes'
import { WindingNumber } from './winding'

describe('winding number', () => {
  it("is 1 inside, 0 outside, half on a hemisphere's rim plane, and agrees with ray parity", () => {
    const ring = torus(10, 3, 48, 24)
    const w = new WindingNumber(ring),
      search = new MeshSearch(ring)
    const rng = random(17)
    for (let i = 0; i < 300; i++) {
      const p = [14 * (rng.next() - 0.5) * 2, 14 * (rng.next() - 0.5) * 2, 4 * (rng.next() - 0.5) * 2] as const
      const inside = search.all(p, normalize([0.31, 0.52, 0.8])).length % 2 === 1
      if (search.nearest(p)!.distance < 0.05) continue
      expect(w.at(...p) > 0.5).toBe(inside)
    }
    // The solid angle of an open hemisphere seen from its middle is 2 pi (van Oosterom & Strackee's formula summed).
    expect(new WindingNumber(without(sphere(10, 5), (_x, _y, z) => z < 0)).at(0, 0, 0)).toBeCloseTo(0.5, 1)
  })
})
