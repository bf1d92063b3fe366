/** Boxes of what faces are within their borders, against closed forms. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import type { Body, ExactBody, OutlineBody } from '@/core/bodies/body'
import { compose, rotation, translation } from '@/core/math/affine'
import { dot, normalize, type Vec3 } from '@/core/math/vec'
import { drawingPlane, type Place } from '@/core/outline/drawing'
import { anyDirection, fewRuns } from '@/testing/small-bodies'
import { runStep } from '@/testing/run-step'
import { makeCylinder, makeRing, makeSphere } from './primitives'
import { transformSolid } from './transform'

const made = async (kind: string, settings: Record<string, unknown>, bodies: Record<string, Body>, name: string) =>
  (await runStep(kind, settings, bodies)).bodies[name] as ExactBody
const close = (is: readonly number[], must: readonly number[], digits = 5) =>
  must.forEach((v, k) => expect(is[k]).toBeCloseTo(v, digits))
const ends = ({ facts: { min, size } }: ExactBody) => [...min, ...min.map((v, k) => v + size[k])]
/** How far a disc reaches from its middle along an axis. */
const reach = (radius: number, axis: Vec3, k: number) => radius * Math.sqrt(Math.max(0, 1 - axis[k] ** 2))

describe('the box of a body', () => {
  it('of rods and rings is that of their closed form, whichever way they point', async () => {
    await fc.assert(
      fc.asyncProperty(anyDirection, async (axis) => {
        const rod = await makeCylinder(3, 11, [1, 2, 3], axis)
        close(
          ends(rod),
          [-1, 1].flatMap((side) =>
            [0, 1, 2].map(
              (k) =>
                [1, 2, 3][k] +
                (side < 0 ? Math.min(0, 11 * axis[k]) : Math.max(0, 11 * axis[k])) +
                side * reach(3, axis, k),
            ),
          ),
        )
        const ring = await makeRing(9, 2, [1, 2, 3], axis)
        close(
          ends(ring),
          [-1, 1].flatMap((side) => [0, 1, 2].map((k) => [1, 2, 3][k] + side * (2 + reach(9, axis, k)))),
        )
      }),
      fewRuns(6),
    )
  })
  it('of a ball cut aslant is that of what is left', async () => {
    const ball = await makeSphere(10, [0, 0, 0])
    const n = normalize([1, 0.4, 0.7])
    // What lies below the plane 4 mm from its middle along n.
    const half = await made(
      'build/cut-by-plane',
      { body: 'b', at: n.map((v) => 4 * v), normal: n, keep: 'b' },
      { b: ball },
      'b',
    )
    const [far, r] = [4, Math.sqrt(100 - 16)]
    const tip = (way: Vec3) => (dot(way, n) * 10 <= far ? 10 : far * dot(way, n) + r * Math.sqrt(1 - dot(way, n) ** 2))
    const axes: Vec3[] = [
      [1, 0, 0],
      [0, 1, 0],
      [0, 0, 1],
    ]
    close(ends(half), [-10, -10, -10, ...axes.map(tip)])
  })
  it('of a block cut out of a bulging patch ends at the block', async () => {
    // A bowl turned from a spline, of which a block keeps the middle.
    const points: Place[] = [
      [0, 0],
      [12, 1],
      [25, 8],
      [40, 30],
      [0, 30],
    ]
    const bowl: OutlineBody = {
      kind: 'outline',
      plane: drawingPlane([0, 0, 0], [0, -1, 0]),
      drawing: {
        points,
        curves: [
          { kind: 'spline', through: [0, 1, 2, 3] },
          { kind: 'line', from: 3, to: 4 },
          { kind: 'line', from: 4, to: 0 },
        ],
      },
      reference: [],
    }
    const turned = await made('build/revolve', { outline: 'o', axis: [0, 0, 1] }, { o: bowl }, 'turning')
    expect(turned.facts.size[0]).toBeCloseTo(80, 4)
    const block = await made('build/block', { name: 'k', size: [20, 20, 20], at: [0, 0, 0] }, {}, 'k')
    const both = await made(
      'build/intersection',
      { bodies: ['turning', 'k'] },
      { turning: turned, k: block },
      'turning',
    )
    close(both.facts.size.slice(0, 2), [20, 20], 5)
    expect(both.facts.min[2] + both.facts.size[2]).toBeCloseTo(20, 5)
    const far = await transformSolid(both, compose(translation([300, 0, 0]), rotation([0, 0, 1], 90)))
    close(far.facts.size, both.facts.size, 5)
  })
})
