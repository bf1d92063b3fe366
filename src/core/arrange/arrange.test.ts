import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import { rotation } from '@/core/math/affine'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { buildTopology } from '@/core/mesh/topology'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { concatMeshes, meshFrom, transformMesh, type TriMesh } from '@/core/mesh/tri-mesh'
import { csg } from '@/core/join/csg'
import { box, cylinder, inward, shifted, sphere, torus } from '@/testing/shapes'
import { arrange } from './arrange'
import { unite } from './unite'

/** Area of the faces of an arrangement, each as often as triangles lie there. */
function areaOf(a: ReturnType<typeof arrange>): number {
  let sum = 0
  for (let f = 0; f < a.from.length; f++) {
    const [o, u, v] = [0, 1, 2].map((c) => 3 * a.faces[3 * f + c])
    const p = [0, 1, 2].map((k) => a.points[u + k] - a.points[o + k]),
      q = [0, 1, 2].map((k) => a.points[v + k] - a.points[o + k])
    const cross = [p[1] * q[2] - p[2] * q[1], p[2] * q[0] - p[0] * q[2], p[0] * q[1] - p[1] * q[0]]
    sum += ((1 + (a.also.get(f)?.length ?? 0)) * Math.hypot(...cross)) / 2
  }
  return sum
}

describe('the arrangement of a mesh with itself', () => {
  it.each([3, 6, 1000])(
    'cuts soups of triangles without losing or doubling any area (corners of a grid of %d)',
    (grid) => {
      for (let seed = 1; seed <= 25; seed++) {
        const rng = random(seed)
        const p = Array.from({ length: 9 * 24 }, () => Math.floor(rng.next() * grid) / 7)
        const soup = meshFrom(
          p,
          p.slice(0, p.length / 3).map((_, i) => i),
        )
        const a = arrange(soup)
        expect(Math.abs(areaOf(a) - meshArea(soup))).toBeLessThan(1e-6 * meshArea(soup))
        // No corner lies within an edge of another face: what meets, meets at corners and whole edges.
        const at = new Set<string>()
        for (const v of a.faces) at.add([0, 1, 2].map((k) => a.points[3 * v + k]).join())
        expect(new Set(a.faces).size).toBe(at.size)
      }
    },
  )
  it('cuts nothing of a sound mesh', () => {
    const a = arrange(torus(20, 6, 40, 20))
    expect([a.cut, a.pairs, a.from.length]).toEqual([0, 0, 1600])
  })
  it('finds that a second arrangement of parts cut on whole numbers has nothing left to cut', () => {
    // Boxes on a grid meet at whole numbers, so rounding to single precision changes nothing.
    const u = unite(concatMeshes([box(4, 4, 4, 2), shifted(box(4, 4, 4, 2), 2, 1, 2)]))
    expect(arrange(u.mesh).pairs).toBe(0)
  })
})

describe('shells united', () => {
  it('boxes on a grid have the volume of the cells they cover, whatever faces fall together', () => {
    for (let seed = 1; seed <= 60; seed++) {
      const rng = random(seed)
      const cells = new Set<string>()
      const parts: TriMesh[] = []
      for (let i = 0; i < 2 + Math.floor(8 * rng.next()); i++) {
        const [x, y, z] = [0, 1, 2].map(() => Math.floor(5 * rng.next()))
        const [a, b, c] = [0, 1, 2].map(() => 1 + Math.floor(3 * rng.next()))
        parts.push(shifted(box(a, b, c, 1 + Math.floor(2 * rng.next())), x, y, z))
        for (let i1 = 0; i1 < a; i1++)
          for (let j = 0; j < b; j++) for (let k = 0; k < c; k++) cells.add(`${x + i1} ${y + j} ${z + k}`)
      }
      const { mesh } = unite(concatMeshes(parts))
      expect(meshVolume(mesh)).toBeCloseTo(cells.size, 3)
      expect(buildTopology(mesh)).toMatchObject({ openEdges: 0, flippedEdges: 0 })
    }
  })
  it('has the volume of the union that the boolean library gives, and no fault', async () => {
    for (const [a, b] of [
      [sphere(10, 4), transformMesh(shifted(cylinder(4, 30, 48, 10), 1, 2, -15), rotation([1, 2, 3], 33))],
      [torus(12, 4, 60, 30), transformMesh(box(9, 9, 9, 5), rotation([3, 1, 1], 20))],
      [sphere(10, 4), shifted(sphere(10, 4), 0.02, 0.01, 0.03)],
    ]) {
      const { mesh } = unite(concatMeshes([a, b]))
      const { mesh: other } = await csg('union', [
        { name: 'a', mesh: a },
        { name: 'b', mesh: b },
      ])
      expect(Math.abs(meshVolume(mesh) / meshVolume(other) - 1)).toBeLessThan(1e-6)
      const { facts } = checkUp(mesh)
      expect(faultCount({ ...facts, degenerate: 0 })).toBe(0)
    }
  })
  it('two balls make the body whose volume the caps give', () => {
    const r = 20,
      apart = 18
    const two = concatMeshes([sphere(r, 5), shifted(sphere(r, 5), apart, 0.3, 0.2)])
    const { mesh } = unite(two)
    // Two balls less the lens of two caps of height r - d/2: pi h^2 (3 r - h) / 3 each.
    const h = r - Math.hypot(apart, 0.3, 0.2) / 2
    const volume = (8 / 3) * Math.PI * r ** 3 - (2 * Math.PI * h * h * (3 * r - h)) / 3
    expect(meshVolume(mesh) / volume).toBeGreaterThan(0.995)
    expect(meshVolume(mesh) / volume).toBeLessThan(1)
    // What meets nothing has its corners to the last bit.
    const corners = new Set<string>()
    for (let v = 0; v < two.positions.length; v += 3) corners.add(two.positions.subarray(v, v + 3).join())
    let same = 0
    for (let v = 0; v < mesh.positions.length; v += 3) if (corners.has(mesh.positions.subarray(v, v + 3).join())) same++
    expect(same).toBeGreaterThan(0.85 * (mesh.positions.length / 3))
  })
  it('keeps hollows, takes shells that lie in the solid, and turns nothing inside out', () => {
    const shells = concatMeshes([sphere(10, 3), inward(sphere(8, 3)), sphere(5, 3), sphere(3, 3)])
    const { mesh } = unite(shells)
    // The innermost lies in the solid of the one round it.
    const v = (r: number) => meshVolume(sphere(r, 3))
    expect(meshVolume(mesh)).toBeCloseTo(v(10) - v(8) + v(5), 2)
    expect(faultCount(checkUp(mesh).facts)).toBe(0)
  })
  it('says nothing of a mesh far from the origin or very small', () => {
    const two = concatMeshes([sphere(1, 3), shifted(sphere(1, 3), 0.9, 0.1, 0)])
    const whole = meshVolume(unite(two).mesh)
    const far = meshVolume(unite(shifted(two, 1000, -2000, 500)).mesh)
    expect(far / whole).toBeCloseTo(1, 3)
    const small = { ...two, positions: two.positions.map((v) => v * 1e-6) }
    expect(meshVolume(unite(small).mesh) / whole).toBeCloseTo(1e-18, 21)
  })
})
