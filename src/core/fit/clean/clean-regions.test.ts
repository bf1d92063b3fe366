/** Recognition of clean tessellations: each facet in one region, corners on their shapes, the same wherever the part stands. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { quiet } from '@/core/base/work'
import { applyPoint, rotation } from '@/core/math/affine'
import { distance, dot } from '@/core/math/vec'
import { triangleNormals } from '@/core/mesh/triangle'
import { buildTopology } from '@/core/mesh/topology'
import { corners, diagonal, meshBounds, transformMesh, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { anyMove, fewRuns } from '@/testing/small-bodies'
import { box, cylinder, shaken, sphere, torus } from '@/testing/shapes'
import { offShape } from '../shape'
import { joinBands } from './bands'
import { cleanRegions } from './clean-regions'
import { cornersOf, facetsOf, heightOf, liesOn } from './facets'
import { freeRuns, runOn } from './runs'

const fieldOf = (mesh: TriMesh) => ({ mesh, topology: buildTopology(mesh), normals: triangleNormals(mesh) }) as never
const regionsOf = (mesh: TriMesh, within = 1e-6 * diagonal(meshBounds(mesh))) =>
  cleanRegions(fieldOf(mesh), within, quiet)!

describe('facets', () => {
  it('of a box are its six faces, however finely it is cut, each beside four others at a right angle', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 5 }), anyMove, (n, move) => {
        const { facets, of } = facetsOf(fieldOf(transformMesh(box(4, 5, 6, n), move)), 0)
        expect(facets).toHaveLength(6)
        expect(facets.flatMap((f) => f.triangles)).toHaveLength(of.length)
        for (const f of facets) {
          expect(f.corners).toHaveLength(4)
          expect([...f.beside.values()].map((turn) => turn.toFixed(3))).toEqual(Array(4).fill((Math.PI / 2).toFixed(3)))
        }
        const areas = facets.map((f) => f.area).sort((a, b) => a - b)
        ;[20, 20, 24, 24, 30, 30].forEach((a, i) => expect(areas[i]).toBeCloseTo(a, 3))
      }),
      fewRuns(15),
    )
  })
  it('of a round wall are its sides: each beside two, by the turn of the polygon', () => {
    const { facets } = facetsOf(fieldOf(cylinder(5, 10, 24, 3)), 0)
    expect(facets).toHaveLength(26)
    const walls = facets.filter((f) => Math.abs(f.normal[2]) < 0.5)
    for (const w of walls) {
      const turns = [...w.beside.values()].filter((t) => t < 1)
      expect(turns).toHaveLength(2)
      for (const t of turns) expect(t).toBeCloseTo((2 * Math.PI) / 24, 4)
    }
  })
  it('whose coordinates were rounded are the same facets, when it is known by how much', () => {
    const step = 0.01
    const exact = transformMesh(cylinder(5, 10, 24, 3), rotation([1, 2, 3], 37))
    const rounded = { ...exact, positions: exact.positions.map((v) => Math.round(v / step) * step) }
    expect(facetsOf(fieldOf(rounded), 0).facets.length).toBeGreaterThan(30)
    expect(facetsOf(fieldOf(rounded), step).facets).toHaveLength(26)
  })
  it('lie on the shape that their corners do, and face as it does', () => {
    const mesh = cylinder(5, 10, 24, 1)
    const f = fieldOf(mesh)
    const { facets } = facetsOf(f, 0)
    const wall = { kind: 'cylinder', at: [0, 0, 0], axis: [0, 0, 1], radius: 5, inside: false } as never
    const on = facets.filter((x) => liesOn(f, x, wall, 1e-4))
    expect(on).toHaveLength(24)
    expect(facets.some((x) => liesOn(f, x, { ...(wall as object), inside: true } as never, 1e-4))).toBe(false)
    expect(facets.some((x) => liesOn(f, x, { ...(wall as object), radius: 5.01 } as never, 1e-4))).toBe(false)
    const { points, normals, weights } = cornersOf(f, on)
    expect(points).toHaveLength(48)
    for (const p of points) expect(Math.hypot(p[0], p[1])).toBeCloseTo(5, 5)
    normals.forEach((n, i) => expect(dot(n, [points[i][0] / 5, points[i][1] / 5, 0])).toBeCloseTo(1, 6))
    expect(weights.reduce((a, b) => a + b, 0)).toBeCloseTo(
      on.reduce((s, x) => s + x.area, 0),
      6,
    )
  })
  it('a triangle is as high as twice its area over its longest side', () => {
    const mesh = { positions: Float32Array.from([0, 0, 0, 4, 0, 0, 1, 0.5, 0]), triangles: Uint32Array.from([0, 1, 2]) }
    expect(heightOf(mesh, 0)).toBeCloseTo(0.5, 6)
  })
})

describe('runs of facets', () => {
  it('go on round a wall and stop at its rims', () => {
    const { facets } = facetsOf(fieldOf(cylinder(5, 10, 24, 1)), 0)
    const seed = facets.findIndex((f) => Math.abs(f.normal[2]) < 0.5)
    const none = new Int8Array(facets.length)
    expect(runOn(facets, none, seed, 8)).toHaveLength(8)
    const all = runOn(facets, none, seed, 1000)
    expect(all).toHaveLength(24)
    // What is taken already is no part of it.
    const taken = none.slice()
    for (const k of all.slice(3)) taken[k] = 1
    expect(runOn(facets, taken, seed, 1000).every((k) => k === seed || !taken[k])).toBe(true)
  })
  it('a surface that bends on is one run, six faces of a box are none', () => {
    const wall = facetsOf(fieldOf(cylinder(5, 10, 24, 1)), 0).facets
    const runs = freeRuns(wall, [...wall.keys()])
    expect(runs.map((r) => r.length)).toEqual([24])
    const cube = facetsOf(fieldOf(box(4, 5, 6)), 0).facets
    expect(freeRuns(cube, [...cube.keys()])).toEqual([])
  })
})

describe('regions', () => {
  const parts: [string, TriMesh, Record<string, number>][] = [
    ['a box', box(4, 5, 6, 2), { plane: 6 }],
    ['a rod', cylinder(5, 12, 40), { cylinder: 1, plane: 2 }],
    ['a ball', sphere(6, 3), { sphere: 1 }],
    ['a ring', torus(10, 3, 32, 16), { ring: 1 }],
  ]
  it.each(parts)('%s: each triangle in one, corners on the shape, the same wherever it stands', (_, mesh, kinds) => {
    fc.assert(
      fc.property(anyMove, (move) => {
        const moved = transformMesh(mesh, move)
        const regions = regionsOf(moved)
        const found: Record<string, number> = {}
        for (const r of regions) found[r.shape?.kind ?? 'free'] = (found[r.shape?.kind ?? 'free'] ?? 0) + 1
        if (JSON.stringify(found) !== JSON.stringify(kinds)) throw new Error(JSON.stringify(found))
        const all = regions.flatMap((r) => r.triangles)
        expect(all).toHaveLength(triangleCount(mesh))
        expect(new Set(all).size).toBe(all.length)
        const close = 2e-6 * diagonal(meshBounds(moved))
        for (const { shape, triangles } of regions)
          for (const t of triangles)
            for (const p of corners(moved, t)) expect(Math.abs(offShape(shape!, p))).toBeLessThan(close)
        const round = regions.find((r) => r.shape!.kind !== 'plane')?.shape
        if (round && round.kind !== 'cylinder')
          expect(distance(round.at, applyPoint(move, [0, 0, 0]))).toBeLessThan(1e-3)
      }),
      fewRuns(2),
    )
  })
  it('what is shaken is told to be no clean tessellation, or holds no round shape', () => {
    const regions = cleanRegions(fieldOf(shaken(sphere(6, 4), 0.05)), 1e-5, quiet, { patience: 20 })
    expect((regions ?? []).filter((r) => r.shape && r.shape.kind !== 'plane')).toEqual([])
  })
  it('bands of cones that make up a ball become one ball', () => {
    const f = fieldOf(sphere(6, 3))
    const { facets } = facetsOf(f, 0)
    const upper = facets.flatMap((x, i) => (x.normal[2] > 0.2 ? [i] : []))
    const rest = facets.flatMap((x, i) => (x.normal[2] > 0.2 ? [] : [i]))
    const shape = { kind: 'sphere', at: [0, 0, 0], radius: 6, inside: false, rms: 0, max: 0, inliers: 1 } as never
    const halves = [upper, rest].map((list) => ({
      shape,
      facets: list,
      triangles: list.flatMap((k) => facets[k].triangles),
    }))
    const joined = joinBands(f, facets, halves, 1e-4, 12)
    expect(joined).toHaveLength(1)
    expect(joined[0].triangles).toHaveLength(facets.flatMap((x) => x.triangles).length)
    expect(joined[0].shape.radius).toBeCloseTo(6, 4)
  })
})
