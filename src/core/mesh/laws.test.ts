/** Laws of meshes over bodies by chance, each beside the plainest way there is: every pair tried, every triangle looked at. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { random } from '@/core/math/random'
import { cross, dot, length, sub, type Vec3 } from '@/core/math/vec'
import { anyBody, fewRuns } from '@/testing/small-bodies'
import { quadBlock } from '@/testing/quad-shapes'
import { box, cylinder, inward, moebius, shifted, sphere, without } from '@/testing/shapes'
import { buildBoxTree, visitPairsFrom, visitSelfPairs } from './box-tree'
import { creased } from './crease'
import { findDegenerate, findDuplicates, findFolded } from './defects'
import { boxOf, flagInBox, flagInBoxes } from './in-box'
import { NearestInGrid, NearestPoints } from './nearest'
import { faceOutward, pieceFacts } from './orient'
import {
  nextInQuad,
  prevInQuad,
  quadFigures,
  quadNormals,
  quadsOfFaces,
  quadTopology,
  trianglesOfQuads,
} from './quad-mesh'
import { buildTopology, findRims, vertexTriangles } from './topology'
import { meshArea, meshVolume } from './measures'
import { concatMeshes, corners, keepTriangles, meshBounds, triangleCount, type TriMesh } from './tri-mesh'
import { crossOf, triangleArea, triangleNormals } from './triangle'

/** The nearest place of a triangle to a point (Ericson 2005, chapter 5.1.5), squared distance. */
function squareTo([a, b, c]: readonly Vec3[], p: Vec3): number {
  const [ab, ac, ap] = [sub(b, a), sub(c, a), sub(p, a)]
  const n = cross(ab, ac)
  const inside = [
    [a, b],
    [b, c],
    [c, a],
  ].every(([u, v]) => dot(cross(sub(v, u), sub(p, u)), n) >= 0)
  if (inside && dot(n, n) > 0) return dot(ap, n) ** 2 / dot(n, n)
  const toSide = (u: Vec3, v: Vec3) => {
    const d = sub(v, u)
    const t = Math.max(0, Math.min(1, dot(sub(p, u), d) / (dot(d, d) || 1)))
    const off = sub(p, [u[0] + t * d[0], u[1] + t * d[1], u[2] + t * d[2]])
    return dot(off, off)
  }
  return Math.min(toSide(a, b), toSide(b, c), toSide(c, a))
}
const all = (mesh: TriMesh) => Array.from({ length: triangleCount(mesh) }, (_, t) => t)
const place = fc.tuple(
  ...[0, 1, 2].map(() => fc.integer({ min: -60, max: 60 }).map((v) => v / 4)),
) as unknown as fc.Arbitrary<Vec3>

describe('the nearest place of a skin', () => {
  it('is as near as the nearest of all triangles, from near and far, by tree and by grid', () => {
    fc.assert(
      fc.property(anyBody, fc.array(place, { minLength: 12, maxLength: 12 }), (mesh, places) => {
        for (const search of [new NearestPoints(mesh), new NearestInGrid(mesh), new NearestInGrid(mesh, 2)])
          for (const p of places) {
            const least = Math.min(...all(mesh).map((t) => squareTo(corners(mesh, t), p)))
            expect(search.square(p[0], p[1], p[2])).toBeCloseTo(least, 3)
            expect(squareTo(corners(mesh, search.triangle), p)).toBeCloseTo(least, 3)
            expect(length(sub([search.x, search.y, search.z], p)) ** 2).toBeCloseTo(least, 3)
            // Within less than that there is nothing, within more it is there.
            const d = Math.sqrt(least)
            if (d > 0.01) expect(search.square(p[0], p[1], p[2], 0.98 * d)).toBe(Infinity)
            expect(search.square(p[0], p[1], p[2], 1.02 * d + 0.01)).toBeCloseTo(least, 3)
          }
      }),
      fewRuns(8),
    )
  })
})

