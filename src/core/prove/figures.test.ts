/** What each measure comes to on small parts, kept as figures: any change to them shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import { middleOf } from '@/core/mesh/triangle'
import { corners, triangleCount } from '@/core/mesh/tri-mesh'
import { digest, outcome } from '@/testing/digest'
import { part, partNames } from '@/testing/parts'
import { measure, measureKinds } from './measure'

describe.each(partNames)('%s', (name) => {
  it('each measure between places, faces, axes and lines', async () => {
    const mesh = await part(name)
    const n = triangleCount(mesh)
    const [s, t] = [Math.floor(n / 5), Math.floor((3 * n) / 4)]
    const touches = (['point', 'plane', 'axis', 'line'] as const).map((as) => {
      const at = [...middleOf(mesh, s)] as [number, number, number]
      return as === 'line' ? { as, at, to: [...corners(mesh, s)[0]] as [number, number, number] } : { as, at }
    })
    const other = (['point', 'plane', 'axis'] as const).map((as) => ({
      as,
      at: [...middleOf(mesh, t)] as [number, number, number],
    }))
    expect(
      digest(
        measureKinds.flatMap((kind) =>
          touches.flatMap((a) => [
            outcome(() => measure(kind, mesh, a, mesh, undefined)),
            ...other.map((b) => outcome(() => measure(kind, mesh, a, mesh, b, [0.6, 0, 0.8]))),
          ]),
        ),
      ),
    ).toMatchSnapshot()
  })
})
