import { describe, expect, it } from '@jest/globals'
import { about, applyPoint, compose, rotation, translation, type Affine } from '@/core/math/affine'
import { random } from '@/core/math/random'
import { dot, normalize, type Vec3 } from '@/core/math/vec'
import { meshBounds, transformMesh, vertex } from '@/core/mesh/tri-mesh'
import { deviation } from '@/core/gauge/deviation'
import { tillerShape } from '@/core/scan/shapes'
import { meshOf, runStep } from '@/testing/run-step'
import { box, cylinder, shaken, shifted } from '@/testing/shapes'
import { matchToBody, rigidFit } from './register'
import { lineUp, threeTouch } from './three-touch'
import { resolveTouch } from '@/core/find/touch'

const near = (a: readonly number[], b: readonly number[], digits = 4) =>
  a.forEach((v, i) => expect(v).toBeCloseTo(b[i], digits))
const askew = compose(translation([7, -3, 12]), about([1, 2, 3], rotation(normalize([1, 2, 3]), 37)))

describe('what is touched', () => {
  it("a face, a peg's axis, a line, a point", () => {
    const b = transformMesh(box(10, 20, 30, 4), askew)
    const top = resolveTouch(b, { as: 'plane', at: applyPoint(askew, [5, 10, 30]) as [number, number, number] })
    near(top.direction!, [askew[2], askew[6], askew[10]])
    expect(top.rms).toBeLessThan(1e-4)
    const peg = resolveTouch(transformMesh(cylinder(4, 20, 64, 5), askew), {
      as: 'axis',
      at: applyPoint(askew, [4, 0, 10]) as [number, number, number],
    })
    expect(Math.abs(dot(peg.direction!, [askew[2], askew[6], askew[10]]))).toBeCloseTo(1, 6)
    expect(peg.diameter).toBeCloseTo(8, 3)
    near(resolveTouch(b, { as: 'line', at: [0, 0, 0], to: [0, 0, 5] }).direction!, [0, 0, 1])
    expect(() => resolveTouch(b, { as: 'line', at: [0, 0, 0] })).toThrow(/two points/)
  })
})

describe('three touches', () => {
  it('put an askew box back: face under, edge along x, corner at the origin (3-2-1, ISO 5459)', async () => {
    const b = transformMesh(box(10, 20, 30, 4), askew)
    const at = (p: Vec3) => applyPoint(askew, p) as [number, number, number]
    const r = await runStep(
      'set-down/three-touch',
      {
        body: 'b',
        face: { as: 'plane', at: at([5, 10, 0]) },
        goes: 'under',
        direction: { as: 'line', at: at([0, 0, 0]), to: at([10, 0, 0]) },
        heading: 'x',
        point: { as: 'point', at: at([0, 0, 0]) },
      },
      { b },
    )
    const m = meshOf(r, 'b')
    near(meshBounds(m).min, [0, 0, 0], 3)
    near(meshBounds(m).max, [10, 20, 30], 3)
  })
  it('say what is missing', () => {
    const plane = { point: [0, 0, 0] as Vec3, direction: [0, 0, 1] as Vec3, rms: 0 }
    expect(() => threeTouch({ ...plane, direction: null }, 'under', null, 'x', null)).toThrow(/face or an axis/)
    expect(() => threeTouch(plane, 'under', plane, 'x', null)).toThrow(/straight out/)
  })
})

