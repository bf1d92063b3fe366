import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import { dot, normalize, type Vec3 } from '@/core/math/vec'
import { triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { gripShape } from '@/core/scan/shapes'
import { cylinder, sphere, torus } from '@/testing/shapes'
import { Slicer } from './slice'

/** The same mesh with its triangles in an order without sense, so that each block spans it all. */
function shuffled(mesh: TriMesh, seed = 1): TriMesh {
  const rng = random(seed)
  const order = Array.from({ length: triangleCount(mesh) }, (_, t) => t)
  for (let i = order.length - 1; i > 0; i--) {
    const j = Math.floor(rng.next() * (i + 1))
    ;[order[i], order[j]] = [order[j], order[i]]
  }
  return {
    positions: mesh.positions,
    triangles: Uint32Array.from(order.flatMap((t) => [...mesh.triangles.subarray(3 * t, 3 * t + 3)])),
  }
}

const faceArea = (face: Float32Array): number => {
  let sum = 0
  for (let i = 0; i < face.length; i += 9) {
    const [ax, ay, az, bx, by, bz] = [3, 4, 5, 6, 7, 8].map((k) => face[i + k] - face[i + (k % 3)])
    sum += Math.hypot(ay * bz - az * by, az * bx - ax * bz, ax * by - ay * bx) / 2
  }
  return sum
}

describe('the section of a mesh', () => {
  it('is the same whatever the order of the triangles, by planes of every slant', () => {
    const mesh = gripShape(60, 40)
    const a = new Slicer(mesh),
      b = new Slicer(shuffled(mesh))
    const rng = random(3)
    let some = 0
    for (let i = 0; i < 40; i++) {
      const n = normalize([rng.normal(), rng.normal(), rng.normal()])
      const offset = dot(n, vertex(mesh, Math.floor(rng.next() * (mesh.positions.length / 3))))
      const one = a.slice(n, offset),
        two = b.slice(n, offset)
      expect(two.area).toBeCloseTo(one.area, 6)
      expect(two.length).toBeCloseTo(one.length, 6)
      some += one.loops.length
    }
    expect(some).toBeGreaterThan(30)
  })
  it('the filled face keeps its area to a hundred-thousandth with far fewer triangles than the loop has edges', () => {
    for (const mesh of [cylinder(20, 10, 4000), sphere(20, 6), torus(30, 8, 400, 200)]) {
      const s = new Slicer(mesh).slice([0, 0, 1], 0.4)
      const edges = s.loops.reduce((n, l) => n + l.points.length / 3, 0)
      expect(Math.abs(faceArea(s.face) / s.area - 1)).toBeLessThan(1e-4)
      if (edges > 3000) expect(s.face.length / 9).toBeLessThan(0.25 * edges)
    }
  })
  it('areas by closed form: a cylinder across, lengthwise and slanting; a ring has its hole left out', () => {
    const rod = new Slicer(cylinder(10, 60, 2000))
    const polygon = (2000 / 2) * 100 * Math.sin((2 * Math.PI) / 2000)
    expect(rod.slice([0, 0, 1], 31).area).toBeCloseTo(polygon, 3)
    expect(rod.slice([1, 0, 0], 0).area).toBeCloseTo(20 * 60, 2)
    // Cut at 30 degrees to the axis' square plane it is an ellipse: pi r² / cos 30.
    const slant: Vec3 = [Math.sin(Math.PI / 6), 0, Math.cos(Math.PI / 6)]
    expect(rod.slice(slant, 30 * slant[2]).area / (polygon / Math.cos(Math.PI / 6))).toBeCloseTo(1, 5)
    // Pappus' ring at its middle: pi ((R + r)² - (R - r)²).
    const ring = new Slicer(torus(30, 8, 720, 360)).slice([0, 0, 1], 1e-4)
    expect(ring.loops).toHaveLength(2)
    expect(ring.area / (Math.PI * (38 ** 2 - 22 ** 2))).toBeCloseTo(1, 3)
  })
  it('a plane beside the body, or an empty body, gives nothing', () => {
    expect(new Slicer(sphere(5, 3)).slice([0, 0, 1], 5.01)).toMatchObject({ loops: [], area: 0, length: 0 })
    expect(
      new Slicer({ positions: new Float32Array(0), triangles: new Uint32Array(0) }).slice([0, 0, 1], 0),
    ).toMatchObject({ loops: [], area: 0 })
  })
})
