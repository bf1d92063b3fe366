/** Bodies told by their surfaces, curves and corners: seams, poles and hollows are the kernel's to put in; volumes by closed forms. */
import { describe, expect, it } from '@jest/globals'
import type { BoundBody, BoundCurve, BoundFace } from '@/core/bodies/bounded'
import type { Vec3 } from '@/core/math/vec'
import { boundedBody } from './bounded'

const [o, x, z]: Vec3[] = [
  [0, 0, 0],
  [1, 0, 0],
  [0, 0, 1],
]
const circle = (height: number, radius: number): BoundCurve => ({
  kind: 'circle',
  centre: [0, 0, height],
  axis: z,
  radius,
})
const ring = (edge: number, forward: boolean) => [{ edge, forward }]
const body = (faces: BoundFace[], corners: Vec3[], curves: BoundCurve[], closed = true): BoundBody => ({
  corners,
  edges: curves.map((curve, i) => ({ from: i, to: i, curve })),
  faces,
  shells: [{ outer: faces.map((_, i) => i), hollows: [] }],
  closed,
})
const flat = (height: number, up: boolean, loops: BoundFace['loops']): BoundFace => ({
  surface: { kind: 'plane', at: [0, 0, height], axis: up ? z : [0, 0, -1] },
  x,
  flip: false,
  loops,
})
const wall = (radius: number, loops: BoundFace['loops'], flip = false, seam: Vec3 = x): BoundFace => ({
  surface: { kind: 'cylinder', at: o, axis: z, radius },
  x: seam,
  flip,
  loops,
})
const tube = (seam: Vec3) =>
  body(
    [
      flat(20, true, [ring(0, true), ring(1, false)]),
      flat(0, false, [ring(2, false), ring(3, true)]),
      wall(10, [ring(0, false), ring(2, true)], false, seam),
      wall(5, [ring(1, true), ring(3, false)], true),
    ],
    [
      [10, 0, 20],
      [5, 0, 20],
      [10, 0, 0],
      [5, 0, 0],
    ],
    [circle(20, 10), circle(20, 5), circle(0, 10), circle(0, 5)],
  )
const made = async (b: BoundBody) => {
  const r = await boundedBody(b, 'Test', 'b', 1e-4)
  if (!('body' in r)) throw r.why
  return r.body
}

describe('a body from its parts', () => {
  it.each<[string, BoundBody, number, number]>([
    ['a tube', tube(x), 1500 * Math.PI, 4],
    ['a tube whose seam is not where its corners are', tube([0, 1, 0]), 1500 * Math.PI, 4],
    [
      'a dome: the pole lies in the face',
      body(
        [
          flat(0, false, [ring(0, false)]),
          { surface: { kind: 'sphere', at: o, axis: z, radius: 10 }, x, flip: false, loops: [ring(0, true)] },
        ],
        [[10, 0, 0]],
        [circle(0, 10)],
      ),
      (2000 / 3) * Math.PI,
      2,
    ],
    [
      'a cone with its tip',
      body(
        [
          flat(0, false, [ring(0, false)]),
          {
            surface: { kind: 'cone', at: [0, 0, 10], axis: [0, 0, -1], halfAngle: 45 },
            x,
            flip: false,
            loops: [ring(0, true)],
          },
        ],
        [[10, 0, 0]],
        [circle(0, 10)],
      ),
      (1000 / 3) * Math.PI,
      2,
    ],
    [
      'a ball without any border',
      body([{ surface: { kind: 'sphere', at: o, axis: z, radius: 10 }, x, flip: false, loops: [] }], [], []),
      (4000 / 3) * Math.PI,
      1,
    ],
    [
      'a whole ring (Pappus)',
      body(
        [{ surface: { kind: 'ring', at: o, axis: z, radius: 10, thickness: 3 }, x, flip: false, loops: [] }],
        [],
        [],
      ),
      2 * Math.PI ** 2 * 90,
      1,
    ],
    [
      'the outer half of a ring (Pappus)',
      body(
        [
          {
            surface: { kind: 'ring', at: o, axis: z, radius: 10, thickness: 3 },
            x,
            flip: false,
            loops: [ring(0, false), ring(1, true)],
          },
          wall(10, [ring(0, true), ring(1, false)], true),
        ],
        [
          [10, 0, 3],
          [10, 0, -3],
        ],
        [circle(3, 10), circle(-3, 10)],
      ),
      Math.PI ** 2 * 90 + 36 * Math.PI,
      2,
    ],
  ])('%s', async (_name, b, volume, faces) => {
    const solid = await made(b)
    expect(solid.kind).toBe('solid')
    expect(solid.facts).toMatchObject({ valid: true, closed: true, faces })
    expect(solid.facts.volume / volume).toBeCloseTo(1, 9)
  })
  it('an open one is a sheet', async () => {
    const sheet = await made(
      body(
        [wall(10, [ring(0, false), ring(1, true)])],
        [
          [10, 0, 20],
          [10, 0, 0],
        ],
        [circle(20, 10), circle(0, 10)],
        false,
      ),
    )
    expect(sheet.kind).toBe('sheet')
    expect(sheet.facts.area).toBeCloseTo(400 * Math.PI, 6)
  })
  it('a hollow is taken from the volume', async () => {
    const ball = (radius: number, flip: boolean): BoundFace => ({
      surface: { kind: 'sphere', at: o, axis: z, radius },
      x,
      flip,
      loops: [],
    })
    const b = { ...body([ball(10, false), ball(6, true)], [], []), shells: [{ outer: [0], hollows: [[1]] }] }
    expect((await made(b)).facts.volume).toBeCloseTo((4 / 3) * Math.PI * (1000 - 216), 4)
  })
  it('a face that leaves a gap is told by its number', async () => {
    // The upper end lies beside the wall it should close.
    const wrong = tube(x)
    const r = await boundedBody(
      {
        ...wrong,
        faces: [{ ...wrong.faces[0], surface: { kind: 'plane', at: [0, 0, 26], axis: z } }, ...wrong.faces.slice(1)],
      },
      'Test',
      'b',
      1e-4,
    )
    expect('faulty' in r).toBe(true)
    if ('faulty' in r) expect(r.faulty).toContain(0)
  })
})

describe('a body that is to close', () => {
  it('and lacks a face is none: the faces beside the gap are told', async () => {
    const whole = tube(x)
    const lacking: BoundBody = { ...whole, shells: [{ outer: [0, 2, 3], hollows: [] }] }
    const r = await boundedBody(lacking, 'Test', 'b', 1e-4)
    expect('faulty' in r && r.faulty).toEqual([2, 3])
    // Told to be open, the same is a sheet.
    expect((await made({ ...lacking, closed: false })).kind).toBe('sheet')
  })
})
