import { describe, expect, it } from '@jest/globals'
import { csg } from '@/core/join/csg'
import { cutterMesh } from '@/core/holes/edit-hole'
import { box, cylinder, sheet, without } from '@/testing/shapes'
import { measure } from './measure'

describe('measures', () => {
  const plate = box(40, 20, 6, 4)
  it('a distance with its parts along x, y, z and along a direction', () => {
    const m = measure(
      'distance',
      plate,
      { as: 'point', at: [0, 0, 0] },
      plate,
      { as: 'point', at: [3, 4, 12] },
      [0, 0, 2],
    )
    expect(m.value).toBe(13)
    expect(m.facts).toMatchObject({ x: 3, y: 4, z: 12, along: 12, across: 5 })
  })
  it('face to face, wall, angle', () => {
    expect(
      measure('faces', plate, { as: 'plane', at: [20, 10, 6] }, plate, { as: 'plane', at: [11, 7, 0] }),
    ).toMatchObject({ value: 6, facts: { parallel: true, facing: true } })
    expect(measure('wall', plate, { as: 'point', at: [13.1, 7.3, 6] }, plate, undefined).value).toBeCloseTo(6, 4)
    expect(
      measure('angle', plate, { as: 'plane', at: [20, 10, 6] }, plate, { as: 'plane', at: [40, 10, 3] }).value,
    ).toBeCloseTo(90, 6)
    expect(
      measure('angle', plate, { as: 'plane', at: [20, 10, 6] }, plate, { as: 'line', at: [0, 0, 0], to: [1, 0, 1] })
        .value,
    ).toBeCloseTo(45, 6)
  })
  it('the diameter of a bore and of a peg, axis to axis', async () => {
    const tools = [
      [10, 10],
      [30, 10],
    ].map(([x, y], i) => ({ name: `t${i}`, mesh: cutterMesh([x, y, 0], [0, 0, 1], 2, -1, 7, 64) }))
    const drilled = (await csg('difference', [{ name: 'p', mesh: plate }, ...tools])).mesh
    expect(measure('diameter', drilled, { as: 'axis', at: [12, 10, 3] }, drilled, undefined).value).toBeCloseTo(4, 2)
    expect(
      measure('distance', drilled, { as: 'axis', at: [12, 10, 3] }, drilled, { as: 'axis', at: [28, 10, 3] }).value,
    ).toBeCloseTo(20, 2)
    expect(
      measure('diameter', cylinder(4, 20, 64, 5), { as: 'axis', at: [4, 0, 10] }, plate, undefined).value,
    ).toBeCloseTo(8, 3)
  })
  it('the length of a rim; what is not there is said', () => {
    const open = without(cylinder(4, 20, 256, 5), (_x, _y, z) => z > 19.9)
    expect(measure('rim', open, { as: 'point', at: [4, 0, 20] }, open, undefined).value).toBeCloseTo(8 * Math.PI, 2)
    expect(() => measure('rim', plate, { as: 'point', at: [0, 0, 0] }, plate, undefined)).toThrow(/no open rim/)
    expect(() => measure('diameter', plate, { as: 'axis', at: [20, 10, 6] }, plate, undefined)).toThrow(/no round wall/)
    expect(() => measure('distance', plate, { as: 'point', at: [0, 0, 0] }, plate, undefined)).toThrow(/two places/)
    expect(() => measure('wall', sheet(10, 4), { as: 'point', at: [5, 5, 0] }, plate, undefined)).toThrow(/open there/)
  })
})
