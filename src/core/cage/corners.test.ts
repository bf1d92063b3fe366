/** Normals of limit surfaces at rims and creases, by finer and finer quads of the same surface. */
import { describe, expect, it } from '@jest/globals'
import { cross, dot, normalize, sub, type Vec3 } from '@/core/math/vec'
import { nextInQuad, prevInQuad } from '@/core/mesh/quad-mesh'
import { limitPlaces, subdivide, type Cage } from '@/core/subdivision/subdivide'
import { placeAt } from '@/core/mesh/tri-mesh'
import { limitFrame, limitNormal } from './corners'
import { smoothBody } from './smooth-body'
import { mostly } from '@/testing/long'

/** Quads in a half circle round a rim vertex, one alone in a quarter, with more rings about them; bent by a formula. */
function fan(k: number, rings: number, height: (x: number, y: number) => number, at: Vec3 = [0, 0, 0]): Cage {
  const n = rings
  const places: number[] = []
  const number = new Map<string, number>()
  const vertex = (x: number, y: number): number => {
    const key = `${x.toFixed(6)} ${y.toFixed(6)}`
    let v = number.get(key)
    if (v === undefined) {
      number.set(key, (v = number.size))
      places.push(at[0] + x, at[1] + y, at[2] + height(x, y))
    }
    return v
  }
  const quads: number[] = []
  for (let s = 0; s < k; s++) {
    const wide = Math.PI / Math.max(2, k)
    const [a, b] = [s * wide, (s + 1) * wide]
    const p = (i: number, j: number) => vertex(i * Math.cos(a) + j * Math.cos(b), i * Math.sin(a) + j * Math.sin(b))
    for (let j = 0; j < n; j++)
      for (let i = 0; i < n; i++) quads.push(p(i, j), p(i + 1, j), p(i + 1, j + 1), p(i, j + 1))
  }
  return {
    positions: Float64Array.from(places),
    quads: Uint32Array.from(quads),
    creases: new Map(),
    corners: new Map(),
  }
}
const bowl = (x: number, y: number) => 0.1 * x * x - 0.15 * x * y + 0.08 * y * y + 0.2 * y

describe('the normal at a rim, between the creases of a sector', () => {
  it.each(mostly([1, 2, 3, 4, 5], (k) => k < 3))('of %i quads is that of the surface, wherever it lies', (k) => {
    for (const at of [
      [0, 0, 0],
      [300, -200, 500],
    ] as Vec3[]) {
      const cage = fan(k, 3, bowl, at)
      const f = limitFrame(cage)
      const h = cage.quads.indexOf(0)
      const told = limitNormal(f, h)!
      // Of quads that are 4^6 times smaller, those at the vertex lie in its plane.
      let fine = cage
      for (let s = 0; s < 6; s++) fine = subdivide(fine)
      const limit = limitPlaces(fine)
      // Inner edges come to leave ever more alike there: the rim against their mean tells the plane.
      const beside = new Set<number>()
      for (let g = 0; g < fine.quads.length; g++)
        if (fine.quads[g] === 0) beside.add(fine.quads[nextInQuad(g)]).add(fine.quads[prevInQuad(g)])
      const ways = [...beside].map((v) => sub(placeAt(limit, v), placeAt(limit, 0)))
      const round = (w: Vec3) => Math.atan2(w[1], w[0])
      ways.sort((a, b) => round(a) - round(b))
      const across = k === 1 ? ways[1] : ways.slice(1, -1).reduce((a, b) => [a[0] + b[0], a[1] + b[1], a[2] + b[2]])
      const normal = normalize(cross(k === 1 ? ways[0] : sub(ways[0], ways[k]), across))
      expect(ways.length).toBe(k + 1)
      expect(Math.abs(dot(normal, told))).toBeGreaterThan(Math.cos((1 * Math.PI) / 180))
    }
  })
})

describe('smooth bodies', () => {
  it.each([3, 4])('are smooth across the edges at a rim vertex of %i quads', (k) => {
    expect(smoothBody(fan(k, 4, bowl)).worstAngle).toBeLessThan(1)
  })
  it('hang on no place of the model', () => {
    const [here, there] = [smoothBody(fan(3, 4, bowl)), smoothBody(fan(3, 4, bowl, [400, 200, -300]))]
    expect(there.worstAngle).toBeCloseTo(here.worstAngle, 3)
  })
  it('do not ripple where they are nearly flat', () => {
    // An inner vertex of five quads on a skin that hardly bends: slopes that do not quite suit must not turn into folds.
    const net = fan(3, 4, (x, y) => 0.004 * Math.sin(1.3 * x + 0.4) * Math.cos(0.9 * y))
    expect(smoothBody(net).worstAngle).toBeLessThan(0.2)
  })
})
