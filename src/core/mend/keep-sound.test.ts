import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import { meshVolume } from '@/core/mesh/measures'
import { concatMeshes, triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { deviation } from '@/core/gauge/deviation'
import { gripShape } from '@/core/scan/shapes'
import { inward, sphere, torus, without } from '@/testing/shapes'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { keepSound } from './keep-sound'
import { simplify } from './simplify'
import { itLong } from '@/testing/long'

/** Some vertices thrown across the skin, which folds it and makes it pass through itself. */
function thrown(mesh: TriMesh, count: number, by: number, seed = 1): TriMesh {
  const rng = random(seed)
  const positions = mesh.positions.slice()
  for (let i = 0; i < count; i++) {
    const v = Math.floor(rng.next() * (positions.length / 3))
    for (let a = 0; a < 3; a++) positions[3 * v + a] += by * (2 * rng.next() - 1)
  }
  return { positions, triangles: mesh.triangles }
}

describe('a tool leaves no fault behind', () => {
  it('a few spoilt places are mended in place; the rest keeps its vertices', () => {
    for (let seed = 1; seed <= 5; seed++) {
      const whole = torus(30, 8, 90, 40)
      const spoilt = thrown(whole, 8, 5, seed)
      expect(faultCount(checkUp(spoilt).facts)).toBeGreaterThan(0)
      const out = keepSound(spoilt)
      expect(faultCount(checkUp(out).facts)).toBe(0)
      // 2 pi² R r² = 37 899 mm³ less what the facets cut off.
      expect(Math.abs(meshVolume(out) / meshVolume(whole) - 1)).toBeLessThan(0.004)
      const places = new Set(Array.from({ length: out.positions.length / 3 }, (_, v) => vertex(out, v).join()))
      const kept = Array.from({ length: spoilt.positions.length / 3 }, (_, v) => vertex(spoilt, v).join()).filter((p) =>
        places.has(p),
      )
      expect(kept.length).toBeGreaterThan(0.85 * (spoilt.positions.length / 3))
    }
  })
  it('the inner skin of a hollow body is mended as well as the outer one: a patch that bends inward keeps its facing', () => {
    for (let seed = 1; seed <= 4; seed++) {
      const inner = inward(sphere(12, 4))
      const spoilt = concatMeshes([sphere(20, 4), thrown(inner, 3, 2.5, seed)])
      const before = faultCount(checkUp(spoilt).facts)
      if (!before) continue
      const out = keepSound(spoilt)
      expect(checkUp(out).facts).toMatchObject({
        closed: true,
        flippedEdges: 0,
        folded: 0,
        selfCrossings: 0,
        insideOutPieces: 0,
        pieces: 2,
      })
      expect(Math.abs(meshVolume(out) / ((4 / 3) * Math.PI * (8000 - 1728)) - 1)).toBeLessThan(0.02)
    }
  })
  it('holes stay open, a sound mesh comes back as it is, and so does one that is broken all over', () => {
    const open = without(sphere(10, 4), (_x, _y, z) => z > 8)
    const rims = checkUp(open).facts.openEdges
    const spoilt = thrown(open, 1, 3, 3)
    expect(checkUp(keepSound(spoilt)).facts).toMatchObject({
      openEdges: rims,
      nonManifoldEdges: 0,
      selfCrossings: 0,
      folded: 0,
    })
    const sound = sphere(10, 3)
    expect(keepSound(sound)).toBe(sound)
    const wreck = thrown(sphere(10, 4), 200, 5)
    expect(keepSound(wreck)).toBe(wreck)
  })
  itLong(
    'Simplify leaves a closed skin closed and free of crossings, at every depth, and vertices where the quadrics are least',
    async () => {
      const grip = gripShape(300, 150)
      for (const share of [0.2, 0.05, 0.01]) {
        const r = await simplify(grip, { triangles: Math.round(share * triangleCount(grip)) })
        expect(checkUp(r.mesh).facts).toMatchObject({
          closed: true,
          selfCrossings: 0,
          folded: 0,
          nonManifoldVertices: 0,
        })
        expect(Math.abs(triangleCount(r.mesh) / (share * triangleCount(grip)) - 1)).toBeLessThan(0.1)
      }
      // Garland & Heckbert 1997: placed freely, a sphere's facets straddle it; with all corners on it, as here in 320 facets, they lie inside.
      const ball = sphere(10, 5)
      const few = await simplify(ball, { triangles: 400 })
      const inside = (meshVolume(ball) - meshVolume(sphere(10, 2))) * (320 / triangleCount(few.mesh))
      expect(meshVolume(ball) - meshVolume(few.mesh)).toBeLessThan(0.7 * inside)
      expect(deviation(few.mesh, ball, { samples: 5000 }).both.max).toBeLessThan(0.25)
    },
  )
})
