/** Catmull-Clark surfaces against values that are known in closed form (Halstead, Kass & DeRose 1993, masks; the rest derived from them). */
import { describe, expect, it } from '@jest/globals'
import { edgeKey } from '@/core/mesh/edge-key'
import { trianglesOfQuads } from '@/core/mesh/quad-mesh'
import { meshVolume } from '@/core/mesh/measures'
import { limitPlaces, subdivide, type Cage } from './subdivide'

/** A cube of side 2 about 0. */
const cube = (creases: ReadonlyMap<number, number> = new Map<number, number>()): Cage => ({
  positions: Float64Array.from([-1, -1, -1, 1, -1, -1, 1, 1, -1, -1, 1, -1, -1, -1, 1, 1, -1, 1, 1, 1, 1, -1, 1, 1]),
  quads: Uint32Array.from([3, 2, 1, 0, 4, 5, 6, 7, 0, 1, 5, 4, 1, 2, 6, 5, 2, 3, 7, 6, 3, 0, 4, 7]),
  creases,
  corners: new Map<number, number>(),
})
const times = (cage: Cage, steps: number): Cage => (steps ? times(subdivide(cage), steps - 1) : cage)
const volumeOf = (cage: Cage, p: Float64Array) =>
  meshVolume(trianglesOfQuads({ positions: Float32Array.from(p), quads: cage.quads }))
const allEdges = (s: number) => {
  const { quads } = cube()
  const out = new Map<number, number>()
  for (let h = 0; h < quads.length; h++) out.set(edgeKey(quads[h], quads[h % 4 === 3 ? h - 3 : h + 1]), s)
  return out
}

describe('the limit of a cube of side 2', () => {
  it('comes to 1/2 at its corners and to 68/81 in the middle of its faces', () => {
    const p = limitPlaces(cube())
    p.forEach((x) => expect(Math.abs(x)).toBeCloseTo(1 / 2, 12))
    const one = subdivide(cube())
    const q = limitPlaces(one)
    // Points of faces come last.
    for (let v = one.positions.length / 3 - 6; v < one.positions.length / 3; v++)
      expect(Math.hypot(q[3 * v], q[3 * v + 1], q[3 * v + 2])).toBeCloseTo(68 / 81, 12)
  })
  it('holds 2.6204187', () => {
    // Chords fall short by a quarter of what they do a step before: extrapolated (Richardson 1911).
    const [a, b] = [5, 6].map((steps) => {
      const fine = times(cube(), steps)
      return volumeOf(fine, limitPlaces(fine))
    })
    expect((4 * b - a) / 3).toBeCloseTo(2.6204187, 4)
  })
  it('is the cube where all edges stay sharp', () => {
    const fine = times(cube(allEdges(Infinity)), 3)
    expect(volumeOf(fine, limitPlaces(fine))).toBeCloseTo(8, 6)
  })
  it('lies between where they stay sharp for some steps', () => {
    const volumes = [0, 0.5, 1, 2, 3].map((s) => {
      const fine = times(cube(allEdges(s)), 4)
      return volumeOf(fine, limitPlaces(fine))
    })
    volumes.slice(1).forEach((v, i) => expect(v).toBeGreaterThan(volumes[i]))
    expect(volumes.at(-1)!).toBeLessThan(8)
  })
})

describe('an open cage', () => {
  it('of 3 x 3 level quads stays level, its rim the cubic spline of its points, its corners where they are', () => {
    const positions: number[] = []
    for (let j = 0; j < 4; j++) for (let i = 0; i < 4; i++) positions.push(i, j, 0)
    const quads: number[] = []
    for (let j = 0; j < 3; j++)
      for (let i = 0; i < 3; i++) quads.push(4 * j + i, 4 * j + i + 1, 4 * j + i + 5, 4 * j + i + 4)
    const cage: Cage = {
      positions: Float64Array.from(positions),
      quads: Uint32Array.from(quads),
      creases: new Map(),
      corners: new Map(),
    }
    const p = limitPlaces(times(cage, 2))
    for (let v = 0; v < p.length; v += 3) expect(p[v + 2]).toBe(0)
    const limit = limitPlaces(cage)
    expect([...limit.subarray(0, 3)]).toEqual([0, 0, 0])
    expect([...limit.subarray(3, 6)].map((v) => Number(v.toFixed(12)))).toEqual([1, 0, 0])
  })
})