describe('lining up', () => {
  it('axes made one, faces flush and face to face with a gap, point on point', async () => {
    const peg = transformMesh(cylinder(3, 20, 64, 5), askew),
      hub = shifted(cylinder(5, 10, 64, 4), 40, 0, 0)
    const at = (p: Vec3) => applyPoint(askew, p) as [number, number, number]
    const on = meshOf(
      await runStep(
        'set-down/line-up',
        {
          body: 'peg',
          to: 'hub',
          how: 'concentric',
          touch: { as: 'axis', at: at([3, 0, 10]) },
          touchTo: { as: 'axis', at: [45, 0, 5] },
        },
        { peg, hub },
      ),
      'peg',
    )
    const b = meshBounds(on)
    near([(b.min[0] + b.max[0]) / 2, (b.min[1] + b.max[1]) / 2], [40, 0], 3)
    const cube = box(10, 10, 10, 2),
      plate = shifted(box(50, 50, 5, 2), -20, -20, -40)
    const facing = meshOf(
      await runStep(
        'set-down/line-up',
        {
          body: 'cube',
          to: 'plate',
          how: 'facing',
          gap: 2,
          touch: { as: 'plane', at: [5, 5, 0] },
          touchTo: { as: 'plane', at: [0, 0, -35] },
        },
        { cube, plate },
      ),
      'cube',
    )
    expect(meshBounds(facing).min[2]).toBeCloseTo(-33, 4)
    const flush = meshOf(
      await runStep(
        'set-down/line-up',
        {
          body: 'cube',
          to: 'plate',
          how: 'flush',
          touch: { as: 'plane', at: [5, 5, 10] },
          touchTo: { as: 'plane', at: [0, 0, -35] },
        },
        { cube, plate },
      ),
      'cube',
    )
    expect(meshBounds(flush).max[2]).toBeCloseTo(-35, 4)
    near(
      applyPoint(
        lineUp(
          'point',
          { point: [1, 2, 3], direction: null, rms: 0 },
          { point: [9, 9, 9], direction: null, rms: 0 },
          0,
        ),
        [1, 2, 3],
      ),
      [9, 9, 9],
    )
    await expect(
      runStep(
        'set-down/line-up',
        { body: 'cube', to: 'cube', touch: { as: 'axis', at: [0, 0, 0] }, touchTo: { as: 'axis', at: [0, 0, 0] } },
        { cube },
      ),
    ).rejects.toThrow(/itself/)
  })
})

describe('best fit', () => {
  const rng = random(31)
  it('of point pairs is exact (Horn 1987)', () => {
    for (let k = 0; k < 20; k++) {
      const map: Affine = compose(
        translation([rng.normal() * 9, rng.normal() * 9, rng.normal() * 9]),
        rotation(normalize([rng.normal(), rng.normal(), rng.normal()]), 360 * rng.next()),
      )
      const pairs = Array.from({ length: 4 }, () => {
        const from: Vec3 = [rng.normal() * 10, rng.normal() * 10, rng.normal() * 10]
        return { from, to: applyPoint(map, from) }
      })
      near(rigidFit(pairs), map, 6)
    }
    expect(() => rigidFit([{ from: [0, 0, 0], to: [1, 1, 1] }])).toThrow(/three are needed/)
    expect(() => rigidFit([0, 1, 2].map((x) => ({ from: [x, 0, 0] as Vec3, to: [x, 0, 0] as Vec3 })))).toThrow(
      /one line/,
    )
  })
  it('of a noisy copy, from its axes, from where it stands, and from three pairs', () => {
    const part = tillerShape(48, 36)
    const noisy = transformMesh(
      shaken(part, 0.03, 4),
      compose(translation([60, -20, 9]), rotation(normalize([1, 1, 3]), 140)),
    )
    const far = matchToBody(noisy, part, { start: 'axes', trust: 0.9 })
    expect(far.rms).toBeLessThan(0.03)
    expect(far.rmsBefore).toBeGreaterThan(10)
    expect(deviation(transformMesh(noisy, far.map), part, { samples: 10_000 }).both.p95).toBeLessThan(0.06)
    const close = transformMesh(part, compose(translation([0.8, -0.6, 0.4]), rotation([0, 0, 1], 4)))
    expect(matchToBody(close, part, { start: 'as-is', trust: 1 }).rms).toBeLessThan(0.005)
    const ids = [10, 600, 1300]
    const pairs = ids.map((v) => ({ from: vertex(noisy, v), to: vertex(part, v) }))
    expect(matchToBody(noisy, part, { start: 'pairs', pairs, trust: 0.9 }).rms).toBeLessThan(0.03)
  })
})
