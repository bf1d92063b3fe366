import { describe, expect, it } from '@jest/globals'
import { checkUp } from '@/core/mesh/check-up'
import { NearestPoints } from '@/core/mesh/nearest'
import { meshArea } from '@/core/mesh/measures'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { cylinder, sheet, sphere, without } from '@/testing/shapes'
import { parallelSkin } from './parallel-skin'

const all = (m: TriMesh) => new Uint8Array(triangleCount(m)).fill(1)

/** Least and greatest distance of a skin's vertices from another skin. */
function away(skin: TriMesh, from: TriMesh): [number, number] {
  const near = new NearestPoints(from)
  let lo = Infinity,
    hi = 0
  for (let v = 0; v < skin.positions.length; v += 3) {
    const d = near.distance([skin.positions[v], skin.positions[v + 1], skin.positions[v + 2]])
    lo = Math.min(lo, d)
    hi = Math.max(hi, d)
  }
  return [lo, hi]
}

describe('the parallel skin of a part', () => {
  it('where nothing bends too tightly it is the part moved: a wall of radius r becomes one of r + d', () => {
    const wall = without(cylinder(10, 20, 120, 10), (_x, _y, z) => z < 1e-6 || z > 20 - 1e-6)
    for (const by of [3, -3]) {
      const p = parallelSkin(wall, all(wall), by, 0.5)
      expect(p.reskinned).toBe(false)
      expect(triangleCount(p.mesh)).toBe(triangleCount(wall))
      // Steiner: the area of a parallel surface of a cylinder grows as its radius.
      expect(meshArea(p.mesh) / meshArea(wall)).toBeCloseTo((10 + by) / 10, 2)
    }
  })
  // A parabola z = x² / 2f has radius f at its foot: further than that its parallel has a swallowtail there.
  it('a trough of radius 5 at distance 7 keeps its distance and has a seam, no crossing, one rim', () => {
    const trough = sheet(24, 40, (x) => (x - 12) ** 2 / 10)
    const p = parallelSkin(trough, all(trough), 7, 0.8)
    expect(p.reskinned).toBe(true)
    const f = checkUp(p.mesh).facts
    expect(f).toMatchObject({ pieces: 1, selfCrossings: 0, folded: 0, nonManifoldEdges: 0, flippedEdges: 0 })
    expect(f.holes).toHaveLength(1)
    const [lo, hi] = away(p.mesh, trough)
    expect(lo).toBeGreaterThan(7 - 0.12)
    expect(hi).toBeLessThan(7 + 0.15)
    // It lies above the trough, over the same length, and faces up as the trough does.
    expect(f.size[1]).toBeGreaterThan(24 - 1)
    expect(f.size[1]).toBeLessThan(24 + 1)
    let up = 0
    for (let t = 0; t < p.mesh.triangles.length; t += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => 3 * p.mesh.triangles[t + k])
      const q = p.mesh.positions
      up += (q[b] - q[a]) * (q[c + 1] - q[a + 1]) - (q[b + 1] - q[a + 1]) * (q[c] - q[a])
    }
    expect(up).toBeGreaterThan(0)
    // The other way it only widens: no crossing, so it is a plain copy.
    expect(parallelSkin(trough, all(trough), -7, 0.8).reskinned).toBe(false)
  })
  it('says so when nothing is picked or nothing is left', () => {
    const ball = sphere(5, 3)
    expect(() => parallelSkin(ball, new Uint8Array(triangleCount(ball)), 1, 0.5)).toThrow(/no triangle/)
  })
})
