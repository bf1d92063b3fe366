/** What holds for booleans of any two bodies. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { meshVolume } from '@/core/mesh/measures'
import { transformMesh, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { checkUp } from '@/core/mesh/check-up'
import { StepError } from '@/core/base/step-error'
import { compose, rotation, translation } from '@/core/math/affine'
import type { Vec3 } from '@/core/math/vec'
import { box, cylinder, shifted } from '@/testing/shapes'
import { anyBody, anyDirection, anyMove, fewRuns } from '@/testing/small-bodies'
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

describe('bodies that touch face to face', () => {
  const block = box(10, 10, 10)
  /** What stands against the block: crossed bars, rods above and below, an L, a stagger, a row, a tower. */
  const against: Record<string, TriMesh[]> = {
    bars: [shifted(box(30, 3, 4), -10, 3.3, 10), shifted(box(3, 30, 4), 3.1, -11, -4)],
    rods: [shifted(cylinder(3.3, 8, 40), 5, 5, 10), shifted(cylinder(2.2, 7, 24), 5, 5, -7)],
    corner: [shifted(block, 10, 0, 0), shifted(block, 0, 10, 0)],
    stagger: [shifted(block, 10, 3.7, 2.1), shifted(box(20, 13.7, 2), 0, 0, -2)],
    row: [shifted(box(10, 10, 10, 4), 10, 0, 0), shifted(box(10, 10, 10, 3), 20, 0, 0)],
    tower: [shifted(box(4, 4, 4), 3, 3, 10), shifted(box(2, 2, 2), 4, 4, 14)],
  }
  it.each(Object.keys(against))(
    'as %s become one piece without crossings, of the volume of all, however they are moved',
    async (name) => {
      await fc.assert(
        fc.asyncProperty(
          anyDirection,
          fc.integer({ min: 0, max: 359 }),
          fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -900, max: 900 }))),
          async (axis, turn, by) => {
            const move = compose(translation(by.map((v) => v / 9.7) as unknown as Vec3), rotation(axis, turn))
            const all = [block, ...against[name]].map((m) => transformMesh(m, move))
            const out = await csg(
              'union',
              all.map((mesh, i) => ({ name: String(i), mesh })),
            )
            const { pieces, selfCrossings, openEdges, nonManifoldEdges } = checkUp(out.mesh).facts
            expect({ pieces, openEdges, nonManifoldEdges }).toEqual({ pieces: 1, openEdges: 0, nonManifoldEdges: 0 })
            // A pair or two of hair's breadth may be left where three faces meet.
            expect(selfCrossings).toBeLessThanOrEqual(2)
            const sum = all.reduce((v, m) => v + meshVolume(m), 0)
            expect(Math.abs(meshVolume(out.mesh) / sum - 1)).toBeLessThan(1e-5)
          },
        ),
        fewRuns(12),
      )
    },
  )
})
