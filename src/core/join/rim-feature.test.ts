/** Round rims of meshes: which edges are such, and what is made of them. */
import { describe, expect, it } from '@jest/globals'
import { rotation } from '@/core/math/affine'
import { meshBody, type MeshBody } from '@/core/bodies/body'
import { quiet } from '@/core/base/work'
import { takenRows } from '@/core/find/taken-rows'
import { csg } from '@/core/join/csg'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { meshVolume } from '@/core/mesh/measures'
import { transformMesh, type TriMesh } from '@/core/mesh/tri-mesh'
import { box, cylinder, shifted } from '@/testing/shapes'
import { rimFeature, roundRim } from './rim-feature'

const n = 96
const post = cylinder(10, 20, n)
/** A block with a blind bore of radius 5, 8 mm deep. */
const block = async (): Promise<TriMesh> => {
  const { mesh } = await csg('difference', [
    { name: 'block', mesh: box(40, 30, 20) },
    { name: 'bore', mesh: shifted(cylinder(5, 30, n), 20, 15, 12) },
  ])
  return mesh
}
const rim = (mesh: TriMesh, at: [number, number, number]) =>
  roundRim(mesh, takenRows({ from: 'm', as: 'edge', at }, meshBody(mesh))[0])
/** Middle of the sliver between a right angle and the arc of radius 1 in it, from the corner. */
const middle = (10 - 3 * Math.PI) / (12 - 3 * Math.PI)

describe('round rims', () => {
  it('are told apart: of a boss and of a bore, outer edges and the corner of a floor', async () => {
    const top = rim(post, [10, 0, 20])!
    expect(top).toMatchObject({ boss: true, outer: true })
    expect(top.radius).toBeCloseTo(10, 4)
    expect(top.axis[2]).toBeCloseTo(1, 9)
    const low = rim(post, [10, 0, 0])!
    expect(low.axis[2]).toBeCloseTo(-1, 9)
    const bored = await block()
    expect(rim(bored, [25, 15, 20])).toMatchObject({ boss: false, outer: true })
    const floor = rim(bored, [25, 15, 12])!
    expect(floor).toMatchObject({ boss: false, outer: false })
    expect(floor.centre.map((v) => Math.round(v * 1e3) / 1e3)).toEqual([20, 15, 12])
  })
  it('straight edges are none', () => {
    expect(rim(box(10, 10, 10), [5, 0, 10])).toBeNull()
  })
})

describe('features on them', () => {
  const make = async (mesh: TriMesh, at: [number, number, number], sort: 'fillet' | 'chamfer', size: number) => {
    const done = await rimFeature('m', meshBody(mesh), [rim(mesh, at)!], sort, size, size, quiet)
    const after = (done.body as MeshBody).mesh
    expect(faultCount(checkUp(after).facts)).toBe(0)
    expect(done.volume).toBeCloseTo(meshVolume(after), 3)
    return done.volume - done.volumeBefore
  }
  it('take from outer edges and add in inner corners what Pappus tells, and leave the mesh closed', async () => {
    const q = 1 - Math.PI / 4
    expect((await make(post, [10, 0, 20], 'fillet', 2)) / (-4 * q * 2 * Math.PI * (10 - 2 * middle))).toBeCloseTo(1, 1)
    expect((await make(post, [10, 0, 0], 'chamfer', 1)) / (-Math.PI * (10 - 1 / 3))).toBeCloseTo(1, 1)
    const bored = await block()
    expect((await make(bored, [25, 15, 20], 'chamfer', 1)) / (-Math.PI * (5 + 1 / 3))).toBeCloseTo(1, 1)
    expect((await make(bored, [25, 15, 12], 'fillet', 1)) / (q * 2 * Math.PI * (5 - middle))).toBeCloseTo(1, 1)
  })
  it.each([32, 48, 90])('of %d sides, turned anyhow: there is room on a post, and round a bore', async (sides) => {
    for (const degrees of [0, 7, 90 / sides]) {
      const turned = (m: TriMesh) => transformMesh(m, rotation([0, 0, 1], degrees))
      const corner = (m: TriMesh, z: number): [number, number, number] => {
        for (let v = 0; v < m.positions.length; v += 3)
          if (
            Math.abs(m.positions[v + 2] - z) < 1e-4 &&
            Math.abs(Math.hypot(m.positions[v], m.positions[v + 1]) - 10) < 0.01
          )
            return [m.positions[v], m.positions[v + 1], z]
        throw new Error('no corner')
      }
      const round = turned(cylinder(10, 20, sides))
      expect(await make(round, corner(round, 20), 'chamfer', 1)).toBeLessThan(0)
      const plate = shifted(box(60, 60, 10, 1), -30, -30, 0)
      const { mesh: bored } = await csg('difference', [
        { name: 'a', mesh: plate },
        { name: 'b', mesh: shifted(round, 0, 0, -5) },
      ])
      expect(await make(bored, corner(bored, 10), 'chamfer', 1)).toBeLessThan(0)
    }
  })
  it('more than there is room for is refused with what fits', async () => {
    await expect(make(post, [10, 0, 20], 'fillet', 10.5)).rejects.toMatchObject({ code: 'too-large' })
    const bored = await block()
    await expect(make(bored, [25, 15, 20], 'chamfer', 16)).rejects.toThrow(/has room/)
  })
})
