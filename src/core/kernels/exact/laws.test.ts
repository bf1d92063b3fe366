/** Laws of the exact kernel over bodies by chance: closed forms of primitives, booleans that add up, moves, facets that close in. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { compose, rotation, scaling, translation } from '@/core/math/affine'
import { meshVolume } from '@/core/mesh/measures'
import { buildTopology } from '@/core/mesh/topology'
import type { Vec3 } from '@/core/math/vec'
import { perpendicular } from '@/core/math/vec'
import { anyDirection, anyMove, fewRuns } from '@/testing/small-bodies'
import { combineSolids, solidDistance } from './boolean'
import { holeProfile, makeHoleCutter } from './hole-cutter'
import { makeBlock, makeCone, makeCylinder, makeRing, makeSphere } from './primitives'
import { shellBody } from './shell'
import { transformSolid } from './transform'
import { facetSolid } from './triangles'

const size = fc.integer({ min: 4, max: 40 }).map((v) => v / 4)
const coordinate = fc.integer({ min: -20, max: 20 }).map((v) => v / 4)
const place = fc.tuple(coordinate, coordinate, coordinate)
const { PI } = Math

describe('primitives, wherever they stand', () => {
  it('have the volume and area of their closed forms', async () => {
    await fc.assert(
      fc.asyncProperty(size, size, size, place, anyDirection, async (a, b, c, at, axis) => {
        const x = perpendicular(axis)
        const block = await makeBlock([a, b, c], at, axis, x)
        expect(block.facts.volume).toBeCloseTo(a * b * c, 6)
        expect(block.facts.area).toBeCloseTo(2 * (a * b + b * c + c * a), 6)
        const rod = await makeCylinder(a, b, at, axis)
        expect(rod.facts.volume).toBeCloseTo(PI * a * a * b, 5)
        expect(rod.facts.area).toBeCloseTo(2 * PI * a * (a + b), 5)
        const cone = await makeCone(a + c, c, b, at, axis)
        expect(cone.facts.volume).toBeCloseTo(((PI * b) / 3) * ((a + c) ** 2 + (a + c) * c + c * c), 4)
        const tip = await makeCone(a, 0, b, at, axis)
        expect(tip.facts.volume).toBeCloseTo((PI * a * a * b) / 3, 5)
        expect(tip.facts.faces).toBe(2)
        const ball = await makeSphere(a, at)
        expect([ball.facts.volume, ball.facts.area].map((v) => v.toPrecision(8))).toEqual(
          [(4 / 3) * PI * a ** 3, 4 * PI * a * a].map((v) => v.toPrecision(8)),
        )
        const ring = await makeRing(a + c, a / 2, at, axis)
        expect(ring.facts.volume / (2 * PI ** 2 * (a + c) * (a / 2) ** 2)).toBeCloseTo(1, 6)
        for (const body of [block, rod, cone, tip, ball, ring])
          expect([body.facts.valid, body.facts.closed, body.facts.pieces]).toEqual([true, true, 1])
      }),
      fewRuns(6),
    )
  })
  it('have their centre of mass where they stand', async () => {
    const rod = await makeCylinder(3, 8, [1, 2, 3], [0, 0, 1])
    ;[1, 2, 7].forEach((v, k) => expect(rod.facts.centre![k]).toBeCloseTo(v, 6))
    // A quarter of its height over the base (Archimedes).
    const cone = await makeCone(3, 0, 8, [1, 2, 3], [0, 0, 1])
    expect(cone.facts.centre![2]).toBeCloseTo(3 + 2, 6)
  })
})

describe('booleans', () => {
  it('union and intersection are the sum, difference and intersection the first', async () => {
    await fc.assert(
      fc.asyncProperty(size, size, coordinate, anyDirection, async (a, r, off, axis) => {
        const block = await makeBlock([a + 4, a + 3, a + 2], [-3, -3, -3], [0, 0, 1], [1, 0, 0])
        const rod = await makeCylinder(r / 4 + 0.5, 9, [off / 4, 0.37, -1.21], axis)
        const [union, both, rest] = await Promise.all(
          (['union', 'intersection', 'difference'] as const).map((k) => combineSolids(k, [block, rod])),
        )
        const sum = block.facts.volume + rod.facts.volume
        expect((union.facts.volume + both.facts.volume) / sum).toBeCloseTo(1, 7)
        expect((rest.facts.volume + both.facts.volume) / block.facts.volume).toBeCloseTo(1, 7)
        expect(both.facts.volume).toBeLessThanOrEqual(Math.min(block.facts.volume, rod.facts.volume) + 1e-6)
      }),
      fewRuns(4),
    )
  })
  // pi h^2 (3 r - h) / 3 for each cap of height h; along x the cut runs over the seam of one of the balls.
  it.each([
    ['x', [1, 0, 0]],
    ['y', [0, 1, 0]],
    ['z', [0, 0, 1]],
    ['no axis', [0.6, 0.8, 0]],
  ] as const)('two balls beside each other along %s share the lens of two caps', async (_, way) => {
    const balls = await Promise.all([-1.5, 1.5].map((d) => makeSphere(4, [d * way[0], d * way[1], d * way[2]])))
    const h = 4 - 1.5
    const lens = (2 * PI * h * h * (12 - h)) / 3
    expect((await combineSolids('intersection', balls)).facts.volume / lens).toBeCloseTo(1, 6)
    const both = balls[0].facts.volume + balls[1].facts.volume
    expect((await combineSolids('union', balls)).facts.volume / (both - lens)).toBeCloseTo(1, 6)
    for (const pair of [balls, [...balls].reverse()])
      expect((await combineSolids('difference', pair)).facts.volume / (both / 2 - lens)).toBeCloseTo(1, 6)
  })
  it('the distance of two balls is that of their middles less both radii, and nought where they meet', async () => {
    const a = await makeSphere(2, [0, 0, 0])
    expect(await solidDistance(a, await makeSphere(1, [3, 4, 0]))).toBeCloseTo(2, 6)
    expect(await solidDistance(a, await makeSphere(1, [2, 0, 0]))).toBeCloseTo(0, 6)
  })
})

describe('moves', () => {
  it('keep volume, area and names; a scaling takes the cube and the square of its factor', async () => {
    const block = await makeBlock([4, 5, 6], [1, 2, 3], [0, 0, 1], [1, 0, 0], 'b')
    await fc.assert(
      fc.asyncProperty(anyMove, fc.integer({ min: 2, max: 30 }), async (move, tenths) => {
        const moved = await transformSolid(block, move)
        expect(moved.facts.volume).toBeCloseTo(120, 6)
        expect(moved.facts.area).toBeCloseTo(148, 6)
        expect(moved.parts.faces.map((f) => f.name).sort()).toEqual(block.parts.faces.map((f) => f.name).sort())
        const scaled = await transformSolid(block, compose(move, scaling(tenths / 10)))
        expect(scaled.facts.volume).toBeCloseTo(120 * (tenths / 10) ** 3, 4)
        expect(scaled.facts.area).toBeCloseTo(148 * (tenths / 10) ** 2, 4)
      }),
      fewRuns(5),
    )
  })
  it('there and back is where it was', async () => {
    const rod = await makeCylinder(2, 5, [1, 2, 3], [0, 0, 1])
    const there = await transformSolid(rod, compose(translation([7, -3, 2]), rotation([0, 0, 1], 90)))
    const back = await transformSolid(there, compose(rotation([0, 0, 1], -90), translation([-7, 3, -2])))
    back.facts.min.forEach((v, k) => expect(v).toBeCloseTo(rod.facts.min[k], 6))
  })
})

describe('facets', () => {
  it('are closed, lie within the tolerance, and come nearer the volume as its square', async () => {
    const ball = await makeSphere(5, [1, 2, 3])
    const off = async (chord: number) => {
      const { mesh } = await facetSolid(ball, chord)
      expect(buildTopology(mesh).openEdges).toBe(0)
      for (let v = 0; v < mesh.positions.length; v += 3) {
        const r = Math.hypot(...[1, 2, 3].map((c, k) => mesh.positions[v + k] - c))
        expect(Math.abs(r - 5)).toBeLessThan(1e-5)
      }
      const t = mesh.triangles
      // The middle of a triangle is the deepest place of a facet.
      for (let i = 0; i < t.length; i += 3) {
        const m = [0, 1, 2].map(
          (k) =>
            (mesh.positions[3 * t[i] + k] + mesh.positions[3 * t[i + 1] + k] + mesh.positions[3 * t[i + 2] + k]) / 3 -
            [1, 2, 3][k],
        )
        expect(5 - Math.hypot(...m)).toBeLessThan(1.5 * chord)
      }
      return 1 - meshVolume(mesh) / ((4 / 3) * PI * 125)
    }
    const [coarse, fine] = [await off(0.1), await off(0.01)]
    expect(coarse).toBeGreaterThan(0)
    expect(fine).toBeLessThan(0.2 * coarse)
  })
})

describe('shells and holes', () => {
  it('a shell is what lies between the body and the body less its wall', async () => {
    const block = await makeBlock([10, 8, 6], [0, 0, 0], [0, 0, 1], [1, 0, 0], 'b')
    const top = block.parts.faces.findIndex((f) => f.name === 'b/top')
    const inward = await shellBody(block, [top], 1, false)
    expect(inward.facts.volume).toBeCloseTo(480 - 8 * 6 * 5, 6)
    const outward = await shellBody(block, [top], 1, true)
    // Whatever its outer corners are, it holds the body within.
    expect(outward.facts.volume).toBeGreaterThan(2 * (10 + 8) * 6 + 80)
  })
  it('a cutter takes the cylinder, the head and the point of its drill', async () => {
    const hole = (more: object) =>
      makeHoleCutter(
        { diameter: 4, depth: 10, above: 1, head: { sort: 'none' }, ...more } as never,
        [0, 0, 0],
        [0, 0, -1] as Vec3,
        'h',
      )
    expect((await hole({})).facts.volume).toBeCloseTo(PI * 4 * 11, 6)
    expect((await hole({ tip: 118 })).facts.volume).toBeCloseTo(
      PI * 4 * 11 + (PI * 4 * (2 / Math.tan((59 * PI) / 180))) / 3,
      6,
    )
    const bore = await hole({ head: { sort: 'counterbore', diameter: 8, depth: 3 } })
    expect(bore.facts.volume).toBeCloseTo(PI * 16 * 4 + PI * 4 * 7, 6)
    // A frustum of 2 mm between radii 4 and 2, with its mouth above.
    const sink = await hole({ head: { sort: 'countersink', diameter: 8, angle: 90 } })
    expect(sink.facts.volume).toBeCloseTo(PI * 16 + ((PI * 2) / 3) * (16 + 8 + 4) + PI * 4 * 8, 6)
  })
  it('heads that are no heads are refused', () => {
    const form = { diameter: 4, depth: 2, above: 1 }
    for (const head of [
      { sort: 'counterbore', diameter: 4, depth: 1 },
      { sort: 'counterbore', diameter: 8, depth: 2 },
      { sort: 'countersink', diameter: 9, angle: 90 },
    ] as const)
      expect(() => holeProfile({ ...form, head })).toThrow(expect.objectContaining({ code: 'bad-head' }))
  })
})
