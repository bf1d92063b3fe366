import { describe, expect, it } from '@jest/globals'
import { type Triangle, Vector3 } from 'three'
import { ExtendedTriangle } from 'three-mesh-bvh'
import { random } from '@/core/math/random'
import type { Vec3 } from '@/core/math/vec'
import { awkward, box, cylinder, moebius, shaken, sheet, sphere, torus, without } from '@/testing/shapes'
import { MeshSearch } from './closest'
import { EditMesh } from './edit-mesh'
import { findSelfCrossings, trianglesCross } from './self-crossing'
import { buildTopology, cornerFans, findPieces, findRims, vertexTriangles } from './topology'
import { meshArea, meshVolume } from './measures'
import { compact, concatMeshes, keepTriangles, meshBounds, meshFrom, triangleCount, vertexCount } from './tri-mesh'
import { weldMesh, weldSoup } from './weld'

describe('neighbours', () => {
  it.each([
    ['sphere', sphere(5, 3), 2],
    ['box', box(1, 2, 3, 4), 2],
    ['torus', torus(10, 3, 24, 12), 0],
    ['cylinder', cylinder(2, 5, 30, 3), 2],
    ['sheet', sheet(4, 5), 1],
    ['moebius', moebius(), 0],
  ])('%s has its Euler characteristic', (_n, m, chi) => {
    const t = buildTopology(m)
    expect(vertexCount(m) - t.edges + triangleCount(m)).toBe(chi)
    expect(t.nonManifoldEdges).toBe(0)
    for (let h = 0; h < t.twin.length; h++) if (t.twin[h] >= 0) expect(t.twin[t.twin[h]]).toBe(h)
  })
  it('rims are whole loops in order', () => {
    const rims = findRims(
      without(sphere(5, 4), (x) => x > 4),
      buildTopology(without(sphere(5, 4), (x) => x > 4)),
    )
    expect(rims).toHaveLength(1)
    expect(rims[0].closed).toBe(true)
    expect(new Set(rims[0].vertices).size).toBe(rims[0].vertices.length)
    const strip = moebius()
    const one = findRims(strip, buildTopology(strip))
    expect(one.map((r) => r.halfEdges.length)).toEqual([48]) // a Moebius strip has a single border
  })
  it('pieces and fans', () => {
    const two = concatMeshes([sphere(1, 1), box(1, 1, 1)])
    expect(findPieces(two, buildTopology(two)).count).toBe(2)
    const touch = awkward()['two tetrahedra at a vertex']
    expect(cornerFans(touch, buildTopology(touch)).manyFans).toEqual([0])
    const around = vertexTriangles(two)
    expect(around.start.at(-1)).toBe(two.triangles.length)
  })
})

describe('measures', () => {
  // Euclid; Pappus for the ring, as limits of fine meshes.
  it('volume and area of box, sphere, ring and cylinder', () => {
    const b = box(2, 3, 4, 3)
    expect(meshVolume(b)).toBeCloseTo(24, 5)
    expect(meshArea(b)).toBeCloseTo(2 * (6 + 8 + 12), 5)
    expect(meshVolume(sphere(10, 6)) / ((4 / 3) * Math.PI * 1000)).toBeCloseTo(1, 3)
    expect(meshVolume(torus(10, 3, 400, 200)) / (2 * Math.PI ** 2 * 10 * 9)).toBeCloseTo(1, 3)
    expect(meshVolume(cylinder(3, 7, 600)) / (Math.PI * 63)).toBeCloseTo(1, 4)
  })
  it('far from the origin keeps its digits', () => {
    const far = { positions: box(2, 3, 4).positions.map((v) => v + 8192), triangles: box(2, 3, 4).triangles }
    expect(meshVolume(far)).toBeCloseTo(24, 6)
  })
  it('keeping triangles drops unused vertices and keeps the order', () => {
    const m = sheet(4, 2)
    const k = keepTriangles(m, [0, 0, 0, 0, 0, 0, 1, 1])
    expect(vertexCount(k.mesh)).toBe(4)
    expect(Array.from(k.triangleFrom)).toEqual([6, 7])
    expect(meshArea(k.mesh)).toBeCloseTo(4, 6)
    expect(vertexCount(compact({ ...m, positions: Float32Array.from([...m.positions, 99, 99, 99]) }))).toBe(9)
    expect(meshBounds({ ...m, positions: Float32Array.from([...m.positions, 99, 99, 99]) }).max).toEqual([4, 4, 0])
  })
})

