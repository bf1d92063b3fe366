import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import { meshVolume } from '@/core/mesh/measures'
import {
  concatMeshes,
  flipTriangles,
  keepTriangles,
  meshFrom,
  transformMesh,
  triangleCount,
  type TriMesh,
} from '@/core/mesh/tri-mesh'
import { translation, scaling } from '@/core/math/affine'
import { sphere } from '@/testing/shapes'
import { plateMesh } from '@/core/scan/shapes'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { closeHoles } from './close-holes'
import { mendAll } from './mend-all'
import { faceOutward } from '@/core/mesh/orient'
import { clearSpecks } from './specks'
import { splitNonManifold } from './split-non-manifold'
import { buildTopology } from '@/core/mesh/topology'
import { weldMesh } from '@/core/mesh/weld'
import { removeDegenerate } from './slivers'
import { longRun } from '@/testing/long'

const choice = { speckShare: 0.01, fill: 'smooth' as const }

describe('check-up', () => {
  it('finds nothing wrong with a sphere', () => {
    const { facts } = checkUp(sphere(10, 4))
    expect(faultCount(facts)).toBe(0)
    expect(facts).toMatchObject({ closed: true, pieces: 1, triangles: 2048, vertices: 1026 })
  })
  it('counts what was done to a mesh', () => {
    const s = sphere(10, 4)
    const keep = new Uint8Array(triangleCount(s)).fill(1)
    keep[5] = keep[700] = 0
    const holes = checkUp(keepTriangles(s, keep).mesh).facts
    expect(holes).toMatchObject({ closed: false, openEdges: 6 })
    expect(holes.holes.map((h) => h.edges)).toEqual([3, 3])
    const inside = checkUp({ ...s, triangles: flipTriangles(s.triangles) }).facts
    expect(inside).toMatchObject({ insideOutPieces: 1, closed: true })
    const crossed = checkUp(concatMeshes([s, transformMesh(s, translation([10, 0, 0]))])).facts
    expect(crossed.pieces).toBe(2)
    expect(crossed.selfCrossings).toBeGreaterThan(20)
    const hollow = checkUp(
      concatMeshes([s, { ...transformMesh(s, scaling(0.5)), triangles: flipTriangles(s.triangles) }]),
    ).facts
    expect(faultCount(hollow)).toBe(0)
  })
  it('tells two tetrahedra at one vertex, a doubled triangle and a three-winged edge', () => {
    const tet = [0, 2, 1, 0, 1, 3, 1, 2, 3, 2, 0, 3]
    const two = meshFrom(
      [0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 1, -1, 0, 0, 0, -1, 0, 0, 0, -1],
      [...tet, 0, 4, 5, 0, 6, 4, 4, 6, 5, 5, 6, 0],
    )
    expect(checkUp(two).facts).toMatchObject({ nonManifoldVertices: 1, pieces: 2 })
    const doubled = meshFrom([0, 0, 0, 1, 0, 0, 0, 1, 0], [0, 1, 2, 0, 1, 2])
    expect(checkUp(doubled).facts.duplicates).toBe(1)
    const wings = meshFrom([0, 0, 0, 1, 0, 0, 0, 1, 0, 0, -1, 0, 0, 0, 1], [0, 1, 2, 0, 1, 3, 0, 1, 4])
    expect(checkUp(wings).facts).toMatchObject({ nonManifoldEdges: 1 })
    expect(checkUp(splitNonManifold(wings).mesh).facts.nonManifoldEdges).toBe(0)
  })
})

