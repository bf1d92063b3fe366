/** Laws that every kind of body keeps: bytes there and back, moves that can be taken back, figures that do not change with the place. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { meshVolume } from '@/core/mesh/measures'
import { boundsSize, emptyMesh } from '@/core/mesh/tri-mesh'
import { applyPoint, compose, mirror, rotation, scaling, translation, type Affine } from '@/core/math/affine'
import type { Vec3 } from '@/core/math/vec'
import { meshBody, type Body, type ExactBody } from '@/core/bodies/body'
import { packBytes } from '@/core/bodies/container'
import { makeBlock } from '@/core/kernels/exact/primitives'
import { fixtures } from '@/testing/plausible'
import { anyDirection, fewRuns } from '@/testing/small-bodies'
import { box } from '@/testing/shapes'
import { bulkOf } from './bulk'
import { capabilities } from './kind'
import {
  allKinds,
  boundsOf,
  can,
  decodeBody,
  encodeBody,
  factsOf,
  kindOf,
  kindsThat,
  moveBody,
  requireCapability,
  shownSkin,
  sizeOf,
} from './registry'
import { shadeBody } from './shade'

const named = await Promise.all(
  [
    'mesh',
    'mesh, open at the top',
    'mesh with a bore',
    'net',
    'cage',
    'solid',
    'solid with a bore',
    'sheet',
    'outline',
    'datum',
  ].map(async (name): Promise<[string, Body]> => [name, (await fixtures[name]()).one]),
)
/** A turn and a move with their inverse. */
const rigid: fc.Arbitrary<{ there: Affine; back: Affine }> = fc
  .tuple(
    anyDirection,
    fc.integer({ min: -170, max: 170 }),
    fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -50, max: 50 }))),
  )
  .map(([axis, angle, [x, y, z]]) => ({
    there: compose(translation([x, y, z]), rotation(axis, angle)),
    back: compose(rotation(axis, -angle), translation([-x, -y, -z])),
  }))
/** Figures that say how large a body is, without where it stands. */
const figuresOf = (body: Body): Readonly<Record<string, number>> => {
  const { triangles, ...figures } = factsOf(body).figures as Readonly<Record<string, number>>
  // The facets that an exact body is shown by are none of its own.
  return triangles === undefined || can(kindOf(body), 'exact') ? figures : { triangles, ...figures }
}

it('the bodies here are of every kind there is', () => {
  expect([...new Set(named.map(([, b]) => b.kind))].sort()).toEqual(
    allKinds()
      .map((k) => k.kind)
      .sort(),
  )
})

