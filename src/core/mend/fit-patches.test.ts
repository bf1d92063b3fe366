/** Patches are held to what is there: rims that touch themselves, edges that exist, walls in the way. */
import { describe, expect, it } from '@jest/globals'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { buildTopology, findRims } from '@/core/mesh/topology'
import { concatMeshes, keepTriangles, meshFrom, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { boxOf, flagInBox } from '@/core/mesh/in-box'
import { ragged } from '@/testing/hard'
import { sheet, shifted, sphere, torus, without } from '@/testing/shapes'
import { closeHoles } from './close-holes'
import { loopOfRim, partLoop } from './loop'
import { splitNonManifold } from './split-non-manifold'

const dropped = (m: TriMesh, gone: number[]) =>
  keepTriangles(
    m,
    Uint8Array.from({ length: triangleCount(m) }, (_, t) => (gone.includes(t) ? 0 : 1)),
  ).mesh
/** Two triangles of a ball that share one corner only. */
const touching = (m: TriMesh): [number, number] => {
  for (let t = 1; t < triangleCount(m); t++) {
    const [a, b] = [0, t].map((u) => [...m.triangles.subarray(3 * u, 3 * u + 3)])
    if (a.filter((v) => b.includes(v)).length === 1) return [0, t]
  }
  throw new Error('none')
}

describe('rims that touch themselves', () => {
  const ball = sphere(10, 3)
  const pinched = dropped(ball, touching(ball))
  it('come as one rim that passes a corner twice, and are parted there', () => {
    const rims = findRims(pinched, buildTopology(pinched))
    const loops = rims.flatMap((r) => partLoop(loopOfRim(pinched, r)))
    expect(loops.map((l) => l.vertices.length)).toEqual([3, 3])
    for (const l of loops) {
      expect(new Set(l.vertices).size).toBe(3)
      // Each edge lies against the half-edge that runs the other way.
      l.against.forEach((h, i) => {
        const from = pinched.triangles[h],
          to = pinched.triangles[h % 3 === 2 ? h - 2 : h + 1]
        expect([from, to]).toEqual([l.vertices[(i + 1) % 3], l.vertices[i]])
      })
    }
  })
  it.each(['flat', 'smooth', 'curvature'] as const)('close to the ball they were cut from (%s)', (how) => {
    const { mesh, crossing } = closeHoles(pinched, { how })
    expect(crossing).toBe(0)
    expect(faultCount(checkUp(mesh).facts)).toBe(0)
    expect(triangleCount(mesh)).toBe(triangleCount(ball))
  })
  it('stay whole when the split leaves them alone, and come apart when it does not', () => {
    expect(splitNonManifold(pinched, { rims: false }).mesh).toBe(pinched)
    expect(splitNonManifold(pinched).vertices).toBe(1)
    // A corner with no rim is split either way.
    const tet = [0, 2, 1, 0, 1, 3, 1, 2, 3, 2, 0, 3]
    const two = meshFrom(
      [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, -1, 0, 0, 0, -1, 0, 0, 0, -1],
      [...tet, 0, 4, 5, 0, 6, 4, 4, 6, 5, 5, 6, 0],
    )
    expect(splitNonManifold(two, { rims: false }).vertices).toBe(1)
  })
  it('a loop without repeats comes back as it is, one that runs to and fro gives nothing', () => {
    const loop = {
      points: [
        [0, 0, 0],
        [1, 0, 0],
        [0, 1, 0],
      ] as [number, number, number][],
      vertices: [4, 5, 6],
      against: [1, 2, 3],
    }
    expect(partLoop(loop)).toEqual([loop])
    expect(partLoop({ ...loop, points: loop.points.slice(0, 2), vertices: [4, 5], against: [1, 2] })).toEqual([])
  })
})

describe('ragged holes', () => {
  it.each([
    ['ball', sphere(20, 5), 30],
    ['ring', torus(20, 7, 80, 40), 30],
  ] as [string, TriMesh, number][])('of a %s close without a fault, whichever way', (_name, mesh, holes) => {
    const bad = ragged(mesh, holes, 7)
    expect(checkUp(bad).facts.nonManifoldVertices).toBeGreaterThan(10)
    for (const how of ['flat', 'smooth', 'curvature'] as const) {
      const c = closeHoles(bad, { how, scraps: true })
      expect([how, faultCount(checkUp(c.mesh).facts), c.crossing]).toEqual([how, 0, 0])
    }
  })
  it('side by side never make one edge twice', () => {
    // Strips between neighbouring holes are one triangle wide, so patches share corners.
    const m = sheet(12, 12)
    const gone = Array.from({ length: triangleCount(m) }, (_, t) => t).filter((t) => {
      const cell = t >> 1,
        i = Math.floor(cell / 12),
        j = cell % 12
      return i > 0 && j > 0 && i < 11 && j < 11 && (i + j) % 2 === 0
    })
    const c = closeHoles(dropped(m, gone), { how: 'flat', scraps: true, accept: (rim) => !rim.vertices.includes(0) })
    expect(buildTopology(c.mesh)).toMatchObject({ nonManifoldEdges: 0, flippedEdges: 0, openEdges: 48 })
    expect(checkUp(c.mesh).facts).toMatchObject({ duplicates: 0, selfCrossings: 0 })
  })
})

describe('patches that meet something', () => {
  // A dome with its top off, and a plate just above the rim: the tangent patch bulges into the plate, a flat one does not.
  const dome = without(sphere(20, 5), (_x, _y, z) => z > 14)
  const lid = shifted(sheet(20, 20), -10, -10, 15.2)
  it('are laid flat where the tangent one would pass through', () => {
    const alone = closeHoles(dome, { how: 'smooth' })
    const under = closeHoles(concatMeshes([dome, lid]), {
      how: 'smooth',
      accept: (rim) => rim.vertices.length > 0 && rim.halfEdges[0] < dome.triangles.length,
    })
    expect([alone.crossing, under.crossing]).toEqual([0, 0])
    expect(checkUp(under.mesh).facts.selfCrossings).toBe(0)
    expect(triangleCount(under.mesh)).toBeLessThan(triangleCount(alone.mesh) + triangleCount(lid))
  })
  it('and so where curvature would', () => {
    const accept = (rim: { halfEdges: number[] }) => rim.halfEdges[0] < dome.triangles.length
    const c = closeHoles(concatMeshes([dome, lid]), { how: 'curvature', accept })
    expect([c.crossing, checkUp(c.mesh).facts.selfCrossings]).toEqual([0, 0])
  })
})

describe('triangles in a box', () => {
  it('are those whose own box meets it', () => {
    const m = sheet(10, 10)
    expect(boxOf(m, [0])).toEqual([0, 0, 0, 1, 1, 0])
    expect(boxOf(m, [])[0]).toBe(Infinity)
    const count = (f: Uint8Array) => f.reduce((s, v) => s + v, 0)
    expect(count(flagInBox(m, [2.1, 2.1, -1, 2.9, 2.9, 1], 0))).toBe(2)
    expect(count(flagInBox(m, [2.1, 2.1, -1, 2.9, 2.9, 1], 0.5))).toBe(18)
    expect(count(flagInBox(m, [2.1, 2.1, 1, 2.9, 2.9, 2], 0.5))).toBe(0)
    const flags = flagInBox(m, [0, 0, -1, 0.5, 0.5, 1], 0)
    expect(count(flagInBox(m, [9.5, 9.5, -1, 10, 10, 1], 0, flags))).toBe(4)
    expect(count(flagInBox(m, [0, 0, -1, 10, 10, 1], 0, new Uint8Array(200), 20))).toBe(20)
  })
})
