/** Proofs that results are asked for: they are silent on what is right, and speak of what is not, with its figures. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import type { QuadMesh } from '@/core/mesh/quad-mesh'
import { box, cylinder, sphere } from '@/testing/shapes'
import { bulgeOf } from './bulge'
import { facetsDisagree } from './facets-agree'
import { quadFaults, quadFaultWords, scaledJacobians } from './quad-faults'
import { stepAt, tooCoarse } from './single-precision'

/** A flat net of n by n squares of 1 mm, bent by `height`. */
const sheet = (n: number, height: (x: number, y: number) => number = () => 0): QuadMesh => {
  const positions = new Float32Array(3 * (n + 1) ** 2)
  for (let i = 0; i <= n; i++) for (let j = 0; j <= n; j++) positions.set([i, j, height(i, j)], 3 * (i * (n + 1) + j))
  const quads: number[] = []
  const at = (i: number, j: number) => i * (n + 1) + j
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++) quads.push(at(i, j), at(i + 1, j), at(i + 1, j + 1), at(i, j + 1))
  return { positions, quads: Uint32Array.from(quads) }
}
const moved = ({ positions, quads }: QuadMesh, v: number, to: readonly number[]): QuadMesh => {
  const next = positions.slice()
  next.set(to, 3 * v)
  return { positions: next, quads }
}

describe('nets of quads', () => {
  it('squares have a Jacobian of 1, a rhombus the sine of its angle, a dart less than 0, wherever they lie', () => {
    fc.assert(
      fc.property(fc.integer({ min: 5, max: 175 }), fc.integer({ min: 1, max: 90 }), (angle, size) => {
        const a = (angle * Math.PI) / 180
        const [c, s] = [size * Math.cos(a), size * Math.sin(a)]
        const rhombus = {
          positions: Float32Array.of(0, 0, 0, size, 0, 0, size + c, s, 0, c, s, 0),
          quads: Uint32Array.of(0, 1, 2, 3),
        }
        expect(scaledJacobians(rhombus)[0]).toBeCloseTo(Math.sin(a), 4)
      }),
    )
    expect([...scaledJacobians(sheet(3))].every((j) => Math.abs(j - 1) < 1e-6)).toBe(true)
    const dart = { positions: Float32Array.of(0, 0, 0, 4, 1, 0, 1, 1, 0, 1, 4, 0), quads: Uint32Array.of(0, 1, 2, 3) }
    expect(scaledJacobians(dart)[0]).toBeLessThan(0)
  })
  it('a sound net has no fault, flat, bent or mirrored', () => {
    for (const net of [sheet(4), sheet(6, (x, y) => Math.sin(x) + y / 3)]) {
      expect(quadFaults(net)).toMatchObject({ folded: [], pinched: [], crossing: [], coincident: 0 })
      expect(quadFaultWords(quadFaults(net))).toBe('')
    }
  })
  it('a corner drawn over its neighbours folds, one on its neighbour pinches and coincides, a flap crosses', () => {
    const net = sheet(4)
    // The middle corner (12) beyond the far side of the quads before it.
    const folded = quadFaults(moved(net, 12, [0.2, 0.3, 0]))
    expect(folded.folded.length).toBeGreaterThan(0)
    expect(folded.worst).toBeLessThan(0)
    const pinched = quadFaults(moved(net, 12, [2, 1, 0]))
    expect(pinched.coincident).toBe(1)
    expect(pinched.folded.length + pinched.pinched.length).toBeGreaterThan(0)
    expect(quadFaultWords(pinched)).toMatch(/1 corner in the place of another/)
    const two = sheet(2)
    const both: QuadMesh = {
      positions: Float32Array.from([...two.positions, ...[0.5, 0.5, -1, 1.5, 0.5, -1, 1.5, 0.6, 1, 0.5, 0.6, 1]]),
      quads: Uint32Array.from([...two.quads, 9, 10, 11, 12]),
    }
    const crossing = quadFaults(both)
    expect(crossing.crossing).toContain(4)
    expect(crossing.crossing.length).toBeGreaterThan(1)
    expect(crossing.folded).toEqual([])
  })
})

