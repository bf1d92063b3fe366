import { describe, expect, it } from '@jest/globals'
import type { ExactBody } from '@/core/bodies/body'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { buildTopology } from '@/core/mesh/topology'
import { runStep } from '@/testing/run-step'
import { makeBlock } from './primitives'
import { facetSolid } from './triangles'

/** A plate with so many rows of bores. */
async function plate(rows: number, set: Record<string, unknown> = {}): Promise<ExactBody> {
  const b = await makeBlock([100, 60, 8], [0, 0, 0], [0, 0, 1], [1, 0, 0], 'b')
  const at = Array.from({ length: rows * rows }, (_, i) => [
    10 + (i % rows) * (80 / (rows - 1)),
    8 + Math.floor(i / rows) * (44 / (rows - 1)),
    8,
  ])
  const r = await runStep('build/hole', { body: 'b', at, diameter: 4, through: true, ...set }, { b })
  return r.bodies.b as ExactBody
}

describe('facets of flat faces with many holes', () => {
  it.each([
    ['bores right through', {}],
    ['countersunk bores', { head: 'countersink', headDiameter: 6 }],
  ])('%s: closed, each triangle with its face, flat ones facing outward', async (_what, set) => {
    const body = await plate(5, set)
    const { mesh, face } = await facetSolid(body, 0.01)
    expect(buildTopology(mesh)).toMatchObject({ openEdges: 0, nonManifoldEdges: 0, flippedEdges: 0 })
    expect(meshVolume(mesh) / body.facts.volume).toBeCloseTo(1, 3)
    expect(meshArea(mesh) / body.facts.area).toBeCloseTo(1, 3)
    expect(new Set(face).size).toBe(body.facts.faces)
    // The top by itself: a rectangle without its circles, its normal up.
    const d = body.display
    let area = 0
    const top = body.parts.faces.findIndex((f) => f.name === 'b/top')
    d.face.forEach((f, t) => {
      if (f !== top) return
      const [a, b, c] = [0, 1, 2].map((k) => 3 * d.triangles[3 * t + k])
      const p = d.positions
      area += ((p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a])) / 2
      expect(d.normals[a + 2]).toBeCloseTo(1, 6)
    })
    expect(area / body.parts.faces[top].area).toBeCloseTo(1, 2)
    expect(area).toBeGreaterThan(0)
  })
  it('every edge has its line, those between two such faces too', async () => {
    const body = await plate(4)
    expect(new Set(body.display.edge).size).toBe(body.facts.edges)
    const slab = await runStep(
      'build/hole',
      {
        body: 'b',
        at: Array.from({ length: 14 }, (_, i) => [5 + i * 6.5, 0, 4]),
        axis: [0, -1, 0],
        diameter: 2,
        depth: 3,
      },
      { b: body },
    )
    const both = slab.bodies.b as ExactBody
    expect(new Set(both.display.edge).size).toBe(both.facts.edges)
    const { mesh } = await facetSolid(both, 0.02)
    expect(buildTopology(mesh).openEdges).toBe(0)
  })
})
