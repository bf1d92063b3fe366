/** Regions of several patches: equal shapes found and fitted together, the pattern they stand on, and figures quick enough to follow a brush. */
import { describe, expect, it } from '@jest/globals'
import { reportError } from '@/core/base/step-error'
import { concatMeshes, type TriMesh } from '@/core/mesh/tri-mesh'
import type { Vec3 } from '@/core/math/vec'
import { box, cylinder, shaken, shifted, sphere } from '@/testing/shapes'
import { runStep } from '@/testing/run-step'
import { brisk, fitBest, fitKind } from './fit-shape'
import { fitHeld } from './held'
import { patternOf } from './pattern'
import { fitRegion, type RegionWish } from './region-fit'
import { samplesOf } from './samples'
import { processorTime } from '@/testing/processor-time'

const wish: RegionWish = { shape: 'cylinder', hold: 'free', snap: 'none', each: true, equal: true }

/** Triangles of round walls that stand upright: neither of their corners' triangles face up or down. */
function walls(mesh: TriMesh): Uint8Array {
  const flags = new Uint8Array(mesh.triangles.length / 3)
  for (let t = 0; t < flags.length; t++) {
    const z = [0, 1, 2].map((k) => mesh.positions[3 * mesh.triangles[3 * t + k] + 2])
    flags[t] = Math.max(...z) - Math.min(...z) > 5 ? 1 : 0
  }
  return flags
}

describe('patterns', () => {
  const up: Vec3 = [0, 0, 1]
  it('a grid, turned, tells both steps whatever the order', () => {
    const places: Vec3[] = []
    for (const [x, y] of [
      [0, 0],
      [40, 30],
      [40, 0],
      [0, 30],
    ])
      places.push([x * 0.8 - y * 0.6, x * 0.6 + y * 0.8, 7 * x])
    const p = patternOf(places, up, 0.01)!
    expect(p.steps!.map((s) => Number(s.toFixed(6)))).toEqual([40, 30])
    expect(p.words).toBe('on a 40 × 30 mm pattern')
  })
  it('rows, pairs and circles', () => {
    expect(
      patternOf(
        [
          [0, 0, 0],
          [24, 0, 0],
          [12, 0, 3],
        ],
        up,
        0.01,
      )!.words,
    ).toBe('in a row, 12 mm apart')
    expect(
      patternOf(
        [
          [0, 0, 0],
          [0, 17.5, 0],
        ],
        up,
        0.01,
      )!.words,
    ).toBe('17.5 mm apart')
    const five = Array.from({ length: 5 }, (_, i): Vec3 => [
      30 * Math.cos(1 + i * 0.4 * Math.PI),
      30 * Math.sin(1 + i * 0.4 * Math.PI),
      0,
    ])
    const c = patternOf(five, up, 0.01)!
    expect(c.diameter).toBeCloseTo(60, 9)
    expect(c.words).toBe('evenly on a circle of Ø 60 mm')
  })
  it('what stands on none tells none', () => {
    expect(
      patternOf(
        [
          [0, 0, 0],
          [40, 0, 0],
          [40, 30, 0],
          [3, 31, 0],
        ],
        up,
        0.05,
      ),
    ).toBeNull()
    expect(
      patternOf(
        [
          [0, 0, 0],
          [40, 0, 0],
          [40, 30, 0],
          [0, 30.2, 0],
        ],
        up,
        0.05,
      ),
    ).toBeNull()
  })
})

describe('equal ones together', () => {
  const sigma = 0.02
  const four = concatMeshes(
    [
      [0, 0],
      [40, 0],
      [40, 30],
      [0, 30],
    ].map(([x, y]) => shifted(shaken(cylinder(5, 12, 48), sigma), x, y, 0)),
  )
  it('four pins of one size: equal, parallel, on their pattern, and each nearer to the truth than by itself', () => {
    const flags = walls(four)
    const alone = fitRegion(four, flags, { ...wish, equal: false })
    const { patches, groups } = fitRegion(four, flags, wish)
    expect(groups).toHaveLength(1)
    expect(groups[0].of).toHaveLength(4)
    expect(groups[0].parallel).toBe(true)
    groups[0].pattern!.steps!.forEach((s, i) => expect(Math.abs(s - [40, 30][i])).toBeLessThan(2 * sigma))
    const radii = patches.map((p) => p.fit.radius!)
    for (const r of radii) expect(r).toBe(radii[0])
    expect(Math.abs(radii[0] - 5)).toBeLessThan(sigma)
    const spread = Math.max(...alone.patches.map((p) => Math.abs(p.fit.radius! - 5)))
    expect(Math.abs(radii[0] - 5)).toBeLessThanOrEqual(spread)
    for (const p of patches) expect(p.fit.axis).toEqual(patches[0].fit.axis)
  })
  it.each([
    [[0, 0, 40], '40 mm apart'],
    [[24, 0, 32], '40 mm apart'],
  ] as const)('balls have no axes: two of them %s from each other are told by their true distance', (by, words) => {
    const two = concatMeshes([sphere(5, 3), shifted(sphere(5, 3), by[0], by[1], by[2])])
    const all = new Uint8Array(two.triangles.length / 3).fill(1)
    const { groups } = fitRegion(two, all, { ...wish, shape: 'sphere' })
    expect(groups[0].words).toBe(`2 spheres, equal, ${words}`)
  })
  it('three balls in a row, aslant, stand in a row', () => {
    const three = concatMeshes([0, 1, 2].map((i) => shifted(sphere(5, 3), 12 * i, 0, 16 * i)))
    const all = new Uint8Array(three.triangles.length / 3).fill(1)
    const { groups } = fitRegion(three, all, { ...wish, shape: 'sphere' })
    expect(groups[0].words).toBe('3 spheres, equal, in a row, 20 mm apart')
  })
  it('another size stays apart', () => {
    const mixed = concatMeshes([four, shifted(cylinder(5.4, 12, 48), 70, 0, 0)])
    const { patches, groups } = fitRegion(mixed, walls(mixed), wish)
    expect(patches).toHaveLength(5)
    expect(groups[0].of).toHaveLength(4)
    expect(patches.find((p) => p.fit.radius! > 5.2)!.fit.radius).toBeCloseTo(5.4, 5)
  })
})

