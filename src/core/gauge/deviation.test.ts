import { describe, expect, it } from '@jest/globals'
import { meshArea } from '@/core/mesh/measures'
import { box, shifted, sphere } from '@/testing/shapes'
import {
  deviation,
  figuresOf,
  histogramOf,
  plainReferenceOf,
  referenceOf,
  sampleDeviation,
  signedDistance,
  vertexDeviation,
} from './deviation'

describe('deviation', () => {
  it('of concentric spheres is the difference of their radii, with its sign', () => {
    const d = deviation(sphere(10.2, 4), sphere(10, 4), { tolerance: 0.1, samples: 20_000 })
    expect(d.there.mean).toBeCloseTo(0.2, 2)
    expect(d.both.max).toBeCloseTo(0.2, 1)
    expect(d.both.within).toBe(0)
    expect(deviation(sphere(9.8, 4), sphere(10, 4), { samples: 4000 }).there.mean).toBeCloseTo(-0.2, 2)
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

describe('samples', () => {
  it.each([40, 200, 5000, 60_000])(
    'of about %d stand for the whole area, however few of the corners are asked',
    (count) => {
      const mesh = sphere(10, 5)
      const { distance, weight } = sampleDeviation(mesh, plainReferenceOf(mesh), count)
      const sum = weight.reduce((s, w) => s + w, 0)
      expect(sum / meshArea(mesh)).toBeGreaterThan(0.85)
      expect(sum / meshArea(mesh)).toBeLessThan(1.15)
      expect(distance.length).toBeLessThan(2 * count + 100)
    },
  )
})
