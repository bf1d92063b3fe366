import { describe, expect, it } from '@jest/globals'
import { limitSkin } from '@/core/kinds/cage'
import { meshVolume } from '@/core/mesh/measures'
import { type TriMesh } from '@/core/mesh/tri-mesh'
import { cageTopology, type Cage } from '@/core/subdivision/subdivide'
import { sphere } from '@/testing/shapes'
import { layOn } from './lay-on'
import { cageBlock, cageCylinder, cageSheet, cageSphere } from './shapes'

const closed = (c: Cage) => cageTopology(c).twin.every((t) => t >= 0)
const radii = ({ positions: p }: TriMesh) =>
  Array.from({ length: p.length / 3 }, (_, v) => Math.hypot(p[3 * v], p[3 * v + 1], p[3 * v + 2]))

describe('plain shapes as cages', () => {
  it('a block with sharp edges is the block', () => {
    const c = cageBlock([40, 30, 20], [4, 3, 2], true)
    expect(closed(c)).toBe(true)
    expect(c.creases.size).toBe(4 * (4 + 3 + 2))
    expect(meshVolume(limitSkin(c).mesh)).toBeCloseTo(24_000, 1)
    expect(meshVolume(limitSkin(cageBlock([40, 30, 20], [4, 3, 2], false)).mesh)).toBeLessThan(23_500)
  })
  it('a sphere of 4 by 4 faces a side lies within three thousandths of its radius', () => {
    const c = cageSphere(15, 4)
    expect(closed(c)).toBe(true)
    for (const r of radii(limitSkin(c).mesh)) expect(Math.abs(r - 15)).toBeLessThan(0.045)
  })
  it('a cylinder has its volume and flat ends', () => {
    const c = cageCylinder(10, 30, 24, 3)
    expect(closed(c)).toBe(true)
    const skin = limitSkin(c).mesh
    expect(Math.abs(meshVolume(skin) / (Math.PI * 3000) - 1)).toBeLessThan(0.005)
    let [low, high] = [Infinity, -Infinity]
    for (let o = 2; o < skin.positions.length; o += 3) {
      low = Math.min(low, skin.positions[o])
      high = Math.max(high, skin.positions[o])
    }
    expect([low, high]).toEqual([0, 30])
  })
  it('a flat sheet is flat and faces up', () => {
    const c = cageSheet(40, 30, 4, 3)
    expect(c.quads.length / 4).toBe(12)
    const { positions: p } = limitSkin(c).mesh
    for (let o = 2; o < p.length; o += 3) expect(p[o]).toBe(0)
  })
})

describe('a sheet laid on a skin', () => {
  const ball = sphere(20, 6)
  const choice = { at: [0, 0, 30], normal: [0, 0, 1], x: [1, 0, 0], width: 24, depth: 20, columns: 8, rows: 6 } as const
  it('runs through the near side of a sphere, within its facets', () => {
    const { cage, missed } = layOn(ball, choice)
    expect(missed).toBe(0)
    const skin = limitSkin(cage).mesh
    // The facets of the ball lie up to 0.3 % inside it.
    for (const r of radii(skin)) expect(Math.abs(r - 20)).toBeLessThan(0.12)
    for (let o = 2; o < skin.positions.length; o += 3) expect(skin.positions[o]).toBeGreaterThan(5)
  })
  it('places beside it come to its edge and are counted; one that meets nothing is told', () => {
    expect(layOn(ball, { ...choice, width: 60 }).missed).toBeGreaterThan(10)
    expect(() => layOn(ball, { ...choice, at: [200, 0, 0] })).toThrow(/over no part/)
  })
})
