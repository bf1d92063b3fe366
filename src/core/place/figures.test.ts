/** Where bodies are set down, lined up and matched, and what is measured of them, kept as figures: any change shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import { rotation, translation } from '@/core/math/affine'
import type { Vec3 } from '@/core/math/vec'
import { transformMesh } from '@/core/mesh/tri-mesh'
import { digest, outcome } from '@/testing/digest'
import { part, type PartName } from '@/testing/parts'
import { matchToBody, rigidFit } from './register'
import { lineUp, threeTouch } from './three-touch'

const touch = (point: Vec3, direction: Vec3 | null) => ({ point, direction, rms: 0 })
const face = touch([1, 2, 3], [0.48, 0.6, 0.64])
const edge = touch([4, 0, 2], [0.8, -0.6, 0])
const corner = touch([2, 2, 9], null)

it('three touches and lining up', () => {
  const goes = ['under', 'top', 'front', 'back', 'left', 'right'] as const
  expect(
    digest([
      goes.flatMap((g) =>
        (['x', 'y', 'z'] as const).flatMap((h) => [
          outcome(() => threeTouch(face, g, edge, h, corner)),
          outcome(() => threeTouch(face, g, null, h, corner)),
          outcome(() => threeTouch(face, g, edge, h, null)),
        ]),
      ),
      outcome(() => threeTouch(corner, 'under', null, 'x', null)),
      (['concentric', 'flush', 'facing', 'point'] as const).map((how) => [
        outcome(() => lineUp(how, face, edge, 1.5)),
        outcome(() => lineUp(how, corner, face, 0)),
      ]),
    ]),
  ).toMatchSnapshot()
})

describe.each(['bored plate, coarse', 'open box'] as PartName[])('%s', (name) => {
  it('moved a little, matched back', async () => {
    const still = await part(name)
    const moving = transformMesh(transformMesh(still, rotation([0.2, 0.3, 0.9], 6)), translation([0.8, -0.5, 0.4]))
    expect(
      digest([
        ...(['as-is', 'axes'] as const).flatMap((start) =>
          [1, 0.8].map((trust) => outcome(() => matchToBody(moving, still, { start, trust, iterations: 5 }))),
        ),
        outcome(() =>
          matchToBody(moving, still, {
            start: 'pairs',
            trust: 1,
            iterations: 3,
            pairs: [0, 7, 20].map((v) => ({ from: [v, 1, 2] as Vec3, to: [v + 1, 1, 2] as Vec3 })) as never,
          }),
        ),
      ]),
    ).toMatchSnapshot()
  })
})
it('pairs fitted', () => {
  const pairs = [0, 1, 2, 3].map((i) => ({ from: [i, i * i, 1] as Vec3, to: [2 + i, -(i * i), 0.1 * i] as Vec3 }))
  expect(digest(outcome(() => rigidFit(pairs as never)))).toMatchSnapshot()
})
