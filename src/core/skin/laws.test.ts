/** Out and in again: sharp skins of blocks are blocks, and come back; round ones are what Steiner says of them. */
import { expect, it } from '@jest/globals'
import fc from 'fast-check'
import { transformMesh, type TriMesh } from '@/core/mesh/tri-mesh'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { anyMove, fewRuns } from '@/testing/small-bodies'
import { box } from '@/testing/shapes'
import { offsetMesh } from './offset'

const side = fc.double({ min: 3, max: 12, noNaN: true })
const sides = fc.tuple(side, side, side)
const offset = (m: TriMesh, by: number, corners: 'sharp' | 'round') => offsetMesh(m, by, { edge: 1, corners }).mesh

it('a block out, and in again', () => {
  fc.assert(
    fc.property(
      sides,
      fc.double({ min: 0.2, max: 2, noNaN: true }),
      fc.integer({ min: 1, max: 3 }),
      anyMove,
      (s, by, n, move) => {
        const [a, b, c] = s
        const whole = transformMesh(box(a, b, c, n), move)
        const out = offset(whole, by, 'sharp')
        const grown = (a + 2 * by) * (b + 2 * by) * (c + 2 * by)
        expect(Math.abs(meshVolume(out) / grown - 1)).toBeLessThan(1e-4)
        const back = offset(out, -by, 'sharp')
        expect(Math.abs(meshVolume(back) / (a * b * c) - 1)).toBeLessThan(1e-4)
      },
    ),
    fewRuns(12),
  )
})
it('a block in, and out again', () => {
  fc.assert(
    fc.property(sides, fc.double({ min: 0.2, max: 1.2, noNaN: true }), anyMove, (s, by, move) => {
      const [a, b, c] = s
      const whole = transformMesh(box(a, b, c, 2), move)
      const inner = offset(whole, -by, 'sharp')
      expect(Math.abs(meshVolume(inner) / ((a - 2 * by) * (b - 2 * by) * (c - 2 * by)) - 1)).toBeLessThan(1e-3)
      expect(Math.abs(meshVolume(offset(inner, by, 'sharp')) / (a * b * c) - 1)).toBeLessThan(1e-3)
    }),
    fewRuns(12),
  )
})
it('a block with rounded corners holds what Steiner says (1840): volume, skin, edges and a ball', () => {
  fc.assert(
    fc.property(sides, fc.double({ min: 0.3, max: 2, noNaN: true }), (s, r) => {
      const [a, b, c] = s
      const round = offset(box(a, b, c, 1), r, 'round')
      const steiner =
        a * b * c + 2 * r * (a * b + b * c + c * a) + Math.PI * r * r * (a + b + c) + (4 / 3) * Math.PI * r ** 3
      // Facets lie within the round.
      expect(meshVolume(round)).toBeLessThan(steiner * 1.0005)
      expect(meshVolume(round)).toBeGreaterThan(steiner * 0.985)
      expect(meshArea(round)).toBeGreaterThan(meshArea(box(a, b, c, 1)))
    }),
    fewRuns(8),
  )
})