describe('welding', () => {
  it('a soup of a known mesh gives its vertices back, in any order of triangles', () => {
    const s = sphere(5, 3)
    const rng = random(7)
    const order = Array.from({ length: triangleCount(s) }, (_, t) => t).sort(() => rng.next() - 0.5)
    const soup = Float32Array.from(
      order.flatMap((t) =>
        [0, 1, 2].flatMap((c) =>
          Array.from(s.positions.subarray(3 * s.triangles[3 * t + c], 3 * s.triangles[3 * t + c] + 3)),
        ),
      ),
    )
    const w = weldSoup(soup)
    expect(vertexCount(w)).toBe(vertexCount(s))
    expect(buildTopology(w)).toMatchObject({ openEdges: 0, nonManifoldEdges: 0 })
    expect(meshVolume(w)).toBeCloseTo(meshVolume(s), 4)
  })
  it('minus zero is zero, and what is further apart stays apart', () => {
    const w = weldSoup(Float32Array.from([0, 0, 0, 1, 0, 0, 0, 1, 0, -0, 0, 0, 0, 1, 0, 0, 0, 1]))
    expect(vertexCount(w)).toBe(4)
    const loose = meshFrom([0, 0, 0, 1, 0, 0, 0, 1, 0, 0.02, 0, 0, 0, 1, 0, 0, 0, 1], [0, 1, 2, 3, 4, 5])
    expect([0.01, 0.03].map((d) => weldMesh(loose, d).joined)).toEqual([1, 2])
  })
})

describe('crossings', () => {
  // Reference: the three-mesh-bvh library's triangle test on random soups, where contact is not in doubt.
  it('agree with a general triangle test, pair by pair and over a soup', () => {
    const rng = random(21)
    const n = 160
    const p = Array.from({ length: 9 * n }, () => rng.next())
    for (let t = 0; t < n; t++)
      for (let c = 1; c < 3; c++)
        for (let k = 0; k < 3; k++) p[9 * t + 3 * c + k] = p[9 * t + k] + 0.35 * (p[9 * t + 3 * c + k] - 0.5)
    const soup = meshFrom(
      p,
      Array.from({ length: 3 * n }, (_, i) => i),
    )
    const tri = (t: number) => {
      const q = soup.positions
      const v = (c: number) => new Vector3(q[9 * t + 3 * c], q[9 * t + 3 * c + 1], q[9 * t + 3 * c + 2])
      const e = new ExtendedTriangle(v(0), v(1), v(2))
      e.needsUpdate = true
      return e
    }
    const all = Array.from({ length: n }, (_, t) => tri(t))
    const want = new Set<string>()
    for (let s = 0; s < n; s++)
      for (let t = s + 1; t < n; t++) {
        const is = all[s].intersectsTriangle(all[t] as unknown as Triangle as never)
        expect([s, t, trianglesCross(soup, s, t, 0)]).toEqual([s, t, is])
        if (is) want.add(`${s} ${t}`)
      }
    const found = findSelfCrossings(soup)
    const have = new Set<string>()
    for (let i = 0; i < found.length; i += 2)
      have.add(`${Math.min(found[i], found[i + 1])} ${Math.max(found[i], found[i + 1])}`)
    expect(have).toEqual(want)
    expect(want.size).toBeGreaterThan(30)
  })
  it('none on sound skins, some on a crossed one, and the search ends at its limit', () => {
    expect(findSelfCrossings(torus(10, 3, 48, 24))).toHaveLength(0)
    const crossed = concatMeshes(
      [sphere(10, 4), sphere(10, 4)].map((s, i) => ({
        ...s,
        positions: s.positions.map((v, k) => (k % 3 === 0 ? v + 5 * i : v)),
      })),
    )
    expect(findSelfCrossings(crossed).length).toBeGreaterThan(50)
    expect(findSelfCrossings(crossed, undefined, 3)).toHaveLength(6)
  })
})

describe('search', () => {
  it('nearest points and rays on a sphere are those of the formula', () => {
    const search = new MeshSearch(sphere(10, 5))
    const rng = random(3)
    for (let i = 0; i < 100; i++) {
      const p: Vec3 = [rng.normal() * 10, rng.normal() * 10, rng.normal() * 10]
      expect(search.nearest(p)!.distance).toBeCloseTo(Math.abs(Math.hypot(...p) - 10), 1)
    }
    expect(search.first([-50, 0.01, 0.02], [1, 0, 0])!.point[0]).toBeCloseTo(-10, 1)
    expect(search.all([-50, 0.013, 0.021], [1, 0, 0])).toHaveLength(2)
    expect(search.nearest([0, 0, 0], 5)).toBeNull()
  })
})

describe('editing triangle by triangle', () => {
  it('collapses only where the skin stays a manifold, and flips keep the area of a flat sheet', () => {
    const m = new EditMesh(shaken(sheet(10, 6), 0, 1))
    const before = meshArea(m.done().mesh)
    const rng = random(4)
    let flips = 0,
      collapses = 0
    for (let i = 0; i < 400; i++) {
      const t = Math.floor(rng.next() * (m.triangles.length / 3))
      if (!m.alive(t)) continue
      const c = Math.floor(rng.next() * 3)
      const a = m.triangles[3 * t + c],
        b = m.triangles[3 * t + ((c + 1) % 3)]
      if (i < 40 ? m.collapse(a, b) : m.flip(a, b))
        if (i < 40) collapses++
        else flips++
    }
    const out = m.done().mesh
    expect(collapses).toBeGreaterThan(3)
    expect(flips).toBeGreaterThan(20)
    expect(buildTopology(out).nonManifoldEdges).toBe(0)
    expect(meshArea(m.done().mesh)).toBeGreaterThanOrEqual(before * 0.8)
  })
})
