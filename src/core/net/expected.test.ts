import { describe, expect, it } from '@jest/globals'
import { expectedNet } from './expected'

describe('what a net will be like', () => {
  const ball = { area: 4 * Math.PI * 400, triangles: 20_000 }
  it('by count tells the edge, by edge the count', () => {
    const by = expectedNet(ball, { count: 1000 }, false)!
    expect(by.edge).toBeCloseTo(Math.sqrt(ball.area / 1000), 12)
    expect(expectedNet(ball, { edge: by.edge }, false)!.quads).toBe(1000)
  })
  it('takes longer for more quads, more triangles and hard edges; nothing is told of no skin', () => {
    const s = (count: number, triangles: number, hard: boolean) =>
      expectedNet({ ...ball, triangles }, { count }, hard)!.seconds
    expect(s(2000, 20_000, false)).toBeGreaterThan(s(200, 20_000, false))
    expect(s(2000, 1_000_000, false)).toBeGreaterThan(s(2000, 20_000, false))
    expect(s(2000, 20_000, true)).toBeGreaterThan(s(2000, 20_000, false))
    expect(expectedNet({ area: 0, triangles: 0 }, { count: 10 }, false)).toBeNull()
    expect(expectedNet(ball, { edge: 0 }, false)).toBeNull()
  })
})
