/** Meshes as bodies of flat faces: what is one face, one edge, one corner. */
import { describe, expect, it } from '@jest/globals'
import { dot, sub, type Vec3 } from '@/core/math/vec'
import { box, cylinder, sphere, without } from '@/testing/shapes'
import { polyhedronOf, type Polyhedron } from './polyhedron'
import { transformMesh } from './tri-mesh'
import { rotation } from '@/core/math/affine'

const of = (m: Parameters<typeof polyhedronOf>[0]) => polyhedronOf(m, 0.5, 0.005)
/** Edges, each told by its two corners. */
const edges = (p: Polyhedron) =>
  new Set(
    p.faces.flatMap((f) =>
      f.loops.flatMap((l) => l.map((a, i) => [a, l[(i + 1) % l.length]].sort((x, y) => x - y).join())),
    ),
  )
/** How far the corners of a face lie off its plane at most. */
const off = (p: Polyhedron) =>
  Math.max(...p.faces.flatMap((f) => f.loops.flat().map((v) => Math.abs(dot(sub(p.corners[v], f.at), f.normal)))))

describe('flat faces of a mesh', () => {
  it('hold to Euler: corners and faces are two more than edges, for a box however finely cut', () => {
    for (const n of [1, 3, 6]) {
      const p = of(box(30, 20, 10, n))
      expect([p.corners.length, edges(p).size, p.faces.length]).toEqual([8, 12, 6])
    }
    const round = of(cylinder(6, 20, 24, 3))
    expect([round.corners.length, edges(round).size, round.faces.length]).toEqual([48, 72, 26])
    const ball = of(sphere(5, 2))
    expect(ball.corners.length - edges(ball).size + ball.faces.length).toBe(2)
  })
  it('turned in space, in single precision, corners still lie in all their planes', () => {
    const turned = transformMesh(box(30, 20, 10, 4), rotation([0.26726124, 0.53452248, 0.80178373], 37))
    const p = of(turned)
    expect(p.faces).toHaveLength(6)
    expect(p.corners).toHaveLength(8)
    expect(p.moved).toBeGreaterThan(0)
    expect(p.moved).toBeLessThan(1e-4)
    expect(off(p)).toBeLessThan(4e-8)
  })
  it('what is told to be one plane is one, however it bulges: its corners come into it, those of the walls beside stay in theirs', () => {
    const flat = box(30, 20, 10, 6)
    const bumpy = { positions: flat.positions.slice(), triangles: flat.triangles }
    for (let v = 0; v < bumpy.positions.length / 3; v++)
      if (bumpy.positions[3 * v + 2] > 9.9) bumpy.positions[3 * v + 2] += 0.3 * Math.sin(7 * v)
    const top = [...Array(bumpy.triangles.length / 3).keys()].filter((t) =>
      [0, 1, 2].every((c) => flat.positions[3 * bumpy.triangles[3 * t + c] + 2] > 9.9),
    )
    expect(of(bumpy).faces.length).toBeGreaterThan(40)
    const p = polyhedronOf(bumpy, 0.5, 0.005, [top])
    expect([p.corners.length, edges(p).size, p.faces.length]).toEqual([8, 12, 6])
    expect(off(p)).toBeLessThan(4e-8)
    expect(p.moved).toBeGreaterThan(0.2)
    expect(p.faces[0].normal[2]).toBeGreaterThan(0.999)
  })
  it('look outward, the outer loop first; an opening leaves it open', () => {
    const p = of(box(30, 20, 10, 2))
    const middle: Vec3 = [15, 10, 5]
    for (const f of p.faces) expect(dot(sub(f.at, middle), f.normal)).toBeGreaterThan(0)
    const open = of(without(box(30, 20, 10, 4), (x, y, z) => z > 9.9 && Math.abs(x - 15) < 7 && Math.abs(y - 10) < 5))
    expect(open.closed).toBe(false)
    const holed = open.faces.find((f) => f.loops.length === 2)!
    expect(holed.loops.map((l) => l.length)).toEqual([4, 4])
    expect(holed.normal[2]).toBeCloseTo(1, 9)
  })
  it('a wider angle takes more for one plane, and tells how far corners moved for it', () => {
    const ball = sphere(5, 4)
    const fine = polyhedronOf(ball, 0.5, 0.005).faces.length,
      wide = polyhedronOf(ball, 10, 0.5).faces.length
    expect(wide).toBeLessThan(fine)
    expect(Math.max(...polyhedronOf(ball, 0.5, 0.005).of)).toBe(fine - 1)
  })
})
