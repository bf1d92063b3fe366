import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import { box, sheet, sphere, torus, without } from '@/testing/shapes'
import { EditMesh } from './edit-mesh'
import { buildTopology, cornerFans } from './topology'
import { meshArea, meshVolume } from './measures'
import { triangleCount, type TriMesh } from './tri-mesh'

/** Vertices less edges plus faces: what no collapse or flip may change. */
const euler = (m: TriMesh) => m.positions.length / 3 - buildTopology(m).edges + triangleCount(m)
const manifold = (m: TriMesh) => {
  const t = buildTopology(m)
  return t.nonManifoldEdges === 0 && t.flippedEdges === 0 && cornerFans(m, t).manyFans.length === 0
}

describe.each([
  ['ball', sphere(10, 3)],
  ['ring', torus(12, 4, 24, 12)],
  ['block', box(10, 10, 10, 5)],
  ['open ball', without(sphere(10, 3), (_x, _y, z) => z > 8)],
  ['sheet', sheet(10, 8)],
])('a %s changed at random', (_name, mesh) => {
  it.each([1, 2, 3, 4])('keeps its topology (seed %d)', (seed) => {
    const rng = random(seed)
    const m = new EditMesh(mesh)
    let flips = 0,
      collapses = 0
    for (let i = 0; i < 500; i++) {
      const t = Math.floor(rng.next() * (m.triangles.length / 3))
      if (!m.alive(t)) continue
      const c = Math.floor(rng.next() * 3)
      const a = m.triangles[3 * t + c],
        b = m.triangles[3 * t + ((c + 1) % 3)]
      if (rng.next() < 0.3) collapses += Number(m.collapse(a, b))
      else flips += Number(m.flip(a, b))
    }
    const { mesh: out, triangleFrom } = m.done()
    expect(collapses).toBeGreaterThan(5)
    expect(flips).toBeGreaterThan(5)
    expect(manifold(out)).toBe(true)
    expect(euler(out)).toBe(euler(mesh))
    expect(buildTopology(out).openEdges > 0).toBe(buildTopology(mesh).openEdges > 0)
    expect(triangleFrom).toHaveLength(triangleCount(out))
    // Each collapse takes two triangles, or one at a rim.
    expect(triangleCount(mesh) - triangleCount(out)).toBeGreaterThanOrEqual(collapses)
    expect(triangleCount(mesh) - triangleCount(out)).toBeLessThanOrEqual(2 * collapses)
  })
})

describe('one change', () => {
  it('what would pinch or double the skin is refused', () => {
    // A tetrahedron cannot lose an edge and stay a skin.
    const tetra: TriMesh = {
      positions: Float32Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1]),
      triangles: Uint32Array.from([0, 2, 1, 0, 1, 3, 1, 2, 3, 0, 3, 2]),
    }
    const m = new EditMesh(tetra)
    for (const [a, b] of [
      [0, 1],
      [1, 2],
      [2, 3],
      [0, 3],
    ]) {
      expect(m.collapse(a, b)).toBe(false)
      expect(m.flip(a, b)).toBe(false)
    }
    expect(m.done().mesh.triangles).toHaveLength(12)
  })
  it('a rim does not give way inward: its edges are not flipped', () => {
    const m = new EditMesh(sheet(10, 4))
    const t = buildTopology(sheet(10, 4))
    let tried = 0
    for (let h = 0; h < t.twin.length; h++) {
      if (t.twin[h] >= 0) continue
      tried++
      expect(m.flip(m.triangles[h], m.triangles[h % 3 === 2 ? h - 2 : h + 1])).toBe(false)
    }
    expect(tried).toBe(16)
    expect(meshArea(m.done().mesh)).toBeCloseTo(100, 6)
  })
  it('only what lies near may be changed when a place is named', () => {
    const ball = sphere(10, 4)
    const m = new EditMesh(ball, [0])
    const far = triangleCount(ball) - 1
    const [a, b] = [m.triangles[3 * far], m.triangles[3 * far + 1]]
    expect(m.collapse(a, b)).toBe(false)
    expect(m.flip(a, b)).toBe(false)
    expect(m.flip(m.triangles[0], m.triangles[1]) || m.flip(m.triangles[1], m.triangles[2])).toBe(true)
    expect(Math.abs(meshVolume(m.done().mesh) / meshVolume(ball) - 1)).toBeLessThan(0.001)
  })
})
