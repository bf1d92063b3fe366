/** What holds for booleans of any two bodies. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { meshVolume } from '@/core/mesh/measures'
import { transformMesh, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { checkUp } from '@/core/mesh/check-up'
import { StepError } from '@/core/base/step-error'
import { anyBody, anyMove, fewRuns } from '@/testing/small-bodies'
import { csg, type CsgKind } from './csg'

/** Volume of a boolean; nothing left is nought. */
async function volume(kind: CsgKind, a: TriMesh, b: TriMesh): Promise<number> {
  try {
    const { mesh } = await csg(kind, [
      { name: 'a', mesh: a },
      { name: 'b', mesh: b },
    ])
    if (triangleCount(mesh)) expect(checkUp(mesh).facts).toMatchObject({ openEdges: 0, flippedEdges: 0 })
    return meshVolume(mesh)
  } catch (e) {
    if (e instanceof StepError && e.code === 'empty-result') return 0
    throw e
  }
}
/** Within what single precision costs on bodies of this size. */
const near = (a: number, b: number, size: number) => expect(Math.abs(a - b)).toBeLessThan(2e-5 * size)

describe('booleans', () => {
  it('union and intersection add up to both; a difference and the intersection to the first', async () => {
    await fc.assert(
      fc.asyncProperty(anyBody, anyBody, async (a, b) => {
        const [union, common, less] = [
          await volume('union', a, b),
          await volume('intersection', a, b),
          await volume('difference', a, b),
        ]
        const all = meshVolume(a) + meshVolume(b)
        near(union + common, all, all)
        near(less + common, meshVolume(a), all)
        expect(common).toBeLessThanOrEqual(Math.min(meshVolume(a), meshVolume(b)) + 2e-5 * all)
      }),
      fewRuns(25),
    )
  })
  it('do not ask which body comes first, nor where both lie', async () => {
    await fc.assert(
      fc.asyncProperty(anyBody, anyBody, anyMove, async (a, b, move) => {
        const all = meshVolume(a) + meshVolume(b)
        const union = await volume('union', a, b)
        near(await volume('union', b, a), union, all)
        near(await volume('union', transformMesh(a, move), transformMesh(b, move)), union, all)
      }),
      fewRuns(12),
    )
  })
  it('of a body with itself give it back, and nothing', async () => {
    await fc.assert(
      fc.asyncProperty(anyBody, async (a) => {
        const own = meshVolume(a)
        near(await volume('union', a, a), own, own)
        near(await volume('intersection', a, a), own, own)
        near(await volume('difference', a, a), 0, own)
      }),
      fewRuns(10),
    )
  })
})
