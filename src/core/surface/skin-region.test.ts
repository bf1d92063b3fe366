/** Sheets over pieces whose form is known: planes, waves, balls, and walls that go more than half round. */
import { describe, expect, it } from '@jest/globals'
import { boundedBody } from '@/core/kernels/exact/bounded'
import { meshFrom, type TriMesh } from '@/core/mesh/tri-mesh'
import { sphere } from '@/testing/shapes'
import { flatten } from './flatten'
import { nearestOn, normalAt, sheetAt, trimmedSheet, wholeSheet } from './sheet'
import { skinRegion, type SkinChoice } from './skin-region'

/** A grid of places as a mesh. */
function grid(nu: number, nv: number, at: (u: number, v: number) => [number, number, number]): TriMesh {
  const p: number[] = []
  const t: number[] = []
  for (let j = 0; j <= nv; j++) for (let i = 0; i <= nu; i++) p.push(...at(i / nu, j / nv))
  for (let j = 0; j < nv; j++)
    for (let i = 0; i < nu; i++) {
      const a = j * (nu + 1) + i
      t.push(a, a + 1, a + nu + 2, a, a + nu + 2, a + nu + 1)
    }
  return meshFrom(p, t)
}
const all = (m: TriMesh) => Array.from({ length: m.triangles.length / 3 }, (_, t) => t)
const plain: SkinChoice = { by: 'best', detail: { within: 0.02 }, smooth: 0.3, extend: [0, 0, 0, 0] }
const wave = grid(60, 40, (u, v) => [60 * u, 40 * v, 3 * Math.sin(2 * Math.PI * u) * Math.cos(Math.PI * v)])
/** Three quarters of a tube of radius 10, 30 long. */
const tube = grid(120, 40, (u, v) => {
  const a = 1.5 * Math.PI * (u - 0.5)
  return [10 * Math.sin(a), 30 * v, 10 * Math.cos(a)]
})

describe('flattening', () => {
  it('unrolls a tube: lengths stay as they are', () => {
    const uv = flatten({ positions: Float64Array.from(tube.positions), triangles: tube.triangles })!
    const apart = (a: number, b: number) => Math.hypot(uv[2 * a] - uv[2 * b], uv[2 * a + 1] - uv[2 * b + 1])
    // The chord of 120 parts is shorter than the arc by less than a thousandth.
    expect(apart(0, 120)).toBeCloseTo(1.5 * Math.PI * 10, 1)
    expect(apart(0, 121 * 40)).toBeCloseTo(30, 1)
    expect(apart(0, 121 * 41 - 1)).toBeCloseTo(Math.hypot(15 * Math.PI, 30), 1)
  })
})