describe('boxes', () => {
  const meet = (m: TriMesh, s: number, n: TriMesh, t: number) => {
    const [a, b] = [corners(m, s), corners(n, t)]
    return [0, 1, 2].every(
      (k) =>
        Math.min(...a.map((p) => p[k])) <= Math.max(...b.map((p) => p[k])) &&
        Math.max(...a.map((p) => p[k])) >= Math.min(...b.map((p) => p[k])),
    )
  }
  it('that meet are found once for each pair, within a mesh and between two', () => {
    fc.assert(
      fc.property(anyBody, anyBody, (one, two) => {
        const within: string[] = []
        visitSelfPairs(one, buildBoxTree(one), (s, t) => void within.push(`${Math.min(s, t)} ${Math.max(s, t)}`))
        const want = all(one).flatMap((s) =>
          all(one).flatMap((t) => (s < t && meet(one, s, one, t) ? [`${s} ${t}`] : [])),
        )
        expect(within.sort()).toEqual(want.sort())
        const both = concatMeshes([one, two])
        const first = triangleCount(one)
        const between: string[] = []
        visitPairsFrom(
          both,
          buildBoxTree(both),
          first,
          (s, t) => void between.push(`${Math.min(s, t)} ${Math.max(s, t)}`),
        )
        const touching = all(both).flatMap((s) =>
          all(both).flatMap((t) => (s < t && t >= first && meet(both, s, both, t) ? [`${s} ${t}`] : [])),
        )
        expect(between.sort()).toEqual(touching.sort())
      }),
      fewRuns(6),
    )
  })
  it('a search ends when it is told to', () => {
    let seen = 0
    const mesh = sphere(5, 2)
    visitSelfPairs(mesh, buildBoxTree(mesh), () => ++seen === 3)
    expect(seen).toBe(3)
  })
  it('hold the triangles they are made of, and flag those that reach into them, with room or without', () => {
    fc.assert(
      fc.property(anyBody, place, fc.integer({ min: 0, max: 8 }), (mesh, at, half) => {
        const some = all(mesh).filter((t) => t % 3 === 0)
        const own = boxOf(mesh, some)
        for (const t of some)
          for (const p of corners(mesh, t)) p.forEach((v, k) => expect(v >= own[k] && v <= own[3 + k]).toBe(true))
        expect([0, 1, 2].some((k) => some.some((t) => corners(mesh, t).some((p) => p[k] === own[k])))).toBe(true)
        for (const room of [0, 0.5]) {
          const cube = [...at.map((v) => v - half / 2), ...at.map((v) => v + half / 2)]
          const flags = flagInBox(mesh, cube, room)
          for (const t of all(mesh)) {
            const p = corners(mesh, t)
            const meets = [0, 1, 2].every(
              (k) =>
                Math.max(...p.map((q) => q[k])) >= cube[k] - room &&
                Math.min(...p.map((q) => q[k])) <= cube[3 + k] + room,
            )
            expect([t, flags[t]]).toEqual([t, meets ? 1 : 0])
          }
          // Flags that stand already stay.
          // Many boxes, by a tree, flag what each of them flags.
          const cubes = Array.from({ length: 12 }, (_, n) => cube.map((v) => v + 0.37 * n))
          const each = new Uint8Array(triangleCount(mesh))
          for (const c of cubes) flagInBox(mesh, c, room, each)
          expect(flagInBoxes(mesh, cubes, room, new Uint8Array(each.length), each.length)).toEqual(each)
          expect(flagInBox(mesh, cube, room, new Uint8Array(triangleCount(mesh)).fill(1)).every(Boolean)).toBe(true)
          const few = flagInBox(mesh, [-1e3, -1e3, -1e3, 1e3, 1e3, 1e3], 0, undefined, 5)
          expect(few.reduce((a, b) => a + b, 0)).toBe(5)
        }
      }),
      fewRuns(15),
    )
  })
})

