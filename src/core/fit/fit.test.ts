/** Shapes of known numbers, sampled clean and with noise, all round and in part: what is fitted is what was made. */
import { describe, expect, it } from '@jest/globals'
import { reportError } from '@/core/base/step-error'
import type { DatumBody, ExactBody } from '@/core/bodies/body'
import { add, addScaled, cross, dot, normalize, perpendicular, scale, type Vec3 } from '@/core/math/vec'
import { random } from '@/core/math/random'
import { box, cylinder, sphere } from '@/testing/shapes'
import { runStep } from '@/testing/run-step'
import { extentOf } from './extent'
import { fitBest, fitKind, snapped } from './fit-shape'
import type { Samples } from './samples'
import { normalOf, offShape, type Shape } from './shape'
import { axisOfRevolution } from './starts'

const axis = normalize([0.2, 0.6, 0.8])
const at: Vec3 = [5, 3, 1]
const u = perpendicular(axis)
const v = cross(axis, u)
const place = (r: number, h: number, t: number): Vec3 =>
  add(addScaled(at, axis, h), add(scale(u, r * Math.cos(t)), scale(v, r * Math.sin(t))))
const rad = Math.PI / 180

/** Each with its surface by two numbers from 0 to 1, the first round the axis. */
const shapes: [Shape, (a: number, b: number) => Vec3][] = [
  [{ kind: 'plane', at, axis }, (a, b) => place(30 * b, 0, a)],
  [{ kind: 'cylinder', at, axis, radius: 12 }, (a, b) => place(12, 30 * b, a)],
  [{ kind: 'cone', at, axis, halfAngle: 25 }, (a, b) => place((10 + 20 * b) * Math.tan(25 * rad), 10 + 20 * b, a)],
  [{ kind: 'sphere', at, radius: 15 }, (a, b) => place(15 * Math.cos(1.4 * b - 0.3), 15 * Math.sin(1.4 * b - 0.3), a)],
  [
    { kind: 'ring', at, axis, radius: 20, thickness: 6 },
    (a, b) => place(20 + 6 * Math.cos(4 * b), 6 * Math.sin(4 * b), a),
  ],
]

function sampled([shape, surface]: (typeof shapes)[number], sigma: number, turn: number, count = 40): Samples {
  const { normal } = random(11)
  const points: Vec3[] = [],
    normals: Vec3[] = []
  for (let i = 0; i < count; i++)
    for (let j = 0; j < count; j++) {
      const p = surface((turn * 2 * Math.PI * i) / count, j / count)
      const n = normalOf(shape, p)
      points.push(addScaled(p, n, sigma * normal()))
      const bent = sigma ? add(n, [0.05 * normal(), 0.05 * normal(), 0.05 * normal()]) : n
      normals.push(normalize(bent))
    }
  return { points, normals, weights: points.map(() => 1) }
}

describe.each(shapes.map((s) => [s[0].kind, s] as const))('%s', (kind, made) => {
  const [truth] = made
  it('clean, all round or a quarter: to the last digits; and it is the best of all', () => {
    for (const turn of [1, 0.25]) {
      const s = sampled(made, 0, turn)
      for (const f of [fitKind(kind, s), fitBest(s)]) {
        expect(f.kind).toBe(kind)
        expect(f.rms).toBeLessThan(1e-9)
        if (truth.radius) expect(f.radius).toBeCloseTo(truth.radius, 7)
        if (truth.thickness) expect(f.thickness).toBeCloseTo(truth.thickness, 7)
        if (truth.halfAngle) expect(f.halfAngle).toBeCloseTo(truth.halfAngle, 7)
        if (truth.axis) expect(Math.abs(dot(f.axis!, truth.axis))).toBeCloseTo(1, 10)
        expect(Math.abs(offShape(truth, f.kind === 'cylinder' ? addScaled(f.at, u, 12) : s.points[0]))).toBeLessThan(
          0.5,
        )
      }
    }
  })
  it('with noise: rms is the noise, radii within it, axes within a tenth of a degree', () => {
    const s = sampled(made, 0.05, 1)
    const f = fitKind(kind, s)
    expect(f.rms).toBeGreaterThan(0.045)
    expect(f.rms).toBeLessThan(0.055)
    if (truth.radius) expect(Math.abs(f.radius! - truth.radius)).toBeLessThan(0.05)
    if (truth.thickness) expect(Math.abs(f.thickness! - truth.thickness)).toBeLessThan(0.05)
    if (truth.axis) expect(Math.acos(Math.min(1, Math.abs(dot(f.axis!, truth.axis)))) / rad).toBeLessThan(0.1)
    expect(fitBest(s).kind).toBe(kind)
    // What it says of its own doubt is of the size of its error: within four of its standard deviations.
    const r = truth.thickness ?? truth.radius
    if (r) expect(Math.abs((f.thickness ?? f.radius)! - r)).toBeLessThan(4 * f.sigma!)
  })
  it('a fifth of it painted over onto something else is left out', () => {
    const s = sampled(made, 0.01, 0.5)
    const { next } = random(5)
    const wrong = s.points.map((p, i) => (i % 5 ? p : addScaled(p, s.normals[i], 1 + 4 * next())))
    const f = fitKind(kind, { ...s, points: wrong })
    expect(f.inliers).toBeGreaterThan(0.75)
    expect(f.inliers).toBeLessThan(0.83)
    if (truth.radius) expect(Math.abs(f.radius! - truth.radius)).toBeLessThan(0.03)
    if (truth.axis) expect(Math.acos(Math.min(1, Math.abs(dot(f.axis!, truth.axis)))) / rad).toBeLessThan(0.2)
  })
})

