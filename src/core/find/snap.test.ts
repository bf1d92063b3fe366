import { describe, expect, it } from '@jest/globals'
import { csg } from '@/core/join/csg'
import type { Vec3 } from '@/core/math/vec'
import { MeshSearch } from '@/core/mesh/closest'
import { box, cylinder, shifted } from '@/testing/shapes'
import { boreField, findBores } from './bore'
import { pointedBore } from './pointed-bore'
import { mouthOf, snapAt } from './snap'

const cube = box(10, 10, 10)
const down = (x: number, y: number): { origin: Vec3; direction: Vec3 } => ({
  origin: [x, y, 50],
  direction: [0, 0, -1],
})
const on = (mesh: typeof cube, x: number, y: number) => new MeshSearch(mesh).first(down(x, y).origin, [0, 0, -1])!

describe('snapping', () => {
  const snap = (x: number, y: number, reach = 0.5) => {
    const hit = on(cube, x, y)
    return snapAt({ mesh: cube, triangle: hit.triangle, point: hit.point, reach })
  }
  it('takes a corner before an edge, an edge within half the reach, and else nothing', () => {
    expect(snap(9.8, 0.1)).toEqual({ kind: 'corner', point: [10, 0, 10] })
    const edge = snap(9.85, 5)!
    expect(edge.kind).toBe('edge')
    expect(edge.point[0]).toBeCloseTo(10)
    expect(edge.point[1]).toBeCloseTo(5)
    expect(snap(9.6, 5)).toBeNull() // within the reach, but not within half of it
    expect(snap(7, 2)).toBeNull()
  })
  it('just beside the outline a corner is still meant, by its distance from the ray', () => {
    const hit = on(cube, 9.9, 0.1)
    const at = (x: number) =>
      snapAt({ mesh: cube, triangle: hit.triangle, point: hit.point, reach: 0.5, beside: down(x, 0) })
    expect(at(10.3)).toEqual({ kind: 'corner', point: [10, 0, 10] })
    expect(at(10.8)).toBeNull()
  })
})

describe('bores', () => {
  const plate = async () => {
    const { mesh } = await csg('difference', [
      { name: 'plate', mesh: box(30, 30, 6) },
      { name: 'pin', mesh: shifted(cylinder(4, 20, 48), 15, 15, -7) },
    ])
    return { mesh, bores: findBores(boreField(mesh)) }
  }
  it('the rim of a bore stands for the middle of its mouth', async () => {
    const { mesh, bores } = await plate()
    expect(bores).toHaveLength(1)
    const hit = on(mesh, 19.3, 15)
    const s = snapAt({ mesh, triangle: hit.triangle, point: hit.point, reach: 0.5, bores })!
    expect(s.kind).toBe('centre')
    ;[15, 15, 6].forEach((v, k) => expect(s.point[k]).toBeCloseTo(v, 2))
    expect([mouthOf(bores[0], 0.5)[2], mouthOf(bores[0], -0.5)[2]].sort()).toEqual([
      expect.closeTo(0, 3),
      expect.closeTo(6, 3),
    ])
  })
  it('a ray means the bore whose mouth it passes through, with a place on its wall, and none far off', async () => {
    const { mesh, bores } = await plate()
    const through = pointedBore(bores, down(16, 15), null)!
    expect(through.bore.diameter).toBeCloseTo(8, 1)
    // On the wall, half-way down, on the side the ray came in.
    expect(through.at[0]).toBeCloseTo(19, 1)
    expect(through.at[2]).toBeCloseTo(3, 1)
    expect(pointedBore(bores, down(2, 2), { ...on(mesh, 2, 2), own: true })).toBeNull()
    const wall = bores[0].triangles[0]
    const hit = { triangle: wall, distance: 1, point: [19, 15, 3] as Vec3, own: true }
    expect(pointedBore(bores, down(19, 15), hit)).toMatchObject({ at: [19, 15, 3], off: -1 })
  })
})
