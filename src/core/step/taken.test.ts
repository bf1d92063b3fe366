/** Settings that are taken from bodies, and choices told as names or as yes and no. */
import { describe, expect, it } from '@jest/globals'
import { z } from 'zod'
import { meshBody } from '@/core/bodies/body'
import { box } from '@/testing/shapes'
import { choices, direction, lengthMm, point, points } from './fields'
import { withTaken } from './taken'

const body = meshBody(box(10, 10, 10, 1))
const find = () => body
const top = { from: 'b', as: 'face', at: [3, 4, 10] }
const settings = z.object({
  at: point('At'),
  way: direction('Along'),
  all: points('Places'),
  size: lengthMm('Size'),
})

describe('settings taken from a body', () => {
  it('places and directions become numbers, one by one in a list; all else stays as it is', () => {
    const out = withTaken(settings, { at: top, way: top, all: [[1, 2, 3], top], size: 4 }, find)
    expect(out.size).toBe(4)
    expect(out.at).toEqual([3, 4, 10])
    expect(out.way).toEqual([0, 0, 1])
    expect(out.all).toEqual([
      [1, 2, 3],
      [3, 4, 10],
    ])
  })
  it('what is no list, or not given, is left to the settings themselves', () => {
    expect(withTaken(settings, { all: 'none' }, find)).toEqual({ all: 'none' })
    expect(withTaken(settings, { at: [1, 2, 3] }, find)).toEqual({ at: [1, 2, 3] })
  })
  it('a point tells no direction', () => {
    expect(() => withTaken(settings, { way: { from: 'b', as: 'corner', at: [0, 0, 0] } }, find)).toThrow(
      /tells no direction/,
    )
  })
})

describe('any of a few', () => {
  const schema = choices('Some', ['x', 'y', 'z'], { x: 'x', y: 'y', z: 'z' })
  it('as names in any order, or as yes or no for each', () => {
    expect(schema.parse(['z', 'x'])).toEqual(['x', 'z'])
    expect(schema.parse([true, false, true])).toEqual(['x', 'z'])
    expect(schema.parse([false, true, false])).toEqual(['y'])
  })
  it('at least one, unless none will do', () => {
    expect(() => schema.parse([])).toThrow(/at least one/)
    expect(() => schema.parse([false, false, false])).toThrow(/at least one/)
    expect(choices('Some', ['x'], { x: 'x' }, { least: 0 }).parse([])).toEqual([])
    expect(() => schema.parse([true, false])).toThrow()
  })
})