describe('what is known beforehand', () => {
  it('an axis that is held stays; a radius that is held or snapped too', () => {
    const s = sampled(shapes[1], 0.02, 0.4)
    const held = fitKind('cylinder', s, { axis })
    expect(held.axis).toEqual(axis)
    expect(Math.abs(held.radius! - 12)).toBeLessThan(0.02)
    expect(fitKind('cylinder', s, { radius: 12.5 }).radius).toBe(12.5)
    expect(2 * snapped(held, s, 'tenth').radius!).toBeCloseTo(24, 10)
    expect(2 * snapped(held, s, 'sixtyfourth').radius!).toBeCloseTo(Math.round(24 / (25.4 / 64)) * (25.4 / 64), 10)
  })
  it('a sliver of a sphere says how free its radius is', () => {
    const [truth, surface] = shapes[3]
    const s = sampled([truth, (a, b) => surface(0.02 * a, 0.3 + 0.05 * b)], 0.05, 1)
    const f = fitKind('sphere', s)
    expect(f.sigma!).toBeGreaterThan(0.5)
  })
  it('the axis of any turned surface is found by its normals', () => {
    for (const made of shapes.slice(1)) {
      if (made[0].kind === 'sphere') continue
      const found = axisOfRevolution(sampled(made, 0, 1))!
      expect(Math.abs(dot(found.axis, axis))).toBeCloseTo(1, 8)
    }
  })
})

describe('how far a region reaches', () => {
  const [, cylinderMade, , , ringMade] = shapes
  it('along its axis and round it, gaps left out', () => {
    const half = sampled(cylinderMade, 0, 0.5)
    const f = fitKind('cylinder', half)
    const e = extentOf(f, half.points, 1e-6)
    expect(e.to - e.from).toBeCloseTo(30 * (39 / 40), 6)
    expect(e.turn).toBeCloseTo(180 * (39 / 40), 3)
    const whole = sampled(cylinderMade, 0, 1)
    expect(extentOf(fitKind('cylinder', whole), whole.points, 1e-6).turn).toBe(360)
    const ring = sampled(ringMade, 0, 1)
    expect(extentOf(fitKind('ring', ring), ring.points, 1e-6).turn).toBe(360)
  })
  it('of a plane the rectangle that holds it, however it lies', () => {
    const turned = [0, 40].map((degrees) => {
      const [c, s] = [Math.cos(degrees * rad), Math.sin(degrees * rad)]
      const points = [
        [0, 0],
        [20, 0],
        [20, 8],
        [0, 8],
      ].map(([x, y]): Vec3 => [c * x - s * y, s * x + c * y, 3])
      const e = extentOf({ kind: 'plane', at: points[0], axis: [0, 0, 1] }, points, 1e-6)
      return [e.to - e.from, e.turn].sort((p, q) => p - q)
    })
    for (const [a, b] of turned) {
      expect(a).toBeCloseTo(8, 6)
      expect(b).toBeCloseTo(20, 6)
    }
  })
  it('what lies off the shape does not count', () => {
    const s = sampled(cylinderMade, 0, 1)
    const f = fitKind('cylinder', s)
    const far = [...s.points, add(s.points[0], scale(axis, 500)), add(s.points[0], [0, 40, 300])]
    expect(extentOf(f, far, 1e-6).to - extentOf(f, far, 1e-6).from).toBeCloseTo(500, 0)
    expect(extentOf(f, [...s.points, add(s.points[0], [0, 40, 300])], 1e-6).to).toBeCloseTo(
      extentOf(f, s.points, 1e-6).to,
      9,
    )
  })
})

