import { describe, expect, it } from '@jest/globals'
import { concatMeshes, type TriMesh } from '@/core/mesh/tri-mesh'
import { box, inward, shifted, sphere, without } from '@/testing/shapes'
import { Slicer } from './slice'

describe('sections', () => {
  const cut = (m: TriMesh, z: number) => new Slicer(m).slice([0, 0, 1], z)
  // Euclid; the section of a sphere at height h is a circle of r² - h².
  it('areas and lengths by closed forms, at faces and through vertices too', () => {
    expect(cut(sphere(10, 6), 4).area / (Math.PI * 84)).toBeCloseTo(1, 2)
    for (const z of [2.5, 5, 10]) expect(cut(box(10, 10, 10, 4), z)).toMatchObject({ area: 100, length: 40 })
    expect(cut(box(10, 10, 10, 4), 10.001).loops).toHaveLength(0)
  })
  it('a hollow is left out, an island in it is filled, an open skin gives an open chain', () => {
    const nest = concatMeshes([
      box(30, 30, 30, 3),
      shifted(inward(box(20, 20, 20, 3)), 5, 5, 5),
      shifted(box(6, 6, 6, 2), 12, 12, 12),
    ])
    const s = cut(nest, 15)
    expect(s.loops).toHaveLength(3)
    expect(s.area).toBeCloseTo(900 - 400 + 36, 3)
    const open = cut(
      without(box(10, 10, 10, 4), (x) => x > 9.9),
      5,
    )
    expect(open.loops.map((l) => l.closed)).toEqual([false])
    expect(open.area).toBe(0)
    expect(open.length).toBeCloseTo(30, 4)
  })
  it('where sheets share an edge one goes on through it as it was, and the other ends there', () => {
    // A block, and a fin of two triangles that hangs on one of its upright edges and faces either way.
    const block = box(10, 10, 10)
    const at = (x: number, y: number, z: number) =>
      [...Array(block.positions.length / 3).keys()].find((v) =>
        [x, y, z].every((c, k) => block.positions[3 * v + k] === c),
      )!
    const [low, high] = [at(10, 10, 0), at(10, 10, 10)]
    const n = block.positions.length / 3
    const positions = Float32Array.from([...block.positions, 17, 10, 0, 17, 10, 10])
    for (const fin of [
      [low, n, n + 1, low, n + 1, high],
      [low, n + 1, n, low, high, n + 1],
    ]) {
      const s = cut({ positions, triangles: Uint32Array.from([...block.triangles, ...fin]) }, 5)
      expect(s.area).toBeCloseTo(100, 6)
      expect(s.loops.filter((l) => l.closed)).toHaveLength(1)
    }
  })
})