describe('faults that are put in', () => {
  it('are found by number, whatever the order of the corners', () => {
    fc.assert(
      fc.property(anyBody, fc.integer({ min: 0, max: 1e6 }), (mesh, chance) => {
        const n = triangleCount(mesh)
        const t = chance % n
        const k = mesh.triangles
        const turn = chance % 3
        const copy = [k[3 * t + turn], k[3 * t + ((turn + 1) % 3)], k[3 * t + ((turn + 2) % 3)]]
        const flat = [k[3 * t], k[3 * t + 1], k[3 * t]]
        const bad = {
          positions: mesh.positions,
          triangles: Uint32Array.from([...k, ...(chance & 1 ? copy : [...copy].reverse()), ...flat]),
        }
        expect(findDegenerate(mesh)).toEqual([])
        expect(findDuplicates(mesh)).toEqual([])
        expect(findDegenerate(bad)).toEqual([n + 1])
        expect(findDuplicates(bad)).toEqual([n])
        expect(findFolded(mesh, buildTopology(mesh))).toEqual([])
      }),
      fewRuns(30),
    )
  })
  it('a sliver is without area when it is lower than ten millionths of the diagonal, not when it is higher', () => {
    const sliver = (h: number): TriMesh => ({
      positions: Float32Array.from([0, 0, 0, 1, 0, 0, 0.5, h, 0, 0, 0, 1]),
      triangles: Uint32Array.from([0, 1, 2, 0, 1, 3]),
    })
    const { min, max } = meshBounds(sliver(0))
    const size = length(sub(max, min))
    expect(findDegenerate(sliver(0.9e-7 * size))).toEqual([0])
    expect(findDegenerate(sliver(1.2e-7 * size))).toEqual([])
  })
  it('a corner pulled over its neighbours folds there and nowhere else, asked for the whole or for what is near', () => {
    const n = 8
    const flat = (pull: boolean): TriMesh => {
      const p: number[] = []
      const t: number[] = []
      for (let j = 0; j <= n; j++)
        for (let i = 0; i <= n; i++)
          p.push(i + (pull && i === 4 && j === 4 ? 1.6 : 0), j + (pull && i === 4 && j === 4 ? 0.2 : 0), 0)
      for (let j = 0; j < n; j++)
        for (let i = 0; i < n; i++) {
          const a = i + (n + 1) * j
          t.push(a, a + 1, a + n + 2, a, a + n + 2, a + n + 1)
        }
      return { positions: Float32Array.from(p), triangles: Uint32Array.from(t) }
    }
    const level = flat(false)
    expect(findFolded(level, buildTopology(level))).toEqual([])
    const mesh = flat(true)
    const turned = all(mesh).filter((t) => crossOf(mesh, t)[2] < 0)
    const topology = buildTopology(mesh)
    const folded = findFolded(mesh, topology)
    expect(turned.length).toBeGreaterThan(0)
    expect(folded.length).toBeGreaterThan(0)
    const near = new Set(turned.flatMap((t) => [...mesh.triangles.subarray(3 * t, 3 * t + 3)]))
    for (const t of folded) expect([...mesh.triangles.subarray(3 * t, 3 * t + 3)].some((v) => near.has(v))).toBe(true)
    expect(findFolded(mesh, topology, all(mesh)).sort()).toEqual([...folded].sort())
    expect(findFolded(mesh, topology, [0, 1, 2])).toEqual([])
  })
})

describe('facing', () => {
  it('whatever triangles are turned over, all face outward again and the volume is above nought', () => {
    fc.assert(
      fc.property(anyBody, fc.integer({ min: 1, max: 1000 }), (mesh, seed) => {
        const chance = random(seed)
        const triangles = mesh.triangles.slice()
        for (let t = 0; t < triangleCount(mesh); t++)
          if (chance.next() < 0.5) [triangles[3 * t], triangles[3 * t + 1]] = [triangles[3 * t + 1], triangles[3 * t]]
        const { mesh: out } = faceOutward({ positions: mesh.positions, triangles })
        expect(meshVolume(out)).toBeCloseTo(meshVolume(mesh), 4)
        expect(buildTopology(out).flippedEdges).toBe(0)
      }),
      fewRuns(20),
    )
  })
  it('a strip with one side is cut open once, where no one way round exists; a plain one is not', () => {
    for (const n of [8, 24, 60]) {
      const strip = moebius(n)
      const out = faceOutward(strip)
      expect([n, out.cut, buildTopology(out.mesh).flippedEdges]).toEqual([n, 1, 0])
      expect(buildTopology(out.mesh).openEdges).toBeGreaterThan(buildTopology(strip).openEdges)
      expect(meshArea(out.mesh)).toBeCloseTo(meshArea(strip), 4)
    }
    expect(faceOutward(without(box(4, 4, 4), (_x, _y, z) => z > 3.9)).cut).toBe(0)
  })
  it('a hollow stays inward, and is told as right; a lone one turned in is told as wrong', () => {
    const hollow = concatMeshes([box(10, 10, 10), shifted(inward(box(4, 4, 4)), 3, 3, 3)])
    expect(meshVolume(faceOutward(hollow).mesh)).toBeCloseTo(1000 - 64, 6)
    expect(pieceFacts(hollow).insideOut.filter(Boolean)).toEqual([])
    expect(pieceFacts(inward(box(4, 4, 4))).insideOut.filter(Boolean)).toHaveLength(1)
  })
})