describe('Fit shape', () => {
  const wall = [{ pick: 'grow', mode: 'add', at: [10, 0, 10], angle: 25 }]
  const pin = cylinder(10, 20, 48)
  it('of a faceted wall gives the radius of its corners, as datum, sheet and solid', async () => {
    const set = { body: 'm', region: wall, shape: 'cylinder', name: 's' }
    const r = await runStep('convert/fit-shape', set, { m: pin })
    expect(r.facts).toMatchObject({ shape: 'cylinder', inside: false })
    expect(r.facts.radius).toBeCloseTo(10, 5)
    expect(r.facts.inliers).toBe(1)
    const datum = r.bodies.s as DatumBody
    expect(datum.datum).toBe('axis')
    expect(Math.abs(datum.direction[2])).toBeCloseTo(1, 8)
    const sheet = (await runStep('convert/fit-shape', { ...set, as: 'sheet', extend: 2 }, { m: pin })).bodies
      .s as ExactBody
    expect(sheet.facts.area).toBeCloseTo(2 * Math.PI * 10 * 24, 3)
    const solid = (await runStep('convert/fit-shape', { ...set, as: 'solid' }, { m: pin })).bodies.s as ExactBody
    expect(solid.facts.volume).toBeCloseTo(Math.PI * 100 * 20, 2)
  })
  it('takes the simplest by itself: a plane of a block, with its rectangle as a sheet', async () => {
    const top = [{ pick: 'grow', mode: 'add', at: [10, 10, 10], angle: 10 }]
    const set = { body: 'm', region: top, name: 's', as: 'sheet' }
    const r = await runStep('convert/fit-shape', set, { m: box(30, 20, 10, 4) })
    expect(r.facts).toMatchObject({ shape: 'plane' })
    expect((r.bodies.s as ExactBody).facts.area).toBeCloseTo(600, 4)
    const ball = await runStep(
      'convert/fit-shape',
      { body: 'm', region: [{ pick: 'all' }], name: 's' },
      { m: sphere(15, 4) },
    )
    expect(ball.facts).toMatchObject({ shape: 'sphere' })
    expect(ball.facts.radius).toBeCloseTo(15, 4)
  })
  it('holds its axis along and square to a direction, and its diameter to steps', async () => {
    const set = { body: 'm', region: wall, shape: 'cylinder', name: 's' }
    const along = await runStep('convert/fit-shape', { ...set, hold: 'along', way: [0, 0.02, 1] }, { m: pin })
    expect((along.facts.axis as number[])[1]).toBeCloseTo(0.02, 3)
    const square = await runStep('convert/fit-shape', { ...set, hold: 'square', way: [1, 0, 0.01] }, { m: pin })
    expect(dot(square.facts.axis as unknown as Vec3, normalize([1, 0, 0.01]))).toBeCloseTo(0, 8)
    const snap = await runStep('convert/fit-shape', { ...set, snap: 'sixtyfourth' }, { m: pin })
    expect(Number(snap.facts.diameter) / (25.4 / 64)).toBeCloseTo(Math.round(20 / (25.4 / 64)), 6)
  })
  it('a flat region taken for a cylinder is told to be nearly flat', async () => {
    const bent = box(30, 20, 10, 12)
    // The top sags by a hundredth of a millimetre: a radius of some 10 m.
    const sag = bent.positions.map((v, i) =>
      i % 3 === 2 && v > 9.9 ? v - 0.01 * (1 - ((bent.positions[i - 2] - 15) / 15) ** 2) : v,
    )
    const top = [{ pick: 'grow', mode: 'add', at: [10, 10, 10], angle: 10 }]
    const set = { body: 'm', region: top, shape: 'cylinder', name: 's' }
    const r = await runStep('convert/fit-shape', set, { m: { ...bent, positions: sag } })
    expect(Number(r.facts.radius)).toBeGreaterThan(5000)
    expect(r.warnings?.join(' ')).toMatch(/nearly flat/)
  })
  it('says so where there is nothing to fit, too little, or no inside', async () => {
    const fails = (set: Record<string, unknown>) =>
      runStep('convert/fit-shape', { body: 'm', name: 's', ...set }, { m: box(30, 20, 10, 1) }).then(
        () => null,
        (e: unknown) => reportError(e),
      )
    const top = [{ pick: 'grow', mode: 'add', at: [10, 10, 10], angle: 10 }]
    expect((await fails({ region: [] }))?.code).toBe('no-region')
    expect((await fails({ region: top, shape: 'ring' }))?.code).toBe('too-few')
    expect((await fails({ region: top, shape: 'plane', as: 'solid' }))?.code).toBe('no-inside')
  })
})
