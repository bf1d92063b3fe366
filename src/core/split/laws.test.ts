/** What holds for cuts of any body by any plane. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { scale, sub } from '@/core/math/vec'
import { meshVolume } from '@/core/mesh/measures'
import { transformMesh, triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { applyPoint } from '@/core/math/affine'
import { checkUp } from '@/core/mesh/check-up'
import { anyBody, anyDirection, anyMove, fewRuns } from '@/testing/small-bodies'
import { StepError } from '@/core/base/step-error'
import { quiet } from '@/core/base/work'
import { box, sheet, shifted } from '@/testing/shapes'
import { cutByPlane } from './plane-cut'
import { splitByMesh } from './trim'

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

describe('a cut by a wavy sheet, covered', () => {
  const wavy = (amplitude: number, length: number, n: number) =>
    shifted(
      sheet(120, n, (x, y) => amplitude * (Math.sin(x / length) + Math.cos(y / (1.3 * length)))),
      -60.013,
      -60.027,
      0,
    )
  it('keeps the volume, and its covers follow the sheet: closed, with no crossing', async () => {
    await fc.assert(
      fc.asyncProperty(
        anyBody,
        anyMove,
        fc.integer({ min: 0, max: 8 }),
        fc.integer({ min: 2, max: 9 }),
        fc.integer({ min: 12, max: 40 }),
        async (given, move, amplitude, length, n) => {
          const body = transformMesh(given, move)
          const middle = applyPoint(move, [0.31, 0.17, 0.23])
          const cutter = shifted(wavy(amplitude / 4, length, n), ...middle)
          const whole = meshVolume(body)
          const halves = await splitByMesh('body', body, cutter, true, quiet).catch((e: unknown) => {
            if (e instanceof StepError && e.code === 'no-cut') return null
            throw e
          })
          if (!halves || halves.facts.undivided) return
          expect(halves.warnings).toEqual([])
          expect(Math.abs(meshVolume(halves.a) + meshVolume(halves.b) - whole)).toBeLessThan(2e-5 * Math.abs(whole))
          for (const half of [halves.a, halves.b])
            expect(checkUp(half).facts).toMatchObject({
              openEdges: 0,
              nonManifoldEdges: 0,
              flippedEdges: 0,
              selfCrossings: 0,
            })
        },
      ),
      fewRuns(25),
    )
  })
  it('of a block has the volume under the sheet, by its closed form', async () => {
    // z = 2 sin(x / 3) over 0..30 of a block 30 by 20 by 10 cut at mid-height: its mean is 2 (1 - cos 10) 3 / 30.
    const block = shifted(box(30, 20, 10), 0, 0, -5)
    const halves = await splitByMesh(
      'b',
      block,
      shifted(
        sheet(40, 160, (x) => 2 * Math.sin((x - 5) / 3)),
        -5,
        -10,
        0,
      ),
      true,
      quiet,
    )
    const below = 20 * (30 * 5 + 2 * 3 * (1 - Math.cos(10)))
    const volumes = [halves.a, halves.b].map((m) => meshVolume(m))
    expect(Math.min(...volumes.map((v) => Math.abs(v / below - 1)))).toBeLessThan(1e-3)
    expect(volumes[0] + volumes[1]).toBeCloseTo(6000, 2)
  })
})