describe('topology', () => {
  it('Euler: corners less edges and triangles are two for each ball, none for a ring; each vertex has its triangles', () => {
    fc.assert(
      fc.property(anyBody, (mesh) => {
        const t = buildTopology(mesh)
        const n = triangleCount(mesh)
        expect([t.openEdges, t.nonManifoldEdges]).toEqual([0, 0])
        t.twin.forEach((w, h) => expect(t.twin[w]).toBe(h))
        const { start, list } = vertexTriangles(mesh)
        expect(list.length).toBe(3 * n)
        for (let v = 0; v + 1 < start.length; v++)
          for (let i = start[v]; i < start[v + 1]; i++)
            expect([...mesh.triangles.subarray(3 * list[i], 3 * list[i] + 3)]).toContain(v)
        const euler = mesh.positions.length / 3 - (3 * n) / 2 + n
        expect([0, 2]).toContain(euler)
      }),
      fewRuns(20),
    )
  })
  it('the rims of a tube are two loops of as many edges as it has sides', () => {
    const open = without(cylinder(5, 8, 20, 3), (_x, _y, z) => z < 0.01 || z > 7.99)
    const rims = findRims(open, buildTopology(open))
    expect(rims.map((r) => [r.closed, r.halfEdges.length])).toEqual([
      [true, 20],
      [true, 20],
    ])
  })
  it('what is kept has the area that was kept', () => {
    fc.assert(
      fc.property(anyBody, fc.integer({ min: 2, max: 5 }), (mesh, every) => {
        const kept = all(mesh).filter((t) => t % every === 0)
        const { mesh: part, triangleFrom } = keepTriangles(
          mesh,
          all(mesh).map((t) => t % every === 0),
        )
        expect([...triangleFrom]).toEqual(kept)
        expect(meshArea(part)).toBeCloseTo(
          kept.reduce((s, t) => s + triangleArea(mesh, t), 0),
          4,
        )
      }),
      fewRuns(15),
    )
  })
})

describe('normals for drawing', () => {
  it('are the mean of the triangles round a corner on a smooth skin, one for each face at an edge', () => {
    const c = creased(cylinder(5, 8, 24, 2))
    // Corners of a rim come twice: for the wall and for the cap.
    const at = new Map<string, number[]>()
    for (let v = 0; v < c.positions.length / 3; v++) {
      const key = [...c.positions.subarray(3 * v, 3 * v + 3)].map((x) => x.toFixed(4)).join()
      at.set(key, [...(at.get(key) ?? []), v])
    }
    for (const [key, list] of at) {
      const [x, y, z] = key.split(',').map(Number)
      const rim = Math.hypot(x, y) > 4.99 && (z < 0.01 || z > 7.99)
      expect([key, list.length]).toEqual([key, rim ? 2 : 1])
      for (const v of list) {
        const n = [...c.normals.subarray(3 * v, 3 * v + 3)]
        const l = Math.hypot(...n)
        const flat = Math.abs(n[2]) / l > 0.99
        if (!flat) expect((n[0] * x + n[1] * y) / (l * Math.hypot(x, y))).toBeCloseTo(1, 2)
      }
    }
  })
})

