import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import { normalize, sub } from '@/core/math/vec'
import { plateMesh } from '@/core/scan/shapes'
import { awkward, box, sphere, torus } from '@/testing/shapes'
import { MeshSearch } from './closest'
import { NearestInGrid, NearestPoints } from './nearest'

// Reference: the three-mesh-bvh library.
describe.each([
  ['sphere', sphere(10, 4)],
  ['ring', torus(10, 3, 40, 20)],
  ['large faces', box(30, 20, 10)],
  ['specks', awkward().specks],
  ['long needles', plateMesh(60, 40, 8, 3, 32)],
])('nearest points of %s', (_n, mesh) => {
  it.each([
    ['tree', new NearestPoints(mesh)],
    ['grid', new NearestInGrid(mesh)],
    ['coarse grid', new NearestInGrid(mesh, 4)],
  ])('%s agrees with a general library, near and far', (__, search) => {
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
  it('a ray passes through as many triangles as a general library finds, from inside and outside the grid', () => {
    const reference = new MeshSearch(mesh)
    const rng = random(8)
    for (const search of [new NearestInGrid(mesh), new NearestInGrid(mesh, 4)]) {
      let some = 0
      for (let i = 0; i < 300; i++) {
        const from = [
          (i % 2 ? 6 : 50) * rng.normal(),
          (i % 2 ? 6 : 50) * rng.normal(),
          (i % 2 ? 6 : 50) * rng.normal(),
        ] as const
        const to = [8 * rng.normal(), 8 * rng.normal(), 4 * rng.normal()] as const
        const d = normalize(
          i % 7
            ? sub(to, from)
            : (
                [
                  [1, 0, 0],
                  [0, -1, 0],
                  [0, 0, 1],
                ] as const
              )[i % 3],
        )
        const want = reference.all(from, d).length
        expect(search.crossings(from, d, () => true)).toBe(want)
        expect(search.crossings(from, d, () => false)).toBe(0)
        some += want
      }
      expect(some).toBeGreaterThan(20)
    }
  })
  it('nothing within reach is told', () => {
    const s = new NearestInGrid(mesh)
    expect(s.square(500, 0, 0, 1)).toBe(Infinity)
    expect(s.triangle).toBe(-1)
  })
})
