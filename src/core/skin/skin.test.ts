import { describe, expect, it } from '@jest/globals'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { concatMeshes, triangleCount } from '@/core/mesh/tri-mesh'
import { deviation, figuresOf, referenceOf, sampleDeviation } from '@/core/gauge/deviation'
import { random } from '@/core/math/random'
import { normalize } from '@/core/math/vec'
import { awkward, box, inward, sheet, shaken, shifted, sphere, torus, without } from '@/testing/shapes'
import { hollow } from './offset'
import { defaultEdge, reskin } from './reskin'
import { loyaltyOf } from '@/core/gauge/loyalty'
import { blade, casting, terrain } from '@/testing/hard'
import { thicken } from './thicken'
import { itLong, mostly } from '@/testing/long'

const sound = (m: Parameters<typeof checkUp>[0]) => expect(faultCount(checkUp(m).facts)).toBe(0)

describe('reskin', () => {
  it('of a sound body stays on it: closed, sound, near', () => {
    for (const body of [sphere(10, 5), box(10, 12, 8, 4), torus(10, 3, 60, 30)]) {
      const r = reskin(body, { edge: 1.1, gap: 0, holes: 'close' })
      sound(r)
      expect(deviation(r, body, { samples: 10_000 }).both.p95).toBeLessThan(0.06)
      expect(meshVolume(r) / meshVolume(body)).toBeCloseTo(1, 1)
    }
  })
  it('sharp edges stay sharp', () => {
    const r = reskin(box(10, 12, 8, 4), { edge: 0.5, gap: 0, holes: 'close' })
    expect(meshVolume(r) / 960).toBeGreaterThan(0.997)
  })
  it('joins what crosses, keeps what is apart, bridges a gap when asked', () => {
    const crossed = concatMeshes([sphere(10, 4), shifted(sphere(8, 4), 9, 0, 0)])
    expect(checkUp(reskin(crossed, { edge: 0.8, gap: 0, holes: 'close' })).facts).toMatchObject({
      pieces: 1,
      closed: true,
      selfCrossings: 0,
    })
    const apart = concatMeshes([box(10, 10, 10, 3), shifted(box(10, 10, 10, 3), 11, 0, 0)])
    expect(checkUp(reskin(apart, { edge: 0.5, gap: 0, holes: 'close' })).facts.pieces).toBe(2)
    const joined = reskin(apart, { edge: 0.5, gap: 1.5, holes: 'close' })
    expect(checkUp(joined).facts).toMatchObject({ pieces: 1, closed: true })
    expect(meshVolume(joined)).toBeGreaterThan(2000 + 0.8 * 100)
  })
  it('random damage to a known shape: closed again, volume within 3 %, sound parts within half an edge', () => {
    const rng = random(23)
    for (let i = 0; i < 2; i++) {
      const whole = shaken(sphere(10, 5), 0.03, i)
      const holes = Array.from({ length: 4 }, () => normalize([rng.normal(), rng.normal(), rng.normal()]))
      const hurt = without(whole, (x, y, z) => holes.some((h) => (h[0] * x + h[1] * y + h[2] * z) / 10 > 0.985))
      const r = reskin(hurt, { edge: 0.8, gap: 0, holes: 'close' })
      sound(r)
      expect(Math.abs(meshVolume(r) / meshVolume(whole) - 1)).toBeLessThan(0.03)
      expect(figuresOf(sampleDeviation(hurt, referenceOf(r), 10_000)).p95).toBeLessThan(0.4)
    }
  }, 120_000)
  itLong('holes can be left open; an inverted and a doubled skin come out right', () => {
    const open = without(sphere(10, 5), (_x, _y, z) => z > 8)
    expect(checkUp(reskin(open, { edge: 0.6, gap: 0, holes: 'leave' })).facts.holes).toHaveLength(1)
    for (const m of [inward(sphere(10, 4)), awkward().doubled])
      expect(meshVolume(reskin(m, { edge: 0.8, gap: 0, holes: 'close' }))).toBeGreaterThan(4000)
  })
  it('a level sheet gets a skin round both sides, not nothing', () => {
    const m = reskin(sheet(10, 3), { edge: 1, gap: 0, holes: 'close' })
    expect(faultCount(checkUp(m).facts)).toBe(0)
    // Both sides of 10 by 10.
    expect(meshArea(m)).toBeGreaterThan(195)
    expect(meshVolume(m)).toBeGreaterThan(0)
  })
  it.each(
    mostly(
      [
        ['a blade', blade(4), 0.97],
        ['ground with a border', terrain(24), 0.8],
        ['a casting with openings', casting(20), 0.99],
      ] as const,
      ([name]) => name === 'a blade',
    ),
  )('what is thinner than its edges is kept: %s', (_, mesh, kept) => {
    const m = reskin(mesh, { edge: defaultEdge(mesh) * 2, gap: 0, holes: 'close' })
    expect(faultCount(checkUp(m).facts)).toBe(0)
    expect(1 - loyaltyOf(mesh, m, { quick: true }).lost).toBeGreaterThan(kept)
  })
})

describe('walls', () => {
  it('hollow: the wall that is left, and a drain hole through it', async () => {
    const h = await hollow('b', box(20, 20, 20, 4), 2, 0.6, [{ at: [10, 10, 0], diameter: 4 }])
    expect(checkUp(h.mesh).facts).toMatchObject({ closed: true, selfCrossings: 0, pieces: 1 })
    // The drain takes a cylinder of wall height out: pi r² t.
    expect(meshVolume(h.mesh) / (8000 - 4096 - Math.PI * 4 * 2)).toBeCloseTo(1, 2)
    await expect(hollow('b', box(3, 3, 3, 2), 2, 0.3, [])).rejects.toThrow(/no room inside/)
  })
  it('thicken: a flat sheet by its area, a curved one without crossing itself', () => {
    const flat = thicken(sheet(20, 8), null, 1.5, 'both', 0.5)
    expect(flat.reskinned).toBe(false)
    expect(meshVolume(flat.mesh)).toBeCloseTo(600, 2)
    sound(flat.mesh)
    const wave = sheet(20, 24, (x) => 2.5 * Math.sin(x))
    const tight = thicken(wave, null, 1.6, 'outward', 0.6)
    expect(tight.reskinned).toBe(true)
    expect(checkUp(tight.mesh).facts).toMatchObject({ closed: true, selfCrossings: 0 })
    expect(() => thicken(sphere(5, 2), null, 1, 'both', 0.5)).toThrow(/closed/)
  })
  it('a picked part of a closed body becomes a plate of its own', () => {
    const b = box(10, 10, 10, 5)
    const top = Uint8Array.from({ length: triangleCount(b) }, (_, t) =>
      [0, 1, 2].every((c) => b.positions[3 * b.triangles[3 * t + c] + 2] > 9.99) ? 1 : 0,
    )
    expect(meshVolume(thicken(b, top, 2, 'outward', 0.5).mesh)).toBeCloseTo(200, 3)
    expect(meshArea(b)).toBeCloseTo(600, 3)
  })
})