describe('quads', () => {
  it('of a block: Euler, valences, lengths, corners, normals, and triangles of its volume', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 5 }),
        fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: 2, max: 9 }))),
        (n, size) => {
          const net = quadBlock(size as unknown as Vec3, [0, 0, 0], n)
          const t = quadTopology(net)
          const f = quadFigures(net, t)
          expect([f.closed, f.pieces, f.quads]).toEqual([true, 1, 6 * n * n])
          expect(f.vertices - t.edges + f.quads).toBe(2)
          expect(t.edges).toBe(12 * n * n)
          expect(f.irregularPoints).toBe(8)
          expect(f.irregular).toBeCloseTo(8 / f.vertices, 9)
          expect(f.minAngle).toBeCloseTo(90, 3)
          expect(f.edge).toBeCloseTo((size[0] + size[1] + size[2]) / (3 * n), 4)
          expect(t.rim.every((r) => r === 0)).toBe(true)
          t.twin.forEach((w, h) => expect(t.twin[w]).toBe(h))
          for (let h = 0; h < net.quads.length; h++) expect(prevInQuad(nextInQuad(h))).toBe(h)
          const mesh = trianglesOfQuads(net)
          expect(meshVolume(mesh)).toBeCloseTo(size[0] * size[1] * size[2], 2)
          const normals = quadNormals(Float64Array.from(net.positions), net.quads)
          const middle = size.map((v) => v / 2)
          for (let v = 0; v < net.positions.length / 3; v++)
            expect(
              [0, 1, 2].reduce((s, k) => s + normals[3 * v + k] * (net.positions[3 * v + k] - middle[k]), 0),
            ).toBeGreaterThan(0)
        },
      ),
      fewRuns(12),
    )
  })
  it('an open net has its rim told; three quads at an edge have no twins there', () => {
    const net = quadBlock([4, 4, 4], [0, 0, 0], 2)
    const lidless = { positions: net.positions, quads: net.quads.subarray(4 * 4) }
    const t = quadTopology(lidless)
    expect(t.closed).toBe(false)
    expect(t.rim.reduce((a, b) => a + b, 0)).toBe(8)
    const fin = {
      positions: Float32Array.from([0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, 1, -1, 0, 0, -1, 0, 0, 0, 1, 1, 0, 1]),
      quads: Uint32Array.from([0, 1, 2, 3, 5, 4, 1, 0, 0, 1, 7, 6]),
    }
    expect([...quadTopology(fin).twin].every((w) => w < 0)).toBe(true)
  })
  it('faces of any number of corners become quads: as many as they have corners, unless all have four', () => {
    const p = Float32Array.from([0, 0, 0, 4, 0, 0, 4, 4, 0, 0, 4, 0, 2, 6, 0])
    const mixed = quadsOfFaces(p, [
      [0, 1, 2, 3],
      [3, 2, 4],
    ])
    expect([mixed.divided, mixed.net.quads.length / 4]).toEqual([true, 7])
    expect(meshArea(trianglesOfQuads(mixed.net))).toBeCloseTo(16 + 4, 4)
    const plain = quadsOfFaces(p, [[0, 1, 2, 3]])
    expect([plain.divided, plain.net.quads.length / 4]).toEqual([false, 1])
  })
})

it('normals are of length one, square to their triangle, and outward', () => {
  fc.assert(
    fc.property(anyBody, (mesh) => {
      const n = triangleNormals(mesh)
      let volume = 0
      for (const t of all(mesh)) {
        const own: Vec3 = [n[3 * t], n[3 * t + 1], n[3 * t + 2]]
        const [a, b, c] = corners(mesh, t)
        expect(length(own)).toBeCloseTo(1, 5)
        expect(dot(own, sub(b, a))).toBeCloseTo(0, 4)
        expect(dot(own, sub(c, a))).toBeCloseTo(0, 4)
        volume += (dot(own, a) * triangleArea(mesh, t)) / 3
      }
      // The divergence theorem.
      expect(volume / meshVolume(mesh)).toBeCloseTo(1, 4)
    }),
    fewRuns(15),
  )
})