describe.each(named)('a body: %s', (_, body) => {
  it('comes back from its bytes, and gives the same bytes again', () => {
    const bytes = encodeBody(body)
    const back = decodeBody(bytes)
    expect(encodeBody(back)).toEqual(bytes)
    expect(factsOf(back)).toEqual(factsOf(body))
    expect(back.kind).toBe(body.kind)
    // Bytes of a later version are refused, not guessed.
    expect(() => decodeBody(bytes.slice(0, bytes.length >> 1))).toThrow(expect.objectContaining({ code: 'bad-body' }))
  })
  it('moved there and back stands where it stood, and is as large on the way', async () => {
    await fc.assert(
      fc.asyncProperty(rigid, async ({ there, back }) => {
        const moved = await moveBody(body, there)
        for (const [key, value] of Object.entries(figuresOf(body)))
          expect([key, figuresOf(moved)[key] / (value || 1)]).toEqual([key, expect.closeTo(value ? 1 : 0, 4)])
        const again = await moveBody(moved, back)
        const [a, b] = [boundsOf(body), boundsOf(again)]
        for (const k of [0, 1, 2]) {
          expect(b.min[k]).toBeCloseTo(a.min[k], 3)
          expect(b.max[k]).toBeCloseTo(a.max[k], 3)
        }
      }),
      fewRuns(3),
    )
  })
  it('scaled evenly and mirrored changes its measures by the powers of the factor', async () => {
    const twice = await moveBody(body, scaling(2))
    sizeOf(twice).forEach((v, k) => expect(v).toBeCloseTo(2 * sizeOf(body)[k], 3))
    const { volume, area } = figuresOf(body)
    if (area !== undefined) expect(figuresOf(twice).area / (area || 1)).toBeCloseTo(area ? 4 : 0, 4)
    if (volume !== undefined) expect(figuresOf(twice).volume / (volume || 1)).toBeCloseTo(volume ? 8 : 0, 4)
    const other = await moveBody(body, mirror([0, 0, 0], [1, 0, 0]))
    expect(boundsOf(other).min[0]).toBeCloseTo(-boundsOf(body).max[0], 4)
    if (volume !== undefined) expect(figuresOf(other).volume).toBeCloseTo(volume, 2)
  })
  it('is drawn within its bounds, with as many normals as corners', () => {
    const { min, max } = boundsOf(body)
    const { positions, normals, index, lines } = shadeBody(body)
    expect(normals.length).toBe(positions.length)
    expect(index.every((v) => v < positions.length / 3)).toBe(true)
    const reach = 1e-4 + 1e-6 * Math.hypot(...boundsSize({ min, max }))
    for (const list of [positions, lines])
      for (let i = 0; i < list.length; i++) {
        expect(list[i]).toBeGreaterThanOrEqual(min[i % 3] - reach)
        expect(list[i]).toBeLessThanOrEqual(max[i % 3] + reach)
      }
    expect(shownSkin(body)).toEqual(kindOf(body).draw(body).skin ? expect.anything() : emptyMesh())
  })
  it('can what its kind says, and is refused in words what it cannot', async () => {
    const kind = kindOf(body)
    for (const c of capabilities) {
      expect(kindsThat(c).includes(body.kind)).toBe(can(kind, c))
      expect(factsOf(body).can?.includes(c)).toBe(can(kind, c))
      if (can(kind, c)) expect(requireCapability('b', body, c)).toBe(kind)
      else expect(() => requireCapability('b', body, c)).toThrow(expect.objectContaining({ code: 'wrong-kind' }))
    }
    const surface = await kind.surface?.(body, 0.01)
    const { volume } = figuresOf(body)
    if (surface && volume) expect(meshVolume(surface.mesh) / volume).toBeCloseTo(1, 2)
  })
})

it('a skin tells volume and middle only where it is closed', () => {
  const mesh = box(2, 4, 6)
  const closed = bulkOf(mesh, true)
  expect([closed.volume, closed.area]).toEqual([48, 88])
  expect(closed.rows.find((r) => r.key === 'centre')!.value as unknown as Vec3).toEqual([1, 2, 3])
  const open = bulkOf(mesh, false)
  expect([open.volume, open.area, open.rows.map((r) => r.key)]).toEqual([0, 88, ['area']])
  expect(closed.place).toEqual({ min: [0, 0, 0], size: [2, 4, 6] })
  expect(applyPoint(translation([1, 0, 0]), [0, 0, 0])).toEqual([1, 0, 0])
  expect(factsOf(meshBody(mesh)).sound).toBe(true)
})

describe('exact bodies whose head is damaged', () => {
  it('are refused as bad bodies, whichever part of it is', async () => {
    const solid = await makeBlock([3, 2, 1], [0, 0, 0], [0, 0, 1], [1, 0, 0])
    const whole = kindOf(solid)
    const packed = whole.pack(solid)
    const again = (head: object) =>
      decodeBody(packBytes({ kind: 'solid', version: whole.version, ...packed, head: { ...packed.head, ...head } }))
    expect((again({}) as ExactBody).facts.volume).toBeCloseTo(6, 9)
    for (const head of [{ facts: {} }, { facts: { ...solid.facts, volume: 'six' } }, { facts: null }, { parts: {} }])
      expect(() => again(head)).toThrow(expect.objectContaining({ code: 'bad-body' }))
  })
})
