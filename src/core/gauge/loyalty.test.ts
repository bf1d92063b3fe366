import { describe, expect, it } from '@jest/globals'
import { meshVolume } from '@/core/mesh/measures'
import { keepTriangles, triangleCount } from '@/core/mesh/tri-mesh'
import { mendAll } from '@/core/mend/mend-all'
import { sphere, shifted } from '@/testing/shapes'
import { loyaltyFacts, loyaltyOf, loyaltyWarning, loyaltyWords } from './loyalty'

const ball = sphere(20, 4)
/** The part of a ball above a height; a zone of a sphere has area 2 pi r h (Archimedes). */
const above = (z: number) => {
  const { positions: p, triangles: k } = ball
  return keepTriangles(
    ball,
    Uint8Array.from({ length: triangleCount(ball) }, (_, t) =>
      [0, 1, 2].every((c) => p[3 * k[3 * t + c] + 2] >= z) ? 1 : 0,
    ),
  ).mesh
}

describe('loyalty', () => {
  it('of the same skin is whole, in whatever order and facing its triangles come', () => {
    const turned = { positions: ball.positions, triangles: ball.triangles.slice().reverse() }
    for (const r of [ball, turned]) {
      const l = loyaltyOf(ball, r)
      expect([l.kept, l.equal, l.lost, l.fresh, l.greatest]).toEqual([1, 1, 0, 0, 0])
      expect(loyaltyWords(l)).toBe('100 % of the skin kept')
    }
    expect(loyaltyOf(ball, ball).volumeAfter).toBeCloseTo(meshVolume(ball), 6)
  })
  it('tells the share of area that is lost, and how far off it lies', () => {
    const l = loyaltyOf(ball, above(0))
    // Half a ball; its lowest point is sqrt(2) r from the rim.
    expect(l.lost).toBeCloseTo(0.5, 1)
    expect(l.equal).toBeCloseTo(0.5, 1)
    expect(l.greatest).toBeCloseTo(20 * Math.SQRT2, 0)
    expect(l.fresh).toBe(0)
    expect([l.volumeBefore, l.volumeAfter]).toEqual([expect.closeTo(meshVolume(ball), 6), null])
    expect(loyaltyWarning(l)[0]).toMatch(/^5\d(\.\d)? % of the sound skin is lost/)
    expect([...l.inputFates].filter((f) => f === 2).length).toBeGreaterThan(0.4 * triangleCount(ball))
  })
  it('tells what is new of the result', () => {
    const l = loyaltyOf(above(0), ball)
    expect([l.lost, l.equal]).toEqual([0, 1])
    expect(l.fresh).toBeCloseTo(0.5, 1)
    expect(loyaltyWords(l)).toMatch(/^100 % of the skin kept, [45]\d(\.\d)? % new$/)
  })
  it('tells kept from moved and lost by the distance, against the diagonal', () => {
    const size = 40 * Math.sqrt(3)
    for (const [share, fate] of [
      [1 / 4000, 'kept'],
      [1 / 900, 'moved'],
    ] as const) {
      const grown = { ...ball, positions: ball.positions.map((v) => v * (1 + (share * size) / 20)) }
      const l = loyaltyOf(ball, grown)
      expect(l[fate]).toBe(1)
      expect(l.greatest).toBeCloseTo(share * size, 2)
    }
    const far = loyaltyOf(ball, shifted(ball, 100, 0, 0))
    expect(far.lost).toBe(1)
    expect(loyaltyOf(ball, { positions: new Float32Array(0), triangles: new Uint32Array(0) }).lost).toBe(1)
  })
  it('counts no triangle that was a fault by itself, and never says all where it is nearly all', () => {
    const gone = above(0)
    const unsound = Uint8Array.from(loyaltyOf(ball, gone).inputFates, (f) => (f === 0 ? 0 : 1))
    expect(loyaltyOf(ball, gone, { unsound }).lost).toBe(0)
    expect(loyaltyWords({ lost: 0.00004, fresh: 0, inside: 0 })).toBe('99.99 % of the skin kept')
    expect(loyaltyWarning({ lost: 0.004, greatest: 3 })).toEqual([])
  })
  it('of Mend all: a ball with a small hole keeps its skin to the last digit', () => {
    const m = mendAll(above(-18), { speckShare: 0.01, fill: 'smooth' })
    const facts = loyaltyFacts(m.loyalty)
    expect([facts.kept, facts.unmoved]).toEqual([1, 1])
    expect(facts.fresh).toBeGreaterThan(0.02)
    expect(facts.fresh).toBeLessThan(0.12)
    expect(facts.volumeBefore).toBeNull()
    expect(facts.volumeAfter).toBeCloseTo(meshVolume(m.mesh), 6)
  })
})
