import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import { awkward, box, sphere, torus } from '@/testing/shapes'
import { MeshSearch } from './closest'
import { NearestInGrid, NearestPoints } from './nearest'

// Reference: the three-mesh-bvh library.
describe.each([['sphere', sphere(10, 4)], ['ring', torus(10, 3, 40, 20)], ['large faces', box(30, 20, 10)], ['specks', awkward().specks]])('nearest points of %s', (_n, mesh) => {
  it.each([['tree', new NearestPoints(mesh)], ['grid', new NearestInGrid(mesh)], ['coarse grid', new NearestInGrid(mesh, 4)]])('%s agrees with a general library, near and far', (__, search) => {
    const reference = new MeshSearch(mesh)
    const rng = random(6)
    for (let i = 0; i < 400; i++) {
      const spread = i % 2 ? 8 : 60
      const p = [spread * rng.normal(), spread * rng.normal(), spread * rng.normal()] as const
      const want = reference.nearest(p)!.distance
      expect(search.distance(p)).toBeCloseTo(want, 4)
      expect(Math.hypot(search.x - p[0], search.y - p[1], search.z - p[2])).toBeCloseTo(want, 4)
      expect(search.triangle).toBeGreaterThanOrEqual(0)
    }
  })
  it('nothing within reach is told', () => {
    const s = new NearestInGrid(mesh)
    expect(s.square(500, 0, 0, 1)).toBe(Infinity)
    expect(s.triangle).toBe(-1)
  })
})
