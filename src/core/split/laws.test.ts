/** What holds for cuts of any body by any plane. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { scale, sub } from '@/core/math/vec'
import { meshVolume } from '@/core/mesh/measures'
import { transformMesh, triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { applyPoint } from '@/core/math/affine'
import { checkUp } from '@/core/mesh/check-up'
import { anyBody, anyDirection, anyMove, fewRuns } from '@/testing/small-bodies'
import { cutByPlane } from './plane-cut'

const heights = (m: TriMesh, n: readonly number[], at: readonly number[]) =>
  Array.from({ length: m.positions.length / 3 }, (_, v) => {
    const p = vertex(m, v)
    return p.reduce((s, x, k) => s + (x - at[k]) * n[k], 0)
  })

describe('a cut by a plane', () => {
  it('keeps the volume, closes both halves, and leaves each on its side', () => {
    fc.assert(
      fc.property(anyBody, anyDirection, fc.integer({ min: -3, max: 3 }), (body, n, d) => {
        const at = scale(n, d + 0.123)
        const { above, below } = cutByPlane(body, at, n)
        expect(Math.abs(meshVolume(above) + meshVolume(below) - meshVolume(body))).toBeLessThan(2e-5 * meshVolume(body))
        for (const half of [above, below])
          if (triangleCount(half))
            expect(checkUp(half).facts).toMatchObject({ openEdges: 0, nonManifoldEdges: 0, flippedEdges: 0 })
        for (const h of heights(above, n, at)) expect(h).toBeGreaterThan(-1e-4)
        for (const h of heights(below, n, at)) expect(h).toBeLessThan(1e-4)
      }),
      fewRuns(40),
    )
  })
  it('is the same cut when body and plane are moved together', () => {
    fc.assert(
      fc.property(anyBody, anyDirection, anyMove, (body, n, move) => {
        const at = scale(n, 0.123)
        const here = cutByPlane(body, at, n)
        const there = cutByPlane(
          transformMesh(body, move),
          applyPoint(move, at),
          sub(applyPoint(move, n), applyPoint(move, [0, 0, 0])),
        )
        expect(Math.abs(meshVolume(there.above) - meshVolume(here.above))).toBeLessThan(3e-5 * meshVolume(body))
        expect(there.capArea).toBeCloseTo(here.capArea, 2)
      }),
      fewRuns(25),
    )
  })
})
