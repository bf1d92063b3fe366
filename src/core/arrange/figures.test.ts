/** What crossing skins are arranged and united to, kept as figures: any change shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import { rotation } from '@/core/math/affine'
import { concatMeshes, transformMesh, type TriMesh } from '@/core/mesh/tri-mesh'
import { digest, outcome } from '@/testing/digest'
import { part } from '@/testing/parts'
import { box, cylinder, inward, shifted, sheet, sphere } from '@/testing/shapes'
import { arrange } from './arrange'
import { unite } from './unite'

const cases: Record<string, () => Promise<TriMesh> | TriMesh> = {
  'two that cross': () => part('two that cross'),
  'two boxes that share a face': () => concatMeshes([box(4, 4, 4, 2), shifted(box(4, 4, 4, 2), 4, 0, 0)]),
  'two boxes with faces in one plane': () => concatMeshes([box(6, 6, 6, 2), shifted(box(4, 4, 4, 1), 2, 3, 0)]),
  'three askew': () =>
    concatMeshes([
      box(6, 6, 6, 1),
      transformMesh(box(6, 6, 6, 1), rotation([1, 2, 3], 25)),
      shifted(sphere(3, 2), 5, 5, 5),
    ]),
  'one within another, turned': () => concatMeshes([sphere(8, 2), inward(sphere(4, 2))]),
  'a sheet through a box': () => concatMeshes([box(8, 8, 8, 1), shifted(sheet(12, 3), -2, -2, 4)]),
  'a pin through a corner': () => concatMeshes([box(8, 8, 8, 2), shifted(cylinder(2, 20, 8), 8, 8, -6)]),
}
describe.each(Object.keys(cases))('%s', (name) => {
  it('arranged and united', async () => {
    const mesh = await cases[name]()
    expect(digest([outcome(() => arrange(mesh)), outcome(() => unite(arrange(mesh) as never))])).toMatchSnapshot()
  })
})