describe('held about an axis', () => {
  it('the radius alone is free, also of a quarter of the wall', () => {
    const m = shifted(cylinder(8, 20, 96), 3, 4, 0)
    const quarter: number[] = []
    walls(m).forEach((f, t) => {
      const v = m.triangles[3 * t]
      if (f && m.positions[3 * v] > 3 && m.positions[3 * v + 1] > 4) quarter.push(t)
    })
    const s = samplesOf(m, quarter)
    const { fit } = fitHeld(s, { shape: 'cylinder', hold: 'about', way: [0, 0, 2], through: [3, 4, 55], snap: 'none' })
    expect(fit.radius).toBeCloseTo(8, 6)
    expect(fit.at.slice(0, 2)).toEqual([3, 4])
    expect(fit.axis).toEqual([0, 0, 1])
    for (const kind of ['sphere', 'ring', 'plane'] as const) {
      const f = fitKind(kind, s, { axis: [0, 0, 1], at: [3, 4, 0] })
      if (kind === 'plane') expect(Math.abs(f.at[2])).toBeLessThan(1e-9)
      else expect(Math.hypot(f.at[0] - 3, f.at[1] - 4)).toBeLessThan(1e-9)
    }
  })
})

describe('while painting', () => {
  it('the best shape of 5 000 triangles comes with the same answer, near enough, in a fraction of the time', () => {
    const m = shaken(sphere(20, 6), 0.02)
    const cap: number[] = []
    for (let t = 0; t < m.triangles.length / 3; t++) if (m.positions[3 * m.triangles[3 * t] + 2] > 14) cap.push(t)
    expect(cap.length).toBeGreaterThan(4500)
    const s = samplesOf(m, cap)
    const quick = fitBest(s, {}, brisk)
    expect(quick.kind).toBe('sphere')
    expect(Math.abs(quick.radius! - 20)).toBeLessThan(0.04)
    expect(processorTime(() => fitBest(s, {}, brisk))).toBeLessThan(0.5 * processorTime(() => fitBest(s, {})))
  })
})

describe('Fit shape, several at once', () => {
  it('each patch becomes a body of its own, numbered past names that are taken', async () => {
    const m = concatMeshes([cylinder(5, 12, 48), shifted(cylinder(5, 12, 48), 40, 0, 0)])
    const grown = [
      [5, 0.2, 6],
      [45, 0.2, 6],
    ].map((at) => ({ pick: 'grow', at, angle: 15 }))
    const out = await runStep(
      'convert/fit-shape',
      { body: 'pins', region: grown, patches: 'each', as: 'solid', name: 'pin' },
      { pins: m, 'pin 1': m },
    )
    expect(Object.keys(out.bodies).sort()).toEqual(['pin 1 2', 'pin 2'])
    expect(out.facts.shapes).toBe(2)
    expect((out.facts.equal as { words: string }[])[0].words).toContain('40 mm apart')
  })
  it('cut at once from another body, longer at both ends', async () => {
    const out = await runStep(
      'convert/fit-shape',
      { body: 'pin', region: [{ pick: 'grow', at: [5, 0.3, 6], angle: 15 }], as: 'cut', with: 'block', extend: 1 },
      { pin: cylinder(5, 12, 96), block: shifted(box(30, 30, 12), -15, -15, 0) },
    )
    expect(Object.keys(out.bodies)).toEqual(['block'])
    // The facets that stand for the wall lie inside of it.
    const exact = 900 * 12 - Math.PI * 25 * 12
    expect(Number(out.facts.volume)).toBeGreaterThanOrEqual(exact - 1e-3)
    expect(Number(out.facts.volume)).toBeLessThan(exact * 1.002)
  })
  it('without a body to cut, and without anything picked, it says so', async () => {
    const m = cylinder(10, 12, 48)
    const region = [{ pick: 'grow', at: [10, 0.3, 6], angle: 15 }]
    for (const [set, code] of [
      [{ region, as: 'cut' }, 'no-pick'],
      [{ region: [] }, 'no-region'],
      [{ region, hold: 'about', way: [0, 0, 1] }, 'no-pick'],
    ] as const) {
      const error = await runStep('convert/fit-shape', { body: 'pin', ...set }, { pin: m }).catch((e: unknown) => e)
      expect(reportError(error).code).toBe(code)
    }
  })
})
