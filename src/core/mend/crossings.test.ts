/** Crossings: which are cut along, which are taken out, and that nothing is ever left of nothing. */
import { describe, expect, it } from '@jest/globals'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { meshVolume } from '@/core/mesh/measures'
import { concatMeshes, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { addCrossing } from '@/demo/damage'
import { eight, terrain } from '@/testing/hard'
import { inward, sheet, shifted, sphere, torus } from '@/testing/shapes'
import { mendAll } from './mend-all'
import { resolveCrossings, withinPieces } from './resolve-crossings'
import { crossingClusters } from './tangles'
import { faceShells, uniteEach, uniteShells } from './unite-shells'

const figure = eight()
const crossings = (m: TriMesh) => findSelfCrossings(m).length / 2
const whole = meshVolume(resolveCrossings(figure).mesh)

describe('a tube that runs through itself', () => {
  it('is cut along its crossing and loses what is in both', () => {
    const r = resolveCrossings(figure)
    expect([r.before > 50, r.cut > 50, r.united]).toEqual([true, true, true])
    expect(faultCount(checkUp(r.mesh).facts)).toBe(0)
    expect(whole).toBeLessThan(meshVolume(figure))
    expect(whole).toBeGreaterThan(0.95 * meshVolume(figure))
  })
  it('comes out the same when it faced inward', () => {
    expect(meshVolume(resolveCrossings(inward(figure)).mesh)).toBeCloseTo(whole, 3)
  })
  it('stays as it is where its triangles do not run one way round: there is no inside to go by', () => {
    const mixed = { ...figure, triangles: figure.triangles.slice() }
    for (let t = 0; t < 600; t++)
      [mixed.triangles[3 * t + 1], mixed.triangles[3 * t + 2]] = [
        mixed.triangles[3 * t + 2],
        mixed.triangles[3 * t + 1],
      ]
    const r = resolveCrossings(mixed)
    expect([r.united, triangleCount(r.mesh), r.after]).toEqual([false, triangleCount(mixed), r.before])
    // Mend all turns them first.
    expect(faultCount(mendAll(mixed, { speckShare: 0.01, fill: 'smooth' }).after)).toBe(0)
  })
  it.each([false, true])('lines a hollow still when it did (kept apart: %p)', (keepApart) => {
    const hollow = concatMeshes([sphere(60, 4), inward(figure)])
    const m = mendAll(hollow, { speckShare: 0.001, fill: 'smooth', keepApart })
    expect(faultCount(m.after)).toBe(0)
    expect(m.after.pieces).toBe(2)
    expect(meshVolume(m.mesh)).toBeCloseTo(meshVolume(sphere(60, 4)) - whole, 1)
  })
})

describe('shells', () => {
  const three = concatMeshes([
    sphere(10, 3),
    inward(shifted(sphere(10, 3), 12, 1, 0)),
    shifted(sphere(10, 3), 24, 0, 1),
  ])
  it('that cross face outward, hollows inward', () => {
    const ball = meshVolume(sphere(10, 3))
    expect(meshVolume(faceShells(three))).toBeCloseTo(3 * ball, 2)
    const hollow = concatMeshes([sphere(10, 3), inward(sphere(4, 2))])
    expect(faceShells(hollow).triangles).toEqual(hollow.triangles)
    expect(meshVolume(faceShells(inward(sphere(10, 3))))).toBeCloseTo(ball, 3)
  })
  it('become one, each with itself only when they stay apart', () => {
    expect(checkUp(uniteShells(three).mesh).facts).toMatchObject({ pieces: 1, selfCrossings: 0 })
    const apart = concatMeshes([figure, shifted(sphere(8, 3), 25, 0, 0)])
    const own = withinPieces(apart, findSelfCrossings(apart))
    expect(own.length).toBeLessThan(findSelfCrossings(apart).length)
    const m = uniteEach(apart, own).mesh
    expect(checkUp(m).facts.pieces).toBe(2)
    expect(withinPieces(m, findSelfCrossings(m))).toHaveLength(0)
    expect(crossings(m)).toBeGreaterThan(0)
  })
  it('that meet nothing come back as they were, and so do open ones', () => {
    const calm = concatMeshes([sphere(5, 2), shifted(torus(6, 2, 24, 12), 20, 0, 0)])
    expect(uniteShells(calm).mesh).toBe(calm)
    const sheets = concatMeshes([terrain(10), shifted(terrain(10), 0, 0, 1)])
    expect(uniteShells(sheets).mesh).toBe(sheets)
    const both = concatMeshes([terrain(10), shifted(sphere(9, 3), 50, 50, 20), shifted(sphere(9, 3), 58, 50, 20)])
    const m = uniteShells(both).mesh
    expect(checkUp(m).facts).toMatchObject({ pieces: 2, openEdges: 40 })
  })
})

describe('tangles', () => {
  it('hang together by crossing or a corner, and tell how far they reach and how many pieces they join', () => {
    const far = concatMeshes([
      ...[0, 40].flatMap((x) => [shifted(sphere(5, 3), x, 0, 0), shifted(sphere(5, 3), x + 6, 0, 0)]),
    ])
    const groups = crossingClusters(far, findSelfCrossings(far))
    expect(groups).toHaveLength(2)
    for (const g of groups) {
      expect(g.pieces).toBe(2)
      // The circle where two balls of 5 meet that are 6 apart has radius 4.
      expect(g.reach).toBeGreaterThan(8 * Math.SQRT2 - 1)
      expect(g.reach).toBeLessThan(8 * Math.SQRT2 + 4)
    }
    expect(crossingClusters(far, new Uint32Array(0))).toEqual([])
  })
  it('small ones of one piece are taken out and filled, on a sheet too; its border stays', () => {
    const m = sheet(60, 60, (x, y) => 0.3 * Math.sin(x) * Math.cos(y))
    const bad = addCrossing(m, [30, 30, 0], 2.5, 2.2)
    expect(crossings(bad)).toBeGreaterThan(0)
    const r = resolveCrossings(bad)
    expect([crossings(r.mesh), r.united, r.removed > 0, r.after]).toEqual([0, false, true, 0])
    expect(checkUp(r.mesh).facts).toMatchObject({ openEdges: 240, pieces: 1 })
  })
})
