/** Skins for a look: few triangles, the same shape, kept while the mesh is. */
import { describe, expect, it } from '@jest/globals'
import { buildTopology } from '@/core/mesh/topology'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { diagonal, meshBounds, triangleCount } from '@/core/mesh/tri-mesh'
import { deviation } from '@/core/gauge/deviation'
import { box, sheet, sphere, torus } from '@/testing/shapes'
import { roughSkin } from './rough-skin'

describe('a skin for a look', () => {
  it('of a fine ring is brought down, stays closed, and lies near it', async () => {
    const fine = torus(20, 6, 240, 90)
    const few = await roughSkin(fine)
    expect(triangleCount(few)).toBeLessThan(0.6 * triangleCount(fine))
    const t = buildTopology(few)
    expect([t.openEdges, t.nonManifoldEdges]).toEqual([0, 0])
    expect(deviation(few, fine).both.max).toBeLessThan(2e-3 * diagonal(meshBounds(fine)))
    expect(meshVolume(few) / meshVolume(fine)).toBeCloseTo(1, 3)
  })
  it('of an open sheet keeps its rim', async () => {
    const fine = sheet(40, 120, (x, y) => 2 * Math.sin(x / 5) * Math.cos(y / 7))
    const few = await roughSkin(fine)
    expect(triangleCount(few)).toBeLessThan(triangleCount(fine))
    expect(buildTopology(few).openEdges).toBeLessThanOrEqual(buildTopology(fine).openEdges)
    expect(meshArea(few) / meshArea(fine)).toBeCloseTo(1, 2)
    for (let k = 0; k < 3; k++) expect(meshBounds(few).max[k]).toBeCloseTo(meshBounds(fine).max[k], 1)
  })
  it('of few triangles is all of them, long edges divided', async () => {
    const few = await roughSkin(box(30, 20, 10))
    expect(meshVolume(few)).toBeCloseTo(30 * 20 * 10, 2)
    const { positions: p, triangles: k } = few
    const longest = 1.0001 * (Math.hypot(30, 20, 10) / 20)
    for (let h = 0; h < k.length; h++) {
      const [a, b] = [3 * k[h], 3 * k[h % 3 === 2 ? h - 2 : h + 1]]
      expect(Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2])).toBeLessThanOrEqual(longest)
    }
  })
  it('is made once for a mesh, and anew for another of the same shape', async () => {
    const [one, other] = [sphere(10, 4), sphere(10, 4)]
    expect(await roughSkin(one)).toBe(await roughSkin(one))
    expect(await roughSkin(other)).not.toBe(await roughSkin(one))
    expect(await roughSkin(other)).toEqual(await roughSkin(one))
  })
})
