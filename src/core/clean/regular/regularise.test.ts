/** Shapes nearly regular become so where the places they were fitted to allow it, and stay where those do not. */
import { describe, expect, it } from '@jest/globals'
import type { Fitted } from '@/core/fit/fit-shape'
import { addScaled, cross, dot, normalize, perpendicular, type Vec3 } from '@/core/math/vec'
import type { Given } from './finder'
import { regularise } from '.'

const fitted = (shape: object): Fitted =>
  ({ rms: 1e-4, max: 3e-4, inliers: 1, inside: false, sigma: 1e-4, ...shape }) as Fitted
/** Places all over a shape, as a scan would have them. */
function placesOn(s: Fitted): Vec3[] {
  const axis = s.axis!
  const x = perpendicular(axis)
  const y = cross(axis, x)
  const at = (r: number, a: number, h: number) =>
    addScaled(addScaled(addScaled(s.at, x, r * Math.cos(a)), y, r * Math.sin(a)), axis, h)
  const out: Vec3[] = []
  for (let i = 0; i < 24; i++)
    for (let j = 0; j < 6; j++) {
      const a = (2 * Math.PI * i) / 24
      if (s.kind === 'plane') out.push(at(1 + j, a, 0))
      else if (s.kind === 'cylinder') out.push(at(s.radius!, a, 2 * j))
      else if (s.kind === 'cone') out.push(at((4 + j) * Math.tan((s.halfAngle! * Math.PI) / 180), a, 4 + j))
    }
  return out
}
const given = (shapes: readonly object[]): Given[] =>
  shapes.map((s) => {
    const shape = fitted(s)
    return { shape, points: placesOn(shape), area: 100 }
  })
const run = (shapes: readonly object[], more: object = {}) =>
  regularise(given(shapes), { close: 0.02, drawn: false, beside: () => false, ...more })
const near = (v: readonly number[], w: readonly number[], digits = 6) =>
  v.forEach((x, k) => expect(x).toBeCloseTo(w[k], digits))
/** Turned by so many thousandths. */
const tilted = (d: Vec3, by: number): Vec3 => normalize(addScaled(d, perpendicular(d), by / 1000))

describe('directions', () => {
  it('a hair off the axes of the world come to them; what is farther off stays', () => {
    const { shapes } = run([
      { kind: 'plane', at: [0, 0, 5.0003], axis: tilted([0, 0, 1], 0.3) },
      { kind: 'plane', at: [0, 0, -3], axis: tilted([0, 0, -1], 0.2) },
      { kind: 'plane', at: [7.001, 0, 0], axis: tilted([-1, 0, 0], 0.3) },
      { kind: 'plane', at: [0, 9, 0], axis: normalize([0, 1, 0.3]) },
    ])
    near(shapes[0].axis!, [0, 0, 1], 12)
    near(shapes[1].axis!, [0, 0, -1], 12)
    near(shapes[2].axis!, [-1, 0, 0], 12)
    near(shapes[3].axis!, normalize([0, 1, 0.3]))
  })
  it('planes aslant that are nearly parallel or square become so, each on its own side', () => {
    const n = normalize([1, 2, 3] as Vec3)
    const m = normalize(cross(n, [0, 0, 1]))
    const { shapes } = run([
      { kind: 'plane', at: [0, 0, 0], axis: n },
      { kind: 'plane', at: [1, 2, 3], axis: tilted([-n[0], -n[1], -n[2]], 0.4) },
      { kind: 'plane', at: [4, 0, 0], axis: tilted(m, 0.4) },
    ])
    expect(dot(shapes[0].axis!, shapes[1].axis!)).toBeCloseTo(-1, 12)
    expect(Math.abs(dot(shapes[0].axis!, shapes[2].axis!))).toBeLessThan(1e-9)
  })
})

describe('places and sizes', () => {
  it('planes square to an axis stand at round numbers, below nought as above, facing either way', () => {
    const { shapes, found } = run([
      { kind: 'plane', at: [1.234, 2.345, 4.9996], axis: [0, 0, 1] },
      { kind: 'plane', at: [1.234, 2.345, -3.2503], axis: [0, 0, -1] },
      { kind: 'plane', at: [-6.0004, 2.345, 1], axis: [-1, 0, 0] },
    ])
    expect([shapes[0].at[2], shapes[1].at[2], shapes[2].at[0]]).toEqual([5, -3.25, -6])
    expect(found.filter((f) => f.kind === 'round').map((f) => f.text)).toEqual(
      expect.arrayContaining(['1 plane at z 5', '1 plane at z -3.25', '1 plane at x -6']),
    )
    // Nothing moves along its own plane.
    near([shapes[0].at[0], shapes[0].at[1]], [1.234, 2.345], 9)
  })
  it('radii of walls that are nearly one are one, weighed by their skin; a round one is taken before', () => {
    const wall = (x: number, radius: number) => ({ kind: 'cylinder', at: [x, 0, 0], axis: [0, 0, 1], radius })
    const round = run([wall(0.37, 3.0003), wall(20.41, 2.9998)]).shapes
    expect(round.map((s) => s.radius)).toEqual([3, 3])
    const equal = run([wall(0.37, 3.0137), wall(20.41, 3.0141)]).shapes
    expect(equal[0].radius).toBe(equal[1].radius)
    expect(equal[0].radius).toBeCloseTo(3.0139, 6)
    const apart = run([wall(0.37, 3.0137), wall(20.41, 3.3141)]).shapes
    expect(apart[1].radius! - apart[0].radius!).toBeGreaterThan(0.25)
  })
  it('a wall stands at a round place across its axis, and moves by no more than it had to', () => {
    const { shapes } = run([{ kind: 'cylinder', at: [4.9997, -7.5002, 1.234567], axis: [0, 0, 1], radius: 3.0137 }])
    near(shapes[0].at.slice(0, 2), [5, -7.5], 9)
    near(shapes[0].axis!, [0, 0, 1], 12)
  })
  it('a cone comes to a whole angle where its wall allows it, most of which stays where it was', () => {
    const cone = { kind: 'cone', at: [0, 0, 0], axis: [0, 0, 1], halfAngle: 30.02 }
    const { shapes } = run([cone])
    expect(shapes[0].halfAngle).toBe(30)
    const at = (s: { at: Vec3; halfAngle?: number }, z: number) =>
      (z - s.at[2]) * Math.tan((s.halfAngle! * Math.PI) / 180)
    expect(at(shapes[0] as never, 6.5)).toBeCloseTo(6.5 * Math.tan((30.02 * Math.PI) / 180), 2)
  })
})

it('what is told to be let be is found and not taken', () => {
  const plane = { kind: 'plane', at: [1.234, 2.345, 4.9996], axis: [0, 0, 1] }
  const { shapes, found } = run([plane], { loose: ['1 plane at z 5'] })
  expect(shapes[0].at[2]).toBe(4.9996)
  expect(found.find((f) => f.text === '1 plane at z 5')).toMatchObject({ taken: false })
})
