import { describe, expect, it } from '@jest/globals'
import { csg } from '@/core/join/csg'
import { about, rotation } from '@/core/math/affine'
import { random } from '@/core/math/random'
import { dot, normalize, type Vec3 } from '@/core/math/vec'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { meshVolume } from '@/core/mesh/measures'
import { transformMesh } from '@/core/mesh/tri-mesh'
import { quiet } from '@/core/base/work'
import { box, cylinder, shaken, shifted } from '@/testing/shapes'
import { boreField, equalBores, findBores } from '@/core/find/bore'
import { fitCylinder } from '@/core/find/cylinder-fit'
import { cutterMesh, editHoles } from './edit-hole'

const drilled = async (holes: [number, number, number, number, number][], n = 6) =>
  (
    await csg('difference', [
      { name: 'plate', mesh: box(60, 40, 10, n) },
      ...holes.map(([x, y, r, from, to], i) => ({
        name: `h${i}`,
        mesh: cutterMesh([x, y, 0], [0, 0, 1], r, from, to, 64),
      })),
    ])
  ).mesh

describe('cylinders through points', () => {
  it('are found from noisy points of any axis', () => {
    const rng = random(8)
    for (let k = 0; k < 20; k++) {
      const axis = normalize([rng.normal(), rng.normal(), rng.normal()])
      const turn = about([3, 4, 5], rotation(axis, 77))
      const wall = transformMesh(shaken(cylinder(6, 20, 48, 8), 0.01, k), turn)
      const points: Vec3[] = []
      for (let v = 0; v < wall.positions.length / 3 - 2; v++)
        points.push([wall.positions[3 * v], wall.positions[3 * v + 1], wall.positions[3 * v + 2]])
      const up: Vec3 = [turn[2], turn[6], turn[10]]
      const c = fitCylinder(points, normalize([up[0] + 0.1, up[1] - 0.1, up[2]]))!
      expect(c.radius).toBeCloseTo(6, 2)
      expect(Math.abs(dot(c.axis, up))).toBeGreaterThan(0.99999)
      expect(c.rms).toBeLessThan(0.01)
    }
  })
  it('are not found in too few points', () =>
    expect(
      fitCylinder(
        [
          [0, 0, 0],
          [1, 0, 0],
        ],
        [0, 0, 1],
      ),
    ).toBeNull())
})

describe('holes of a plate', () => {
  it('through and blind are told apart, with diameter and depth', async () => {
    const mesh = await drilled([
      [15, 20, 4, -1, 11],
      [45, 20, 3, 4, 11],
    ])
    const bores = findBores(boreField(mesh)).sort((a, b) => a.diameter - b.diameter)
    expect(bores.map((b) => b.through)).toEqual([false, true])
    // Rim corners where the plate's own edges meet a chord lie within its sagitta, r (1 - cos(pi / 64)) = 0.0036 mm.
    expect(bores[0].diameter).toBeCloseTo(6, 2)
    expect(bores[0].depth).toBeCloseTo(6, 3)
    expect(bores[0].axis[2]).toBeCloseTo(1, 6) // out of the mouth
    expect(bores[1].depth).toBeCloseTo(10, 3)
  })
  it('are moved and closed, and a blind one keeps its floor', async () => {
    const mesh = await drilled([
      [15, 20, 4, -1, 11],
      [45, 20, 3, 4, 11],
    ])
    const field = boreField(mesh)
    const [blind, through] = findBores(field).sort((a, b) => a.diameter - b.diameter)
    const area = (n: number, r: number) => (n / 2) * r * r * Math.sin((2 * Math.PI) / n)
    const moved = await editHoles('plate', mesh, [through], { do: 'move', by: [5, 3, 0] }, 0.002, quiet)
    expect(faultCount(checkUp(moved.mesh).facts)).toBe(0)
    const there = findBores(boreField(moved.mesh)).sort((a, b) => b.diameter - a.diameter)[0]
    expect(there.centre[0]).toBeCloseTo(20, 2)
    expect(there.centre[1]).toBeCloseTo(23, 2)
    const wide = await editHoles('plate', mesh, [blind], { do: 'resize', diameter: 9 }, 0.002, quiet)
    const deep = findBores(boreField(wide.mesh)).find((b) => Math.abs(b.diameter - 9) < 0.01)!
    expect(deep.through).toBe(false)
    expect(deep.depth).toBeCloseTo(6, 2)
    const closed = await editHoles('plate', mesh, [blind, through], { do: 'close' }, 0.002, quiet)
    expect(meshVolume(closed.mesh)).toBeCloseTo(60 * 40 * 10, 1)
    expect(closed.volume - closed.volumeBefore).toBeCloseTo(area(64, 4) * 10 + area(64, 3) * 6, 1)
  })
  it('equal ones are found by diameter and direction, not others', async () => {
    const mesh = await drilled([
      [10, 10, 2, -1, 11],
      [50, 10, 2, -1, 11],
      [50, 30, 2.4, -1, 11],
      [30, 20, 5, -1, 11],
    ])
    const field = boreField(mesh)
    const small = findBores(field).find((b) => Math.abs(b.diameter - 4) < 0.01)!
    expect(equalBores(field, small)).toHaveLength(2)
  })
  it('a peg is no hole', () => expect(findBores(boreField(shifted(cylinder(4, 20, 64, 4), 0, 0, 0)))).toHaveLength(0))
})
