import { describe, expect, it } from '@jest/globals'
import { csg } from '@/core/join/csg'
import { cutterMesh } from '@/core/holes/edit-hole'
import { box, cylinder, inward, sheet, shifted, sphere, without } from '@/testing/shapes'
import { concatMeshes, type TriMesh } from '@/core/mesh/tri-mesh'
import { Slicer } from '@/core/section/slice'
import {
  deviation,
  figuresOf,
  histogramOf,
  referenceOf,
  sampleDeviation,
  signedDistance,
  vertexDeviation,
} from './deviation'
import { measure } from './measure'

describe('deviation', () => {
  it('of concentric spheres is the difference of their radii, with its sign', () => {
    const d = deviation(sphere(10.2, 5), sphere(10, 5), { tolerance: 0.1 })
    expect(d.there.mean).toBeCloseTo(0.2, 2)
    expect(d.both.max).toBeCloseTo(0.2, 1)
    expect(d.both.within).toBe(0)
    expect(deviation(sphere(9.8, 5), sphere(10, 5)).there.mean).toBeCloseTo(-0.2, 2)
  })
  it('of a plate moved along x: rms of the share that moved', () => {
    // Of a 10 mm cube moved by 0.3 along x, the two faces across x lie 0.3 off; the others only along themselves.
    const { there } = deviation(shifted(box(10, 10, 10, 20), 0.3, 0, 0), box(10, 10, 10, 20))
    expect(there.most).toBeCloseTo(0.3, 3)
    expect(there.least).toBeCloseTo(-0.3, 3)
    expect(Math.abs(there.mean)).toBeLessThan(0.01)
    expect(there.rms).toBeCloseTo(0.3 * Math.sqrt(2 / 6), 1)
  })
  it('samples are weighted by area, the histogram holds all of it, vertices get their own', () => {
    const s = sampleDeviation(sphere(10, 3), referenceOf(sphere(10, 5)), 5000)
    expect(s.weight.reduce((a, b) => a + b, 0)).toBeCloseTo(4 * Math.PI * 100, -2)
    expect(histogramOf(s, 0.2).bins.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 3)
    expect(figuresOf({ distance: Float32Array.of(1, -3), weight: Float32Array.of(19, 1) }).p95).toBeCloseTo(1, 2)
    expect(vertexDeviation(sphere(11, 2), referenceOf(sphere(10, 5))).every((d) => Math.abs(d - 1) < 0.02)).toBe(true)
  })
  it('signs are right beside sharp edges and corners', () => {
    const r = referenceOf(box(10, 10, 10, 1))
    expect(signedDistance(r, 11, 11, 11)).toBeCloseTo(Math.sqrt(3), 6)
    expect(signedDistance(r, 10.5, 10.5, 5)).toBeCloseTo(Math.sqrt(0.5), 6)
    expect(signedDistance(r, 9.5, 9.5, 9.5)).toBeCloseTo(-0.5, 6)
  })
})

describe('measures', () => {
  const plate = box(40, 20, 6, 4)
  it('a distance with its parts along x, y, z and along a direction', () => {
    const m = measure(
      'distance',
      plate,
      { as: 'point', at: [0, 0, 0] },
      plate,
      { as: 'point', at: [3, 4, 12] },
      [0, 0, 2],
    )
    expect(m.value).toBe(13)
    expect(m.facts).toMatchObject({ x: 3, y: 4, z: 12, along: 12, across: 5 })
  })
  it('face to face, wall, angle', () => {
    expect(
      measure('faces', plate, { as: 'plane', at: [20, 10, 6] }, plate, { as: 'plane', at: [11, 7, 0] }),
    ).toMatchObject({ value: 6, facts: { parallel: true, facing: true } })
    expect(measure('wall', plate, { as: 'point', at: [13.1, 7.3, 6] }, plate, undefined).value).toBeCloseTo(6, 4)
    expect(
      measure('angle', plate, { as: 'plane', at: [20, 10, 6] }, plate, { as: 'plane', at: [40, 10, 3] }).value,
    ).toBeCloseTo(90, 6)
    expect(
      measure('angle', plate, { as: 'plane', at: [20, 10, 6] }, plate, { as: 'line', at: [0, 0, 0], to: [1, 0, 1] })
        .value,
    ).toBeCloseTo(45, 6)
  })
  it('the diameter of a bore and of a peg, axis to axis', async () => {
    const tools = [
      [10, 10],
      [30, 10],
    ].map(([x, y], i) => ({ name: `t${i}`, mesh: cutterMesh([x, y, 0], [0, 0, 1], 2, -1, 7, 64) }))
    const drilled = (await csg('difference', [{ name: 'p', mesh: plate }, ...tools])).mesh
    expect(measure('diameter', drilled, { as: 'axis', at: [12, 10, 3] }, drilled, undefined).value).toBeCloseTo(4, 2)
    expect(
      measure('distance', drilled, { as: 'axis', at: [12, 10, 3] }, drilled, { as: 'axis', at: [28, 10, 3] }).value,
    ).toBeCloseTo(20, 2)
    expect(
      measure('diameter', cylinder(4, 20, 64, 5), { as: 'axis', at: [4, 0, 10] }, plate, undefined).value,
    ).toBeCloseTo(8, 3)
  })
  it('the length of a rim; what is not there is said', () => {
    const open = without(cylinder(4, 20, 256, 5), (_x, _y, z) => z > 19.9)
    expect(measure('rim', open, { as: 'point', at: [4, 0, 20] }, open, undefined).value).toBeCloseTo(8 * Math.PI, 2)
    expect(() => measure('rim', plate, { as: 'point', at: [0, 0, 0] }, plate, undefined)).toThrow(/no open rim/)
    expect(() => measure('diameter', plate, { as: 'axis', at: [20, 10, 6] }, plate, undefined)).toThrow(/no round wall/)
    expect(() => measure('distance', plate, { as: 'point', at: [0, 0, 0] }, plate, undefined)).toThrow(/two places/)
    expect(() => measure('wall', sheet(10, 4), { as: 'point', at: [5, 5, 0] }, plate, undefined)).toThrow(/open there/)
  })
})

describe('sections', () => {
  const cut = (m: TriMesh, z: number) => new Slicer(m).slice([0, 0, 1], z)
  // Euclid; the section of a sphere at height h is a circle of r² - h².
  it('areas and lengths by closed forms, at faces and through vertices too', () => {
    expect(cut(sphere(10, 6), 4).area / (Math.PI * 84)).toBeCloseTo(1, 2)
    for (const z of [2.5, 5, 10]) expect(cut(box(10, 10, 10, 4), z)).toMatchObject({ area: 100, length: 40 })
    expect(cut(box(10, 10, 10, 4), 10.001).loops).toHaveLength(0)
  })
  it('a hollow is left out, an island in it is filled, an open skin gives an open chain', () => {
    const nest = concatMeshes([
      box(30, 30, 30, 3),
      shifted(inward(box(20, 20, 20, 3)), 5, 5, 5),
      shifted(box(6, 6, 6, 2), 12, 12, 12),
    ])
    const s = cut(nest, 15)
    expect(s.loops).toHaveLength(3)
    expect(s.area).toBeCloseTo(900 - 400 + 36, 3)
    const open = cut(
      without(box(10, 10, 10, 4), (x) => x > 9.9),
      5,
    )
    expect(open.loops.map((l) => l.closed)).toEqual([false])
    expect(open.area).toBe(0)
    expect(open.length).toBeCloseTo(30, 4)
  })
})
