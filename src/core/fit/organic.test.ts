/** Parts that bend everywhere are told from mechanical ones by how their skin is shared out. */
import { describe, expect, it } from '@jest/globals'
import { organic } from './organic'

const regions = (areas: readonly number[]) => areas.map((area) => ({ shape: null, triangles: [], area }))

describe('organic', () => {
  it('many bits, none large: the figures are told', () => {
    const found = organic({ drawn: false, regions: regions(Array.from({ length: 100 }, () => 1)) })!
    expect(found.regions).toBe(100)
    expect(found.share).toBeCloseTo(0.12, 9)
  })
  it('a plate with two hundred holes is none: its faces hold the skin', () => {
    expect(organic({ drawn: false, regions: regions([900, 900, ...Array.from({ length: 200 }, () => 2)]) })).toBeNull()
  })
  it('nor is a clean tessellation, nor what has few surfaces', () => {
    const many = regions(Array.from({ length: 100 }, () => 1))
    expect(organic({ drawn: true, regions: many })).toBeNull()
    expect(organic({ drawn: false, regions: many.slice(0, 30) })).toBeNull()
  })
})
