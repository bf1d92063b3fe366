/** What is a bore and what is not: round all the way, hollow, open at an end; and which bores are alike. */
import { describe, expect, it } from '@jest/globals'
import { csg } from '@/core/join/csg'
import { middleOf } from '@/core/mesh/triangle'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { box, cylinder, shifted } from '@/testing/shapes'
import { boreAt, boreField, equalBores, findBores } from './bore'

const cut = async (from: TriMesh, ...tools: TriMesh[]): Promise<TriMesh> =>
  (
    await csg(
      'difference',
      [from, ...tools].map((mesh, i) => ({ name: String(i), mesh })),
    )
  ).mesh
/** A rod along z about a place, of radius 3. */
const rod = (x: number, y: number, from: number, to: number) => shifted(cylinder(3, to - from, 48), x, y, from)

describe('bores', () => {
  it('are found with their axis, diameter and depth, through and blind', async () => {
    const plate = await cut(box(60, 20, 10), rod(10, 10, -5, 15), rod(30, 10, 4, 15), rod(50, 10, -5, 6))
    const bores = findBores(boreField(plate)).sort((a, b) => a.centre[0] - b.centre[0])
    expect(bores.map((b) => [b.diameter.toFixed(2), b.depth.toFixed(2), b.through])).toEqual([
      ['6.00', '10.00', true],
      ['6.00', '6.00', false],
      ['6.00', '6.00', false],
    ])
    // A blind one opens the way its axis points.
    expect(bores.map((b) => b.axis.map((v) => Math.round(v) || 0))).toEqual([
      [0, 0, 1],
      [0, 0, 1],
      [0, 0, -1],
    ])
  })
  it('are alike by diameter and by going through or not', async () => {
    // Two right through the low part, and one as deep that ends in the high part.
    const low = box(40, 20, 10)
    const high = shifted(box(20, 20, 20), 40, 0, 0)
    const { mesh } = await csg('union', [
      { name: 'low', mesh: low },
      { name: 'high', mesh: high },
    ])
    const f = boreField(await cut(mesh, rod(10, 10, -5, 15), rod(28, 10, -5, 15), rod(50, 10, 10, 25)))
    const [first, second, blind] = findBores(f).sort((a, b) => a.centre[0] - b.centre[0])
    expect([first, second, blind].map((b) => [Math.round(b.depth), b.through])).toEqual([
      [10, true],
      [10, true],
      [10, false],
    ])
    const alike = (like: typeof first) =>
      equalBores(f, like)
        .map((b) => Math.round(b.centre[0]))
        .sort((a, b) => a - b)
    expect(alike(first)).toEqual([10, 28])
    expect(alike(blind)).toEqual([50])
  })
  it('a groove, a quarter of a wall, and a peg are none', async () => {
    // Half a wall, open above over its whole length; a wall cut by the corner of the block; a peg.
    const groove = await cut(box(60, 20, 10), rod(10, 0, -5, 15), rod(60, 20, -5, 15))
    expect(findBores(boreField(groove))).toEqual([])
    const f = boreField(groove)
    for (let t = 0; t < groove.triangles.length / 3; t += 41) expect(boreAt(f, middleOf(groove, t), t, 4)).toBeNull()
    expect(findBores(boreField(cylinder(3, 20, 48)))).toEqual([])
  })
})