describe('a skin over a region', () => {
  it('lies on a plane to the last digits, with few control points', () => {
    const r = skinRegion(
      grid(20, 10, (u, v) => [40 * u, 20 * v, 5 + 2 * u]),
      all(grid(20, 10, () => [0, 0, 0])),
      plain,
    )
    expect(r.by).toBe('projection')
    expect(r.max).toBeLessThan(1e-4)
    expect(r.sheet.cells).toEqual([2, 1])
  })
  it('is raised until a wave is inside, and not further', () => {
    const r = skinRegion(wave, all(wave), plain)
    expect(r.inside).toBe(true)
    expect(r.max).toBeLessThan(0.02)
    expect(r.sheet.cells[0]).toBeGreaterThan(3)
    expect(r.sheet.cells[0]).toBeLessThan(25)
    const coarse = skinRegion(wave, all(wave), { ...plain, detail: { cells: 2 } })
    expect(coarse.max).toBeGreaterThan(0.1)
    // Between the places too: the wave itself, at its crest.
    const x = [15, 0.5, 3 * Math.cos(Math.PI / 80)] as const
    let near = Infinity
    for (let i = 0; i < r.off.length; i += 7) near = Math.min(near, Math.abs(r.off[i]))
    expect(near).toBeLessThan(0.02)
    expect(Math.hypot(...x)).toBeGreaterThan(0)
  })
  it('goes round three quarters of a tube by laying it flat, which a look cannot; and on past its ends', () => {
    expect(() => skinRegion(tube, all(tube), { ...plain, by: 'projection' })).toThrow(/face away/)
    const r = skinRegion(tube, all(tube), { ...plain, extend: [2, 2, 3, 3] })
    expect(r.by).toBe('flattening')
    expect(r.max).toBeLessThan(0.02)
    const { from, cells, side } = r.sheet
    let long = 0
    for (let i = 0; i <= 20; i++)
      for (let j = 0; j <= 20; j++) {
        const { at } = sheetAt(
          r.sheet,
          from[0] + (i / 20) * cells[0] * side[0],
          from[1] + (j / 20) * cells[1] * side[1],
        )
        const inner = i > 1 && i < 19 && j > 2 && j < 18
        // Past its ends it goes on along its tangents.
        expect(Math.abs(Math.hypot(at[0], at[2]) - 10)).toBeLessThan(inner ? 0.05 : 0.8)
        long = Math.max(long, at[1])
        if (inner) {
          const n = normalAt(r.sheet, from[0] + (i / 20) * cells[0] * side[0], from[1] + (j / 20) * cells[1] * side[1])
          expect((n[0] * at[0] + n[2] * at[2]) / 10).toBeGreaterThan(0.99)
        }
      }
    expect(long).toBeGreaterThan(31.5)
  })
  it('takes the noise of a scan as noise: smoother than its places, within three of its deviations', () => {
    let seed = 7
    const noise = () => {
      // Park & Miller 1988, summed: nearly normal.
      let s = -6
      for (let i = 0; i < 12; i++) {
        seed = (seed * 48271) % 2147483647
        s += seed / 2147483647
      }
      return 0.05 * s
    }
    const rough = grid(80, 50, (u, v) => [80 * u, 50 * v, 4 * u * u + noise()])
    const r = skinRegion(rough, all(rough), { ...plain, detail: { cells: 6 } })
    let worst = 0
    for (let i = 1; i < 20; i++)
      for (let j = 1; j < 12; j++) {
        const x = 4 * i
        const near = nearestOn(r.sheet, [x, 4 * j, 4 * (x / 80) ** 2], 0, 0, 40)
        worst = Math.max(worst, Math.abs(near.off))
      }
    expect(worst).toBeLessThan(0.05)
    const rms = Math.sqrt(r.off.reduce((s, d) => s + d * d, 0) / r.off.length)
    expect(rms).toBeGreaterThan(0.04)
    expect(rms).toBeLessThan(0.06)
  })
  it('is a sound sheet for the kernel, whole or trimmed to its rim, holes and all', async () => {
    const ball = sphere(20, 5)
    const up = (m: TriMesh, keep: (x: number, y: number, z: number) => boolean) =>
      all(m).filter((t) => {
        const c = [0, 1, 2].map((k) =>
          [0, 1, 2].reduce((s, i) => s + m.positions[3 * m.triangles[3 * t + i] + k] / 3, 0),
        )
        return keep(c[0], c[1], c[2])
      })
    const cap = up(ball, (_, __, z) => z > 8)
    const r = skinRegion(ball, cap, plain)
    const whole = await boundedBody(wholeSheet(r.sheet), 'The skin', 's', 0.02)
    if (!('body' in whole)) throw whole.why
    expect(whole.body.facts.faces).toBe(1)
    const trimmed = await boundedBody(trimmedSheet(r.sheet, r.rims), 'The skin', 's', 0.02)
    if (!('body' in trimmed)) throw trimmed.why
    // Archimedes: a cap of height h has 2 pi r h.
    expect(Math.abs(trimmed.body.facts.area / (2 * Math.PI * 20 * 12) - 1)).toBeLessThan(0.02)
    expect(whole.body.facts.area).toBeGreaterThan(trimmed.body.facts.area * 1.1)
    const holed = skinRegion(
      wave,
      up(wave, (x, y) => Math.hypot(x - 30, y - 20) > 8),
      plain,
    )
    expect(holed.rims).toHaveLength(2)
    const ring = await boundedBody(trimmedSheet(holed.sheet, holed.rims), 'The skin', 's', 0.02)
    if (!('body' in ring)) throw ring.why
    const full = await boundedBody(trimmedSheet(holed.sheet, holed.rims.slice(0, 1)), 'The skin', 's', 0.02)
    if (!('body' in full)) throw full.why
    expect(full.body.facts.area - ring.body.facts.area).toBeGreaterThan(Math.PI * 64 * 0.9)
  })
  it('tells what no sheet lies over', () => {
    const ball = sphere(10, 3)
    expect(() => skinRegion(ball, all(ball), plain)).toThrow(/whole closed skin/)
    expect(() => skinRegion(ball, [0], plain)).toThrow(/too small/)
    const halves = all(ball).filter((t) => Math.abs(ball.positions[3 * ball.triangles[3 * t] + 2]) > 6)
    expect(() => skinRegion(ball, halves, plain)).toThrow(/2 separate areas/)
    const round = grid(60, 20, (u, v) => [10 * Math.sin(2 * Math.PI * u), 30 * v, 10 * Math.cos(2 * Math.PI * u)])
    // Welded at its seam it is a tube that closes on itself.
    const seam = {
      positions: round.positions,
      triangles: round.triangles.map((v) => (v % 61 === 60 ? v - 60 : v)),
    }
    expect(() => skinRegion(seam, all(seam), plain)).toThrow(/laid flat/)
  })
})
