/** Heights of bicubics: what a cubic says they say, by closed forms; and the same surface in the form that bodies hold. */
import { describe, expect, it } from '@jest/globals'
import { solveBand } from '@/core/math/skyline'
import { random } from '@/core/math/random'
import { addScaled, cross, distance, dot, normalize, type Vec3 } from '@/core/math/vec'
import { fitCells, fitHeight } from './fit-height'
import { groundOver, heightAt, normalOfHeight, offHeight, splineOfHeight, type Ground } from './height'

const level: Ground = { at: [0, 0, 0], x: [1, 0, 0], y: [0, 1, 0], n: [0, 0, 1] }
const chance = random(4)
const scattered = (count: number, height: (x: number, y: number) => number) =>
  Array.from({ length: count }, () => {
    const [x, y] = [40 * chance.next(), 25 * chance.next()]
    return { at: [x, y, height(x, y)] as Vec3, weight: 1 }
  })

describe('systems near the diagonal', () => {
  it('are solved as the whole matrix is', () => {
    const [n, band] = [30, 4]
    const full = Array.from({ length: n }, () => new Array<number>(n).fill(0))
    for (let i = 0; i < n; i++)
      for (let j = Math.max(0, i - band); j <= i; j++) full[i][j] = full[j][i] = i === j ? 12 : chance.next() - 0.5
    const want = Array.from({ length: n }, () => chance.next())
    const a = new Float64Array(n * (band + 1))
    for (let i = 0; i < n; i++)
      for (let j = Math.max(0, i - band); j <= i; j++) a[i * (band + 1) + j - i + band] = full[i][j]
    const r = Float64Array.from(full, (row) => row.reduce((s, v, j) => s + v * want[j], 0))
    expect(solveBand(a, n, band, r)).toBe(true)
    r.forEach((v, i) => expect(v).toBeCloseTo(want[i], 12))
  })
  it('without an answer are told', () => {
    expect(solveBand(Float64Array.of(0, 1, 2, 1), 2, 1, new Float64Array(2))).toBe(false)
  })
})

describe('heights', () => {
  const cubic = (x: number, y: number) => 3 + 0.1 * x - 0.02 * y * y + 1e-3 * x * y * y - 4e-4 * x ** 3
  it('say a cubic exactly but for the little that bending weighs', () => {
    const h = fitCells(scattered(600, cubic), level, [40, 25], [3, 2])!
    for (const { at } of scattered(50, cubic)) {
      expect(heightAt(h, at[0], at[1]).height).toBeCloseTo(at[2], 2)
      expect(Math.abs(offHeight(h, at))).toBeLessThan(1e-3)
    }
  })
  it('slopes and normals are those of the surface', () => {
    const h = fitCells(
      scattered(600, (x, y) => 2 + x / 4 - y / 3),
      level,
      [40, 25],
      [4, 3],
    )!
    const { slope } = heightAt(h, 11, 7)
    expect(slope[0]).toBeCloseTo(1 / 4, 7)
    expect(slope[1]).toBeCloseTo(-1 / 3, 7)
    expect(distance(normalOfHeight(h, [11, 7, 0]), normalize([-1 / 4, 1 / 3, 1]))).toBeLessThan(1e-7)
  })
  it('get finer until places lie on them, and no finer', () => {
    const wave = (x: number, y: number) => 2 * Math.sin(x / 5) * Math.cos(y / 6)
    const rough = fitHeight(scattered(3000, wave), level, [40, 25], 0.1, 2000)!
    const fine = fitHeight(scattered(3000, wave), level, [40, 25], 0.002, 2000)!
    expect(rough.max).toBeLessThan(0.1)
    expect(fine.max).toBeLessThan(0.002)
    expect(fine.height.cells[0]).toBeGreaterThan(rough.height.cells[0])
    // What is asked of it is met by the coarsest that does.
    expect(
      fitHeight(
        scattered(3000, () => 1),
        level,
        [40, 25],
        1e-6,
        2000,
      )!.height.cells,
    ).toEqual([1, 1])
  })
  it('where there are no places run on smoothly', () => {
    const ring = scattered(2000, (x, y) => 0.01 * (x - 20) ** 2 + 0.02 * (y - 12) ** 2).filter(
      ({ at }) => Math.hypot(at[0] - 20, at[1] - 12) > 6,
    )
    const { height } = fitHeight(ring, level, [40, 25], 1e-3, 2000)!
    expect(Math.abs(heightAt(height, 20, 12).height)).toBeLessThan(0.05)
  })
})

describe('as bodies hold it', () => {
  it('control points over clamped knots give the same surface (de Boor), at the same parameters', () => {
    const h = fitCells(
      scattered(900, (x, y) => Math.sin(x / 4) + Math.cos(y / 3)),
      level,
      [40, 25],
      [5, 4],
    )!
    const s = splineOfHeight(h)
    const spread = (d: 0 | 1) => s.knots[d].flatMap((k, i) => new Array<number>(s.multiplicities[d][i]).fill(k))
    const [ku, kv] = [spread(0), spread(1)]
    const along = (points: readonly Vec3[], knots: readonly number[], t: number): Vec3 => {
      let span = 3
      while (span < points.length - 1 && t >= knots[span + 1]) span++
      const d = [0, 1, 2, 3].map((j) => points[span - 3 + j])
      for (let r = 1; r <= 3; r++)
        for (let j = 3; j >= r; j--) {
          const [low, high] = [knots[span - 3 + j], knots[span + 1 + j - r]]
          const a = (t - low) / (high - low)
          d[j] = addScaled([(1 - a) * d[j - 1][0], (1 - a) * d[j - 1][1], (1 - a) * d[j - 1][2]], d[j], a)
        }
      return d[3]
    }
    for (const [u, v] of [
      [0, 0],
      [39.9, 24.9],
      [3, 20],
      [17.2, 6.1],
      [31, 12.5],
    ]) {
      const p = along(
        s.poles.map((row) => along(row, kv, v)),
        ku,
        u,
      )
      expect(p[0]).toBeCloseTo(u, 9)
      expect(p[1]).toBeCloseTo(v, 9)
      expect(p[2]).toBeCloseTo(heightAt(h, u, v).height, 9)
    }
  })
  it('a rectangle over places: its longer side along x, everything inside, right-handed', () => {
    const points: Vec3[] = [
      [1, 2, 3],
      [9, 2, 3],
      [9, 22, 4],
      [1, 22, 5],
    ]
    const { ground, sides } = groundOver(points, [0, 0, 1], [1, 0, 0], 0.05)
    expect(Math.abs(dot(ground.x, [0, 1, 0]))).toBeCloseTo(1, 12)
    expect(distance(cross(ground.x, ground.y), ground.n)).toBeLessThan(1e-12)
    expect(sides[0]).toBeCloseTo(22, 9)
    for (const p of points) {
      const d: Vec3 = [p[0] - ground.at[0], p[1] - ground.at[1], p[2] - ground.at[2]]
      expect(dot(d, ground.x)).toBeGreaterThan(0)
      expect(dot(d, ground.x)).toBeLessThan(sides[0])
      expect(dot(d, ground.y)).toBeGreaterThan(0)
      expect(dot(d, ground.y)).toBeLessThan(sides[1])
    }
  })
})
