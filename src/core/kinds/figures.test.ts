/** What is told, drawn and stored of a body of each kind, kept as figures: any change to them shows here, and is looked at. */
import { describe, expect, it } from '@jest/globals'
import type { Body } from '@/core/bodies/body'
import { rotation } from '@/core/math/affine'
import type { Vec3 } from '@/core/math/vec'
import { digest, outcome, outcomeOf } from '@/testing/digest'
import { fixtures } from '@/testing/plausible'
import { partWords, pointedPart, raySegment } from './pointed-part'
import {
  boundsOf,
  can,
  coordinatesOf,
  decodeBody,
  encodeBody,
  factsOf,
  kindOf,
  moveBody,
  shownSkin,
  sizeOf,
} from './registry'
import { shadeBody } from './shade'

const rays = [
  { origin: [3, 4, 60] as Vec3, direction: [0, 0, -1] as Vec3 },
  { origin: [60, 9, 9.5] as Vec3, direction: [-1, 0, 0] as Vec3 },
  { origin: [-30, -30, 40] as Vec3, direction: [0.6, 0.6, -0.53] as Vec3 },
]

describe.each(Object.keys(fixtures))('%s', (name) => {
  it('facts, skin, lines, parts, and back from its bytes', async () => {
    const { one } = await fixtures[name]()
    const kind = kindOf(one)
    const back = decodeBody(encodeBody(one))
    expect(encodeBody(back)).toEqual(encodeBody(one))
    const turned = await outcomeOf(() => Promise.resolve(moveBody(one, rotation([0, 0, 1], 30))) as Promise<unknown>)
    const hits = rays.flatMap((ray) =>
      (['face', 'edge', 'any'] as const).map((want) =>
        outcome(() => pointedPart(one, ray, { triangle: 3, distance: 45 }, 2, want)),
      ),
    )
    expect(
      digest({
        facts: factsOf(one),
        bounds: [boundsOf(one), sizeOf(one)],
        coordinates: coordinatesOf(one),
        can: (['surface', 'exact', 'parts', 'check', 'move'] as never[]).map((c) => can(kind, c)),
        skin: outcome(() => shownSkin(one)),
        shaded: shadeBody(one),
        draw: outcome(() => kind.draw(one as never)),
        turned: typeof turned === 'string' ? turned : factsOf(turned as Body),
        hits,
        parts: (['face', 'edge'] as const).map((sort) => outcome(() => kind.parts?.list(one as never, sort))),
        surface: await outcomeOf(() => kind.surface!(one as never, 0.5)),
        check: outcome(() => kind.check?.(one as never, undefined as never)),
      }),
    ).toMatchSnapshot()
  })
})

it('words of parts, and how near a ray passes a line', () => {
  const say = (v: number) => v.toFixed(2)
  expect(
    digest([
      ...(['plane', 'cylinder', 'cone', 'sphere', 'torus', 'line', 'circle', 'bspline'] as const).flatMap((shape) =>
        (['face', 'edge'] as const).map((sort) =>
          partWords(sort, { shape: shape as never, radius: 4, length: 12 }, say),
        ),
      ),
      raySegment([0, 0, 10], [0, 0, -1], [2, -5, 1], [2, 5, 3]),
      raySegment([0, 0, 10], [0, 0, -1], [2, 3, 1], [2, 5, 3]),
      raySegment([0, 0, 10], [1, 0, 0], [0, 0, 0], [5, 0, 0]),
    ]),
  ).toMatchSnapshot()
})

it('exact bodies are scaled evenly or not at all, to nine digits', async () => {
  const { one } = await fixtures.solid()
  const by = (x: number, y: number, z: number, skew = 0) => [x, skew, 0, 0, 0, y, 0, 0, 0, 0, z, 0] as never
  await expect(Promise.resolve(moveBody(one, by(2, 2, 2)))).resolves.toBeDefined()
  await expect(Promise.resolve(moveBody(one, by(2, 2, 2 * (1 + 2e-10))))).resolves.toBeDefined()
  for (const uneven of [by(2, 2, 2.1), by(1, 1, 1 + 4e-9), by(1, 1, 1, 4e-9), by(3, 1, 1)])
    await expect((async () => moveBody(one, uneven))()).rejects.toThrow(/scaled evenly/)
})
