import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import { cross, length, sub, type Vec3 } from '@/core/math/vec'
import { without, sphere, cylinder, shaken } from '@/testing/shapes'
import { buildTopology, findRims } from '@/core/mesh/topology'
import { meshVolume } from '@/core/mesh/measures'
import { triangleCount, vertex } from '@/core/mesh/tri-mesh'
import { checkUp } from '@/core/mesh/check-up'
import { closeHoles } from './close-holes'
import { loopOfRim, patchGround } from './loop'
import { patchLoop } from './patch-loop'
import { flatTriangulation, leastWeightTriangulation } from './triangulate-rim'

const area = (points: readonly Vec3[], tri: readonly number[]) => {
  let s = 0
  for (let i = 0; i < tri.length; i += 3)
    s += length(cross(sub(points[tri[i + 1]], points[tri[i]]), sub(points[tri[i + 2]], points[tri[i]]))) / 2
  return s
}
const free = { outside: [] as null[], joined: () => false }
const polygon = (n: number, r: number, z = (_a: number) => 0): Vec3[] =>
  Array.from({ length: n }, (_, i) => {
    const a = (2 * Math.PI * i) / n
    return [r * Math.cos(a), r * Math.sin(a), z(a)]
  })

/** Every way to triangulate a polygon's corners i..k, for small ones: what least weight has to match. */
function every(i: number, k: number): number[][] {
  if (k - i < 2) return [[]]
  const out: number[][] = []
  for (let m = i + 1; m < k; m++)
    for (const a of every(i, m)) for (const b of every(m, k)) out.push([i, m, k, ...a, ...b])
  return out
}

describe('spanning a rim', () => {
  it('has two triangles fewer than corners, uses every edge of the rim once, and keeps the area of a flat one', () => {
    for (const n of [3, 4, 7, 30, 120]) {
      const p = polygon(n, 10)
      for (const tri of [flatTriangulation(p)!, leastWeightTriangulation(p, { ...free, outside: p.map(() => null) })]) {
        expect(tri).toHaveLength(3 * (n - 2))
        expect(area(p, tri)).toBeCloseTo((n / 2) * 100 * Math.sin((2 * Math.PI) / n), 6)
        const edges = new Set<string>()
        for (let i = 0; i < tri.length; i += 3)
          for (let c = 0; c < 3; c++) edges.add(`${tri[i + c]} ${tri[i + ((c + 1) % 3)]}`)
        expect(edges.size).toBe(tri.length)
        for (let i = 0; i < n; i++)
          expect(edges.has(`${i} ${(i + 1) % n}`) || edges.has(`${(i + 1) % n} ${i}`)).toBe(true)
      }
    }
  })
  // Barequet & Sharir 1995; Liepa 2003: the weight is the largest bend first, then the area.
  it('of all triangulations of a small bent rim few bend less', () => {
    const rng = random(5)
    for (let round = 0; round < 12; round++) {
      const p = polygon(7, 10, () => 5 * rng.next())
      const outside = p.map(() => null)
      const weigh = (tri: readonly number[]) => {
        const normals = new Map<string, Vec3>()
        let bend = 0
        for (let i = 0; i < tri.length; i += 3) {
          const n = cross(sub(p[tri[i + 1]], p[tri[i]]), sub(p[tri[i + 2]], p[tri[i]]))
          const u: Vec3 = [n[0] / length(n), n[1] / length(n), n[2] / length(n)]
          for (let c = 0; c < 3; c++) {
            const key = [tri[i + c], tri[i + ((c + 1) % 3)]].sort((x, y) => x - y).join()
            const other = normals.get(key)
            if (other) bend = Math.max(bend, 1 - (u[0] * other[0] + u[1] * other[1] + u[2] * other[2]))
            normals.set(key, u)
          }
        }
        return [bend, area(p, tri)]
      }
      const got = weigh(leastWeightTriangulation(p, { ...free, outside }))
      const all = every(0, 6).map(weigh)
      expect(all).toHaveLength(42) // Catalan's number for a heptagon
      // The bend across an edge hangs on both its triangles, so building up from parts finds one of the best, not always the very best.
      expect(all.filter((w) => w[0] < got[0] - 1e-9).length).toBeLessThanOrEqual(4)
    }
  })
  it('an edge that is there already is not made again', () => {
    const p = polygon(6, 10)
    const tri = leastWeightTriangulation(p, {
      outside: p.map(() => null),
      joined: (i, j) => (i === 0 && j === 3) || (i === 3 && j === 0),
    })
    for (let i = 0; i < tri.length; i += 3)
      for (let c = 0; c < 3; c++) expect([tri[i + c], tri[i + ((c + 1) % 3)]].sort().join()).not.toBe('0,3')
  })
})

describe('a patch', () => {
  it('keeps the rim, is as fine as its surroundings, and lies nearer to a sphere than the flat one', () => {
    const open = without(sphere(10, 4), (_x, _y, z) => z > 7)
    const loop = loopOfRim(open, findRims(open, buildTopology(open))[0])
    const ground = patchGround(open)
    const flat = patchLoop(ground, loop, 'flat'),
      smooth = patchLoop(ground, loop, 'smooth')
    for (const patch of [flat, smooth])
      loop.points.forEach((q, i) => expect([...patch.points.slice(3 * i, 3 * i + 3)]).toEqual([...q]))
    const edge = length(sub(loop.points[0], loop.points[1]))
    let sum = 0
    for (let i = 0; i < smooth.triangles.length; i += 3)
      for (let c = 0; c < 3; c++) {
        const [a, b] = [smooth.triangles[i + c], smooth.triangles[i + ((c + 1) % 3)]]
        sum += Math.hypot(...[0, 1, 2].map((k) => smooth.points[3 * a + k] - smooth.points[3 * b + k]))
      }
    expect(sum / smooth.triangles.length / edge).toBeGreaterThan(0.5)
    expect(sum / smooth.triangles.length / edge).toBeLessThan(2)
    const top = Math.max(...smooth.points.filter((_, i) => i % 3 === 2))
    expect(top).toBeGreaterThan(9)
    expect(top).toBeLessThan(10.6)
  })
  it.each([0, 0.05, 0.15])('closes a ragged tube at both ends with noise of %d', (noise) => {
    const tube = shaken(
      without(cylinder(8, 20, 60, 12), (_x, _y, z) => z < 1e-6 || z > 20 - 1e-6),
      noise,
      3,
    )
    const c = closeHoles(tube, { how: 'smooth' })
    expect(c).toMatchObject({ closed: 2, left: 0 })
    expect(checkUp(c.mesh).facts).toMatchObject({ closed: true, nonManifoldEdges: 0, flippedEdges: 0 })
    // The ends bulge, as the wall leaves them: more than the bare tube, less than half balls on both.
    expect(meshVolume(c.mesh)).toBeGreaterThan(Math.PI * 64 * 20 * 0.97)
    expect(meshVolume(c.mesh)).toBeLessThan(Math.PI * 64 * 20 + (4 / 3) * Math.PI * 512 * 1.3)
    expect(triangleCount(c.mesh)).toBeGreaterThan(triangleCount(tube) + 300)
    for (let v = 0; v < tube.positions.length / 3; v += 17) expect(vertex(c.mesh, v)).toEqual(vertex(tube, v))
  })
})