describe('exact figures and facets', () => {
  const ball = { volume: (4 / 3) * Math.PI * 1000, area: 400 * Math.PI }
  it('agree when they differ by what the chord allows, and not beyond', () => {
    const inside = { volume: ball.volume - 0.05 * ball.area, area: ball.area * 0.99 }
    expect(facetsDisagree(ball, inside, 0.05)).toBeNull()
    expect(facetsDisagree({ ...ball, volume: 1.1 * ball.volume }, inside, 0.05)).toMatch(
      /4607\.\d+ mm³, by its facets 41\d\d/,
    )
    expect(facetsDisagree({ ...ball, volume: 0.9 * ball.volume }, inside, 0.05)).toMatch(/volume/)
    expect(facetsDisagree(ball, { ...inside, area: 1.1 * ball.area }, 0.05)).toMatch(/its area is 1256\.637 mm²/)
  })
  it('of open bodies are their areas alone', () => {
    expect(facetsDisagree({ volume: 0, area: 100 }, { volume: 55, area: 99 }, 0.01)).toBeNull()
    expect(facetsDisagree({ volume: 0, area: 100 }, { volume: 55, area: 90 }, 0.01)).toMatch(/area/)
  })
})

describe('single precision', () => {
  it('has the step of its format at any distance', () => {
    fc.assert(
      fc.property(fc.double({ min: 1e-3, max: 1e7, noNaN: true }), (v) => {
        const f = Math.fround(v)
        const bits = new Uint32Array(Float32Array.of(f).buffer)
        bits[0]++
        expect(stepAt(f)).toBe(new Float32Array(bits.buffer)[0] - f)
      }),
    )
  })
  it('is too coarse far out, not at home, and not for what is large itself', () => {
    expect(tooCoarse([0, 0, 0], [100, 50, 20], 0.5)).toBeNull()
    expect(tooCoarse([200_000, 0, 0], [100, 50, 20], 50)).toBeGreaterThan(0.01)
    expect(tooCoarse([0, 0, -20_000], [10, 5, 2], 0.5)).toBeGreaterThan(0.0005)
    expect(tooCoarse([0, 0, -20_000], [10, 5, 2], 100)).toBeNull()
    expect(tooCoarse([-5e5, -5e5, 0], [1e6, 1e6, 10], 0.1)).toBeNull()
  })
})

describe('the bulge over facets', () => {
  it.each([12, 24, 48, 96])('of a rod of %d sides is the sagitta of its arcs', (sides) => {
    const rod = cylinder(10, 30, sides)
    expect(bulgeOf(rod)).toBeCloseTo(10 * (1 - Math.cos(Math.PI / sides)), 1.2)
    expect(bulgeOf(rod) / (10 * (1 - Math.cos(Math.PI / sides)))).toBeCloseTo(1, 0.5)
  })
  it.each([2, 3, 4])('of a ball, %d times divided, is what its facets lie within it', (n) => {
    // How deep the middle of the largest facet lies.
    const { positions: p, triangles: k } = sphere(10, n)
    let deep = 0
    for (let t = 0; t < k.length; t += 3) {
      const m = [0, 1, 2].map((d) => (p[3 * k[t] + d] + p[3 * k[t + 1] + d] + p[3 * k[t + 2] + d]) / 3)
      deep = Math.max(deep, 10 - Math.hypot(...m))
    }
    expect(bulgeOf({ positions: p, triangles: k }) / deep).toBeGreaterThan(0.8)
    expect(bulgeOf({ positions: p, triangles: k }) / deep).toBeLessThan(2)
  })
  it('of a block is nought: its edges are edges', () => {
    expect(bulgeOf(box(30, 20, 10))).toBe(0)
  })
})