describe('mending parts', () => {
  it('welds within a distance and no further', () => {
    const soup = meshFrom([0, 0, 0, 1, 0, 0, 0, 1, 0, 1.0005, 0, 0, 1, 1, 0, 0, 1.0005, 0], [0, 1, 2, 3, 4, 5])
    expect(weldMesh(soup, 1e-3)).toMatchObject({ joined: 2 })
    expect(weldMesh(soup, 1e-4)).toMatchObject({ joined: 0 })
  })
  it('faces a scrambled skin outward', () => {
    const s = sphere(10, 3)
    const rng = random(3)
    const triangles = new Uint32Array(s.triangles)
    for (let t = 0; t < triangles.length; t += 3)
      if (rng.next() < 0.4) [triangles[t + 1], triangles[t + 2]] = [triangles[t + 2], triangles[t + 1]]
    const out = faceOutward({ ...s, triangles }).mesh
    expect(checkUp(out).facts).toMatchObject({ flippedEdges: 0, insideOutPieces: 0 })
    expect(meshVolume(out)).toBeCloseTo(meshVolume(s), 3)
  })
  it('cuts a Moebius strip instead of hanging on it', () => {
    const n = 24,
      p: number[] = [],
      t: number[] = []
    for (let i = 0; i < n; i++)
      for (const w of [-1, 1]) {
        const a = (2 * Math.PI * i) / n
        p.push((5 + w * Math.cos(a / 2)) * Math.cos(a), (5 + w * Math.cos(a / 2)) * Math.sin(a), w * Math.sin(a / 2))
      }
    for (let i = 0; i < n; i++) {
      const [a, b] = [2 * i, 2 * i + 1],
        [c, d] = i + 1 < n ? [2 * i + 2, 2 * i + 3] : [1, 0]
      t.push(a, c, b, b, c, d)
    }
    const o = faceOutward(meshFrom(p, t))
    expect(o.cut).toBeGreaterThan(0)
    expect(checkUp(o.mesh).facts.flippedEdges).toBe(0)
  })
  it('clears specks by share and by distance', () => {
    const s = sphere(10, 3),
      far = transformMesh(sphere(0.3, 1), translation([30, 0, 0])),
      near = transformMesh(sphere(0.3, 1), translation([10.5, 0, 0]))
    const all = concatMeshes([s, far, near])
    expect(clearSpecks(all, { share: 0.01 })).toMatchObject({ removed: 2, pieces: 1 })
    expect(clearSpecks(all, { smallerThan: 2, furtherThan: 5 })).toMatchObject({ removed: 1, pieces: 2 })
  })
  it('takes out degenerate triangles without opening the skin', () => {
    const s = sphere(10, 3)
    const at = s.positions.slice()
    at.set(at.subarray(3 * s.triangles[0], 3 * s.triangles[0] + 3), 3 * s.triangles[1])
    const c = removeDegenerate({ positions: at, triangles: s.triangles })
    expect(c.left).toBe(0)
    expect(checkUp(c.mesh).facts).toMatchObject({ degenerate: 0, openEdges: 0 })
  })
  it('closes a hole smoothly on the shape and leaves every old vertex alone', () => {
    const s = sphere(20, 5)
    const keep = Uint8Array.from({ length: triangleCount(s) }, (_, t) =>
      s.positions[3 * s.triangles[3 * t] + 2] > 16 ? 0 : 1,
    )
    const open = keepTriangles(s, keep).mesh
    const smooth = closeHoles(open, { how: 'smooth' }),
      flat = closeHoles(open, { how: 'flat' })
    expect(smooth.closed).toBe(1)
    expect(smooth.mesh.positions.slice(0, open.positions.length)).toEqual(open.positions)
    expect(checkUp(smooth.mesh).facts).toMatchObject({ closed: true, selfCrossings: 0, folded: 0 })
    // A flat lid loses the cap π h² (3 r - h) / 3; least bending wins back nearly all of it.
    const cap = (Math.PI * 16 * (60 - 4)) / 3
    const loss = (m: TriMesh) => meshVolume(s) - meshVolume(m)
    expect(loss(flat.mesh) / cap).toBeGreaterThan(0.8)
    expect(Math.abs(loss(smooth.mesh)) / cap).toBeLessThan(0.2)
  })
  it('closes a hole of many edges', () => {
    const n = longRun ? 5000 : 800,
      p: number[] = [0, 0, -5],
      t: number[] = []
    for (let i = 0; i < n; i++) {
      const a = (2 * Math.PI * i) / n
      p.push(50 * Math.cos(a), 50 * Math.sin(a), Math.sin(5 * a))
      t.push(0, 1 + ((i + 1) % n), 1 + i)
    }
    const c = closeHoles(meshFrom(p, t), { how: 'flat' })
    expect(c.closed).toBe(1)
    expect(buildTopology(c.mesh)).toMatchObject({ openEdges: 0, nonManifoldEdges: 0, flippedEdges: 0 })
  })
})

describe('mend all', () => {
  const damage = (seed: number): TriMesh => {
    const rng = random(seed)
    const s = sphere(20, 5)
    const keep = new Uint8Array(triangleCount(s)).fill(1)
    for (let i = 0; i < 6; i++) keep[Math.floor(rng.next() * keep.length)] = 0
    const positions = s.positions.slice()
    for (let i = 0; i < 8; i++) {
      const v = Math.floor(rng.next() * (positions.length / 3))
      for (let k = 0; k < 3; k++) positions[3 * v + k] += 2.4 * (rng.next() - 0.5)
    }
    const specks = Array.from({ length: 5 }, () =>
      transformMesh(sphere(0.4, 1), translation([30 * rng.next() + 22, 0, 30 * rng.next()])),
    )
    return concatMeshes([keepTriangles({ positions, triangles: s.triangles }, keep).mesh, ...specks])
  }
  it.each([1, 2, 3, 4, 5, 6])('brings a damaged sphere back to one sound skin (seed %d)', (seed) => {
    const m = mendAll(damage(seed), choice)
    expect(faultCount(m.after)).toBe(0)
    expect(m.after.closed).toBe(true)
    expect(m.after.pieces).toBe(1)
    expect(Math.abs(meshVolume(m.mesh) / ((4 / 3) * Math.PI * 8000) - 1)).toBeLessThan(0.01)
  })
  it('leaves a sound mesh as it is, and never ends with more faults than it found', () => {
    const s = sphere(5, 3)
    expect(mendAll(s, choice).mesh).toBe(s)
    for (const bad of [
      meshFrom([0, 0, 0, 1, 0, 0, 0, 1, 0], [0, 1, 2]),
      concatMeshes([s, s]),
      meshFrom([0, 0, 0, NaN, 0, 0, 0, 1, 0, 1, 1, 0], [0, 1, 2, 0, 3, 2]),
    ]) {
      const m = mendAll(bad, choice)
      expect(faultCount(m.after)).toBeLessThanOrEqual(faultCount(m.before))
    }
  })
  it('says so when there is nothing', () => expect(() => mendAll(meshFrom([], []), choice)).toThrow(/no triangle/))
  it('copes with metres and microns', () => {
    for (const k of [1e-3, 1e3]) expect(faultCount(mendAll(transformMesh(damage(2), scaling(k)), choice).after)).toBe(0)
  })
})

describe('plates', () => {
  it('are closed', () => expect(faultCount(checkUp(plateMesh(10, 8, 2, 1, 4)).facts)).toBe(0))
})
