import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import { checkUp } from '@/core/mesh/check-up'
import { buildTopology } from '@/core/mesh/topology'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { triangleCount, vertex, type Bounds, type TriMesh } from '@/core/mesh/tri-mesh'
import { quiet, type Work } from '@/core/base/work'
import { contour } from './contour'
import { BlockGrid, type Field } from './field'
import { skinOf } from './skin-of'

/** A field by formula: `f` is below zero inside, and the distance or less of it everywhere. */
function byFormula(f: (x: number, y: number, z: number) => number): Field {
  const h = 1e-5
  return {
    level: 0,
    inside: (x, y, z) => f(x, y, z) < 0,
    distance: (x, y, z) => Math.abs(f(x, y, z)),
    slope(x, y, z, out) {
      out[0] = f(x + h, y, z) - f(x - h, y, z)
      out[1] = f(x, y + h, z) - f(x, y - h, z)
      out[2] = f(x, y, z + h) - f(x, y, z - h)
    },
  }
}
const ball = (r: number) => (x: number, y: number, z: number) => Math.hypot(x, y, z) - r
const ring = (R: number, r: number) => (x: number, y: number, z: number) => Math.hypot(Math.hypot(x, y) - R, z) - r
const block = (a: number) => (x: number, y: number, z: number) => Math.max(Math.abs(x), Math.abs(y), Math.abs(z)) - a
const within = (r: number): Bounds => ({ min: [-r, -r, -r], max: [r, r, r] })

function skin(field: Field, bounds: Bounds, step: number, sharp = true): TriMesh {
  const grid = new BlockGrid(field, bounds, step, quiet)
  grid.fill()
  return contour(field, grid, { sharp }, quiet).mesh
}
/** Vertices less edges plus faces: 2 for a ball, 0 for a ring. */
const euler = (m: TriMesh) => m.positions.length / 3 - buildTopology(m).edges + triangleCount(m)

describe('the contour of a field', () => {
  it('a ball: volume and area come nearer with the square of the step', () => {
    const errors = [1, 0.5, 0.25].map((step) => {
      const m = skin(byFormula(ball(8)), within(8), step, false)
      expect(euler(m)).toBe(2)
      expect(checkUp(m).facts).toMatchObject({ closed: true, flippedEdges: 0, insideOutPieces: 0 })
      return Math.abs(meshVolume(m) / ((4 / 3) * Math.PI * 512) - 1)
    })
    expect(errors[0]).toBeLessThan(0.02)
    expect(errors[1]).toBeLessThan(0.4 * errors[0])
    expect(errors[2]).toBeLessThan(0.4 * errors[1])
    expect(meshArea(skin(byFormula(ball(8)), within(8), 0.5)) / (4 * Math.PI * 64)).toBeCloseTo(1, 2)
  })
  it('a ring has a hole in it: 2 pi² R r² (Pappus)', () => {
    const m = skin(byFormula(ring(10, 4)), { min: [-14, -14, -4], max: [14, 14, 4] }, 0.5)
    expect(euler(m)).toBe(0)
    expect(meshVolume(m) / (2 * Math.PI ** 2 * 10 * 16)).toBeCloseTo(1, 2)
  })
  it('a block keeps its edges and corners where the slopes tell of them, and loses them where they are not asked', () => {
    const sharp = skin(byFormula(block(5)), within(5), 0.8),
      round = skin(byFormula(block(5)), within(5), 0.8, false)
    expect(Math.abs(meshVolume(sharp) - 1000)).toBeLessThan(0.2 * Math.abs(meshVolume(round) - 1000))
    const corners = Array.from({ length: sharp.positions.length / 3 }, (_, v) => vertex(sharp, v)).filter((p) =>
      p.every((c) => Math.abs(Math.abs(c) - 5) < 0.16),
    )
    expect(corners.length).toBeGreaterThanOrEqual(8)
  })
  it('two sheets in the same cells stay two', () => {
    // A gap of 0.55 mm between balls and a step of 0.5: both pass through the same cells.
    const two = (x: number, y: number, z: number) =>
      Math.min(Math.hypot(x - 4.275, y, z) - 4, Math.hypot(x + 4.275, y, z) - 4)
    const m = skin(byFormula(two), { min: [-8.5, -4, -4], max: [8.5, 4, 4] }, 0.5)
    expect(checkUp(m).facts).toMatchObject({ pieces: 2, closed: true, nonManifoldEdges: 0, nonManifoldVertices: 0 })
  })
  it('blobs at random come out closed, manifold, outward, whatever touches', () => {
    for (let seed = 1; seed <= 8; seed++) {
      const rng = random(seed)
      const blobs = Array.from({ length: 7 }, () => [
        10 * rng.next() - 5,
        10 * rng.next() - 5,
        10 * rng.next() - 5,
        1 + 2.5 * rng.next(),
      ])
      const holes = Array.from({ length: 3 }, () => [
        10 * rng.next() - 5,
        10 * rng.next() - 5,
        10 * rng.next() - 5,
        0.8 + rng.next(),
      ])
      const f = (x: number, y: number, z: number) =>
        Math.max(
          Math.min(...blobs.map(([a, b, c, r]) => Math.hypot(x - a, y - b, z - c) - r)),
          ...holes.map(([a, b, c, r]) => r - Math.hypot(x - a, y - b, z - c)),
        )
      const m = skin(byFormula(f), within(9), 0.45)
      expect(checkUp(m).facts).toMatchObject({
        closed: true,
        nonManifoldEdges: 0,
        nonManifoldVertices: 0,
        flippedEdges: 0,
      })
      expect(meshVolume(m)).toBeGreaterThan(10)
    }
  })
  it('the finished skin does not cross itself either, and vertices lie on the surface they are drawn to', () => {
    const f = ring(9, 3)
    const m = skinOf(
      byFormula(f),
      { min: [-12, -12, -3], max: [12, 12, 3] },
      0.6,
      {
        draw(x, y, z, out) {
          const l = Math.hypot(x, y),
            k = Math.hypot(l - 9, z)
          out[0] = (x / l) * (9 + (3 * (l - 9)) / k)
          out[1] = (y / l) * (9 + (3 * (l - 9)) / k)
          out[2] = (3 * z) / k
          return true
        },
      },
      quiet,
    )
    expect(checkUp(m).facts).toMatchObject({ closed: true, selfCrossings: 0, folded: 0 })
    for (let v = 0; v < m.positions.length / 3; v++) expect(Math.abs(f(...vertex(m, v)))).toBeLessThan(1e-5)
  })
  it('too fine a step is refused in a sentence; nothing inside gives nothing; a stop is heard', () => {
    expect(() => skinOf(byFormula(ball(8)), within(8), 0.001, {}, quiet)).toThrow(/longer edge|cells along this body/)
    expect(
      triangleCount(
        skin(
          byFormula((x, y, z) => 5 + Math.hypot(x, y, z)),
          within(3),
          0.5,
        ),
      ),
    ).toBe(0)
    const stop = new AbortController()
    stop.abort()
    const work: Work = { progress: () => {}, signal: stop.signal }
    expect(() => skinOf(byFormula(ball(8)), within(8), 0.3, {}, work)).toThrow()
  })
})
