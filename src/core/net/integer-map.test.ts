/** Maps with whole numbers over their cuts (Bommes, Zimmer & Kobbelt 2009): what has to hold over every edge, and on creases. */
import { describe, expect, it } from '@jest/globals'
import { buildTopology, nextIn } from '@/core/mesh/topology'
import { triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { distance } from '@/core/math/vec'
import { box, sheet, shaken, sphere, torus } from '@/testing/shapes'
import { creaseFlags } from './crease-lines'
import { crossField } from './cross-field'
import { cutOpen } from './cut/cut'
import { mapSolver } from './integer-map'

function mapped(mesh: TriMesh, size: number, degrees: number | null = 40) {
  const topology = buildTopology(mesh)
  const creases = creaseFlags(mesh, topology, degrees)
  const field = crossField(mesh, topology, { creases, bend: 0.05 })
  const cut = cutOpen(mesh, topology, field)
  const uv = mapSolver(mesh, field.frames, cut, creases).solve(new Float64Array(triangleCount(mesh)).fill(size))
  return { topology, creases, uv, at: (h: number): [number, number] => [uv[2 * h], uv[2 * h + 1]] }
}
type Pair = [number, number]
const less = (a: Pair, b: Pair): Pair => [a[0] - b[0], a[1] - b[1]]
const turned = ([x, y]: Pair, k: number): Pair =>
  [
    [x, y],
    [-y, x],
    [-x, -y],
    [y, -x],
  ][k] as Pair
const far = (v: Pair) => Math.hypot(...v)

describe('a map with whole numbers', () => {
  it.each<[string, TriMesh, number]>([
    ['a ball', sphere(10, 3), 4],
    ['a ring', torus(20, 6, 40, 16), 3],
    ['a box', box(20, 20, 20, 5), 4],
    ['an uneven ball', shaken(sphere(10, 3), 0.2), 4],
  ])('%s: both sides of every edge agree up to quarter turns and whole numbers', (_, mesh, size) => {
    const { topology, uv, at } = mapped(mesh, size)
    expect(uv.every(Number.isFinite)).toBe(true)
    let cuts = 0
    for (let h = 0; h < topology.twin.length; h++) {
      const w = topology.twin[h]
      if (w < h) continue
      const [a, b] = [at(h), at(nextIn(h))]
      const [c, d] = [at(nextIn(w)), at(w)]
      const ways = [0, 1, 2, 3].map((k) => far(less(turned(less(b, a), k), less(d, c))))
      const k = ways.indexOf(Math.min(...ways))
      expect(ways[k]).toBeLessThan(1e-6)
      const [x, y] = less(c, turned(a, k))
      expect(Math.abs(x - Math.round(x)) + Math.abs(y - Math.round(y))).toBeLessThan(1e-6)
      if (k || Math.round(x) || Math.round(y)) cuts++
    }
    // None of these can be laid flat in one.
    expect(cuts).toBeGreaterThan(0)
  })
  it('of a flat sheet is its own plane in units of the size, its rims on whole numbers', () => {
    const mesh = sheet(30, 10)
    const { topology, uv, at } = mapped(mesh, 2.5)
    for (let h = 0; h < topology.twin.length; h++) {
      const l = distance(vertex(mesh, mesh.triangles[h]), vertex(mesh, mesh.triangles[nextIn(h)]))
      expect(Math.abs(far(less(at(nextIn(h)), at(h))) - l / 2.5)).toBeLessThan(1e-3 * l)
      if (topology.twin[h] >= 0) continue
      const along = less(at(nextIn(h)), at(h)).map(Math.abs)
      const across = along[0] < along[1] ? 0 : 1
      expect(along[across]).toBeLessThan(0.02)
      expect(Math.abs(at(h)[across] - Math.round(at(h)[across]))).toBeLessThan(0.05)
    }
    // Half the size, twice the numbers.
    const [fine] = [mapped(mesh, 1.25).uv]
    const spread = (a: ArrayLike<number>) => Math.max(...Array.from(a)) - Math.min(...Array.from(a))
    expect(spread(fine) / spread(uv)).toBeCloseTo(2, 1)
  })
})
