import { describe, expect, it } from '@jest/globals'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { buildTopology } from '@/core/mesh/topology'
import { meshVolume } from '@/core/mesh/measures'
import { diagonal, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { plateMesh } from '@/core/scan/shapes'
import { blade, eight, spiky, terrain, town } from '@/testing/hard'
import { box, cylinder, moebius, sphere, torus } from '@/testing/shapes'
import { collapseEdges } from './collapse/collapse'
import { simplify } from './simplify'
import { mostly } from '@/testing/long'

const shapes: [string, TriMesh][] = [
  ['ball', sphere(20, 5)],
  ['ring', torus(20, 6, 96, 48)],
  ['plate', plateMesh(60, 40, 8, 3, 96)],
  ['blade', blade(3, 200)],
  ['spikes', spiky(5)],
  ['drum', cylinder(10, 30, 120, 40)],
  ['ground', terrain(60)],
  ['town', town(60)],
]
/** Faults beside the open edges that the shape has anyway. */
const faults = (m: TriMesh) => {
  const { facts } = checkUp(m)
  return faultCount(facts) - facts.openEdges
}

describe.each(shapes)('simplify of the %s', (_name, mesh) => {
  it.each(
    mostly(
      [
        [0.5, undefined],
        [0.1, undefined],
        [0.02, undefined],
        [0.1, 30],
        [0.02, 30],
      ] as const,
      ([share, keepEdges]) => share === 0.1 && keepEdges === 30,
    ),
  )('to a share of %f (sharp edges: %p) is sound and no further off than a twentieth', async (share, keepEdges) => {
    const target = Math.round(share * triangleCount(mesh))
    const r = await simplify(mesh, { triangles: target, keepEdges })
    expect(faults(r.mesh)).toBe(0)
    expect(checkUp(r.mesh).facts.openEdges).toBe(buildTopology(mesh).openEdges)
    // Either the count is met, or it stops above it.
    expect(triangleCount(r.mesh)).toBeGreaterThan(0.9 * target - 12)
    expect(r.deviation.both.max).toBeLessThan(0.1 * diagonal(meshBounds(mesh)))
  })
})

describe('collapsing edges', () => {
  it('spends nothing on flat faces: a cube of 2 400 triangles comes down to its 12 with no error', () => {
    const m = collapseEdges(box(10, 10, 10, 20), { triangles: 12, lockRims: true, keepEdges: 30 })
    expect(triangleCount(m)).toBe(12)
    expect(meshVolume(m)).toBeCloseTo(1000, 3)
    expect([...m.positions].every((v) => Math.min(Math.abs(v), Math.abs(v - 10)) < 1e-4)).toBe(true)
  })
  it('keeps the volume of round bodies: a ball at a fiftieth within 1 %', () => {
    const ball = sphere(20, 5)
    const m = collapseEdges(ball, { triangles: 164, lockRims: true })
    expect(Math.abs(meshVolume(m) / meshVolume(ball) - 1)).toBeLessThan(1e-4)
  })
  it('asked for the impossible it stops at a closed skin, never at nothing', () => {
    for (const mesh of [torus(20, 6, 40, 20), sphere(5, 3), eight(60, 8)]) {
      const m = collapseEdges(mesh, { triangles: 1, lockRims: true })
      expect(triangleCount(m)).toBeGreaterThanOrEqual(4)
      expect(buildTopology(m)).toMatchObject({ openEdges: 0, nonManifoldEdges: 0, flippedEdges: 0 })
    }
  })
  it('leaves locked corners and rims to the last bit', () => {
    const m = terrain(30)
    const locked = new Uint8Array(m.positions.length / 3)
    locked[500] = 1
    const out = collapseEdges(m, { triangles: 300, lockRims: true, locked })
    const places = new Set<string>()
    for (let v = 0; v < out.positions.length; v += 3) places.add(out.positions.subarray(v, v + 3).join())
    expect(places.has(m.positions.subarray(1500, 1503).join())).toBe(true)
    for (let i = 0; i <= 30; i++) expect(places.has(m.positions.subarray(3 * i, 3 * i + 3).join())).toBe(true)
  })
  it('with free rims keeps the outline of a level square', () => {
    const m = collapseEdges(terrain(40), { triangles: 200, lockRims: false })
    const { min, max } = meshBounds(m)
    for (const v of [min[0], min[1], max[0] - 100, max[1] - 100]) expect(Math.abs(v)).toBeLessThan(0.6)
  })
  it('does not choke on a one-sided strip', () => {
    expect(triangleCount(collapseEdges(moebius(), { triangles: 8, lockRims: false }))).toBeGreaterThan(0)
  })
})
