import { describe, expect, it } from '@jest/globals'
import { normalize } from '@/core/math/vec'
import { concatMeshes } from '@/core/mesh/tri-mesh'
import { box, inward, sheet, sphere } from '@/testing/shapes'
import { facesInPlane } from './in-plane'

describe('faces in a cutting plane', () => {
  it('the top and the bottom of a block by their area, its middle by none, whichever way the plane looks', () => {
    const block = box(20, 10, 6, 3)
    for (const side of [1, -1]) {
      expect(facesInPlane(block, [0, 0, side], side * 6).area).toBeCloseTo(200, 4)
      expect(facesInPlane(block, [0, 0, side], 0).area).toBeCloseTo(200, 4)
      // The block lies behind its top and before its bottom, whichever way the plane looks.
      expect(Math.sign(facesInPlane(block, [0, 0, side], side * 6).facing)).toBe(side)
      expect(Math.sign(facesInPlane(block, [0, 0, side], 0).facing)).toBe(-side)
      expect(facesInPlane(block, [0, 0, side], side * 3.1).area).toBe(0)
    }
    expect(facesInPlane(block, [1, 0, 0], 20).area).toBeCloseTo(60, 4)
  })
  it('a slanting plane through an edge only, and a round body, have none', () => {
    expect(facesInPlane(box(10, 10, 10), normalize([1, 1, 0]), 0).area).toBe(0)
    expect(facesInPlane(sphere(10, 4), [0, 0, 1], 3).area).toBe(0)
  })
})

describe('faces in a plane', () => {
  it('have their area, and face by where the body lies', () => {
    const block = box(4, 5, 6, 3)
    expect(facesInPlane(block, [0, 0, 1], 6)).toEqual({ area: expect.closeTo(20, 5), facing: expect.closeTo(20, 5) })
    expect(facesInPlane(block, [0, 0, 1], 0)).toEqual({ area: expect.closeTo(20, 5), facing: expect.closeTo(-20, 5) })
    expect(facesInPlane(block, [0, 0, -1], 0).facing).toBeCloseTo(20, 5)
    expect(facesInPlane(block, [1, 0, 0], 4).area).toBeCloseTo(30, 5)
    expect(facesInPlane(block, [0, 0, 1], 3)).toEqual({ area: 0, facing: 0 })
    // Of a leaf both sides count for the area, and nothing faces.
    const leaf = concatMeshes([sheet(4, 2), inward(sheet(4, 2))])
    const { area, facing } = facesInPlane(leaf, [0, 0, 1], 0)
    expect(area).toBeGreaterThan(20)
    expect(facing).toBeCloseTo(0, 6)
  })
})
