/** Grow follows one surface: areas are known in closed form. */
import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import type { Vec3 } from '@/core/math/vec'
import { MeshSearch } from '@/core/mesh/closest'
import { buildTopology } from '@/core/mesh/topology'
import { meshArea } from '@/core/mesh/measures'
import { keepTriangles, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleNormals } from '@/core/mesh/triangle'
import { gripShape } from '@/core/scan/shapes'
import { box, cylinder, shaken, sphere, torus } from '@/testing/shapes'
import { resolveRegion } from './region'
import { growSurface } from './smooth-surface'

/** A cube of edge `l` whose edges are rounded with radius `r`: flats, quarter cylinders and eighths of a ball that meet without a bend. */
function rounded(l: number, n: number, r: number): TriMesh {
  const b = box(l, l, l, n)
  const p = b.positions.slice()
  for (let v = 0; v < p.length; v += 3) {
    const q = [0, 1, 2].map((k) => Math.min(l - r, Math.max(r, p[v + k])))
    const d = [0, 1, 2].map((k) => p[v + k] - q[k])
    const long = Math.hypot(...d) || 1
    for (let k = 0; k < 3; k++) p[v + k] = q[k] + (r * d[k]) / long
  }
  return { positions: p, triangles: b.triangles }
}

const grownFrom = (mesh: TriMesh, at: Vec3): number => {
  const field = { mesh, topology: buildTopology(mesh), normals: triangleNormals(mesh) }
  return meshArea(keepTriangles(mesh, growSurface(field, new MeshSearch(mesh).nearest(at)!.triangle)).mesh)
}

const l = 20,
  r = 2
const cube = rounded(l, 40, r)
const edge = l - r + r * Math.SQRT1_2,
  corner = l - r + r / Math.sqrt(3)

describe.each([
  ['clean', cube, 0.01],
  // Right beside a fillet noise may hide where it begins.
  ['scanned, with noise of 0.01', shaken(cube, 0.01), 0.35],
] as [string, TriMesh, number][])('a rounded cube, %s', (_name, mesh, worst) => {
  it('a flat is picked up to its fillets, wherever on it one clicks', () => {
    const rng = random(8)
    const off: number[] = []
    for (let i = 0; i < 12; i++) {
      const at: Vec3 = [r + 0.3 + (l - 2 * r - 0.6) * rng.next(), r + 0.3 + (l - 2 * r - 0.6) * rng.next(), l]
      off.push(Math.abs(grownFrom(mesh, at) / (l - 2 * r) ** 2 - 1))
    }
    off.sort((a, b) => a - b)
    expect(off[11]).toBeLessThan(worst)
    expect(off[8]).toBeLessThan(0.01)
  })
  it('a fillet is picked without its flats, a corner without its fillets', () => {
    expect(Math.abs(grownFrom(mesh, [l / 2, edge, edge]) / ((Math.PI / 2) * r * (l - 2 * r)) - 1)).toBeLessThan(0.02)
    expect(Math.abs(grownFrom(mesh, [corner, corner, corner]) / ((Math.PI / 2) * r * r) - 1)).toBeLessThan(0.02)
  })
  it('an angle floods it whole, which is why it is the second choice', () => {
    const pick = (follow: 'surface' | 'angle') =>
      resolveRegion(mesh, [{ pick: 'grow', mode: 'add', at: [10, 10, 20], follow, angle: 20 }]).reduce(
        (s, v) => s + v,
        0,
      )
    expect(pick('angle')).toBe(mesh.triangles.length / 3)
    expect(pick('surface')).toBeLessThan(0.2 * pick('angle'))
  })
})

describe('one surface', () => {
  it.each([
    ['wall of a rod of 48 sides', cylinder(10, 30, 48, 6), [10, 0, 15], 48 * 20 * Math.sin(Math.PI / 48) * 30],
    ['wall of a rod of 12 sides', cylinder(10, 30, 12, 1), [9.6, 2.5, 15], 12 * 20 * Math.sin(Math.PI / 12) * 30],
    ['end of a rod', cylinder(10, 30, 48, 6), [1, 1, 30], 48 * 50 * Math.sin((2 * Math.PI) / 48)],
    ['ball', sphere(10, 4), [10, 0, 0], meshArea(sphere(10, 4))],
    ['ring', torus(20, 6, 80, 40), [26, 0, 0], meshArea(torus(20, 6, 80, 40))],
    ['face of a plain cube', box(10, 10, 10, 1), [5, 5, 10], 100],
    ['grip, free all over', gripShape(80, 48), [20, 0, 80], meshArea(gripShape(80, 48))],
  ] as [string, TriMesh, Vec3, number][])('%s', (_name, mesh, at, area) => {
    expect(Math.abs(grownFrom(mesh, at) / area - 1)).toBeLessThan(0.01)
  })
})
