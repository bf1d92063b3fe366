/** What cuts of small bodies come to, kept as figures: any change to them shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import { quiet } from '@/core/base/work'
import { meshVolume } from '@/core/mesh/measures'
import { type TriMesh } from '@/core/mesh/tri-mesh'
import { digest, outcome, outcomeOf } from '@/testing/digest'
import { part, partNames } from '@/testing/parts'
import { sheet, shifted } from '@/testing/shapes'
import { capFlat, ringArea } from './cap'
import { cutByPlane } from './plane-cut'
import { cutBySurface } from './surface-cut'
import { splitByMesh, trimByPlane, trimByView } from './trim'

describe.each(partNames)('%s', (name) => {
  it('cut by planes, a bent sheet and a drawn line', async () => {
    const mesh = await part(name)
    const bent = shifted(
      sheet(60, 8, (x, y) => 4 + 1.5 * Math.sin(0.15 * x) + 0.05 * y),
      -10,
      -20,
      0,
    )
    const line = [
      [4, -9, 60],
      [9, 8, 60],
      [12, 30, 60],
    ] as [number, number, number][]
    const view = { toward: [0, 0, -1] as [number, number, number], line }
    const planes = [
      () => cutByPlane(mesh, [9, 8, 4], [0.2, 0.1, 1]),
      () => cutByPlane(mesh, [9, 8, 4], [1, 0, 0], { cap: false }),
      () => cutByPlane(mesh, [0, 0, 0], [0, 0, 1]),
      () => cutByPlane(mesh, [500, 0, 0], [1, 0, 0]),
      () => trimByPlane(mesh, [9, 8, 4], [0, 1, 0.3], true),
      () => trimByPlane(mesh, [9, 8, 4], [0, 1, 0.3], false),
      () => cutBySurface(mesh, bent),
      () => capFlat(mesh, [0, 0, 1], () => true),
    ].map(outcome)
    const halves = planes[4] as { left?: TriMesh; right?: TriMesh }
    if (halves.left && halves.right && name !== 'open box' && name !== 'terrain')
      expect(meshVolume(halves.left) + meshVolume(halves.right)).toBeCloseTo(meshVolume(mesh), 1)
    expect(
      digest([
        planes,
        await outcomeOf(() => splitByMesh('m', mesh, bent, true, quiet)),
        await outcomeOf(() => trimByView('m', mesh, view, false, true, quiet)),
        await outcomeOf(() => trimByView('m', mesh, view, true, false, quiet)),
      ]),
    ).toMatchSnapshot()
  })
})
it('the area of a ring', () => {
  expect(
    ringArea([
      [0, 0],
      [4, 0],
      [4, 3],
      [0, 3],
    ]),
  ).toBeCloseTo(12, 12)
})
