/** What clean solids are put together from: patches and their borders, rows filled up, prisms, half sections, bodies with hollows. */
import { describe, expect, it } from '@jest/globals'
import { recognise } from '@/core/fit/recognise'
import { buildTopology } from '@/core/mesh/topology'
import { concatMeshes, flipTriangles, type TriMesh } from '@/core/mesh/tri-mesh'
import type { Drawing, Place } from '@/core/outline/drawing'
import { bracketShape } from '@/core/scan/shapes'
import { box, cylinder, shifted, sphere } from '@/testing/shapes'
import { bodiesOf } from './bodies'
import { filledRows } from './filled-row'
import { patchesOf } from './patches'
import { prismOf } from './prism'
import { facesOfProfile, offCurves, turnedWallOf, wallOf } from './profile-faces'
import { axesThroughMiddle, turnedAbout } from './turned'

const patched = (mesh: TriMesh) => {
  const r = recognise(mesh)
  return patchesOf(
    mesh,
    buildTopology(mesh),
    r.of,
    r.regions.map((x) => x.shape),
  )
}
const inward = (m: TriMesh): TriMesh => ({ positions: m.positions, triangles: flipTriangles(m.triangles) })

describe('patches', () => {
  it('of a box: six faces, twelve edges, eight corners of three', () => {
    const p = patched(box(30, 20, 10, 3))
    expect([p.patches.length, p.chains.length, p.corners.size]).toEqual([6, 12, 8])
    for (const around of p.corners.values()) expect(around).toHaveLength(3)
    for (const { loops } of p.patches) expect(loops.map((l) => l.length)).toEqual([4])
  })
  it('of a bracket: each chain runs once forward and once back, and bores are closed', async () => {
    const p = patched(await bracketShape({ sides: 24 }))
    const ways = p.chains.map(() => 0)
    for (const { loops } of p.patches) for (const l of loops.flat()) ways[l.chain] += l.forward ? 1 : -1
    expect(ways.every((w) => w === 0)).toBe(true)
    expect(p.chains.filter((c) => c.closed)).toHaveLength(12)
    for (const c of p.chains) if (c.closed) expect(c.vertices[0]).toBe(c.vertices[c.vertices.length - 1])
    // Euler: corners and closed chains' starts, edges, faces; every closed chain adds a corner of its own and each bore a loop.
    const inner = p.patches.reduce((n, x) => n + x.loops.length - 1, 0)
    const closed = p.chains.filter((c) => c.closed).length
    const handles = 5
    expect(p.corners.size + closed - p.chains.length + p.patches.length - inner).toBe(2 - 2 * handles)
  })
  it('facets without a shape stand alone, with corners everywhere', () => {
    const mesh = box(10, 10, 10, 1)
    const p = patchesOf(mesh, buildTopology(mesh), new Int32Array(12).fill(-1), [])
    expect([p.patches.length, p.chains.length, p.corners.size]).toEqual([12, 18, 8])
  })
  it('an open rim has nothing on its right', () => {
    const whole = cylinder(10, 20, 24)
    const mesh = { positions: whole.positions, triangles: whole.triangles.slice(0, -3 * 24) }
    expect(patched(mesh).chains.some((c) => c.right === -1)).toBe(true)
  })
})

describe('rows filled up', () => {
  const square: Place[] = [
    [0, 0],
    [10, 0],
    [10, 10],
    [0, 10],
  ]
  const rows = [{ places: square, closed: true }]
  it('puts places in order along the sides they belong to', () => {
    const [r] = filledRows(
      rows,
      [
        [7, 0.1],
        [3, -0.1],
        [0.1, 5],
      ],
      1e-6,
    )!
    expect(r.places).toEqual([
      [0, 0],
      [3, -0.1],
      [7, 0.1],
      [10, 0],
      [10, 10],
      [0, 10],
      [0.1, 5],
    ])
  })
  it('takes what is there already for one, or in place of it', () => {
    expect(filledRows(rows, [[10, 1e-7]], 1e-6)![0].places).toHaveLength(4)
    expect(
      filledRows(
        rows,
        [
          [10, 1e-7],
          [5, 0],
        ],
        1e-6,
        true,
      )![0].places,
    ).toEqual([
      [5, 0],
      [10, 1e-7],
    ])
  })
  it('a place that lies on none of them tells so', () => {
    expect(filledRows(rows, [[5, 5]], 1e-6)).toBeNull()
    expect(filledRows(rows, [[500, 5]], 1e-6)).toBeNull()
  })
})

describe('prisms and turned bodies', () => {
  const prism = (m: TriMesh) => prismOf(m, buildTopology(m), 1e-3, 1e-4)
  it('a block, a pin and a pin lying on its side are prisms; a ball is none', () => {
    expect(prism(box(30, 20, 10, 1))).not.toBeNull()
    expect(prism(cylinder(10, 20, 48))).toMatchObject({ height: 20, flatness: 0 })
    const c = cylinder(10, 20, 48)
    const lying = {
      positions: c.positions.map((_, i, p) => p[3 * Math.floor(i / 3) + ((i + 1) % 3)]),
      triangles: c.triangles,
    }
    expect(prism(lying)?.height).toBeCloseTo(20, 5)
    expect(prism(sphere(10, 3))).toBeNull()
  })
  it('a boss on a plate is no prism: it has three levels', async () => {
    expect(prism(await bracketShape({ sides: 24 }))).toBeNull()
  })
  it('a hole is a row of its own, and what no triangle uses does not count', () => {
    const m = cylinder(10, 20, 48)
    const far = { positions: Float32Array.from([...m.positions, 0, 0, 500]), triangles: m.triangles }
    expect(prism(far)?.height).toBe(20)
  })
  it('a ball turns about any line through its middle, a block about none', () => {
    const ball = shifted(sphere(10, 4), 3, 4, 5)
    const [line] = axesThroughMiddle(ball)
    const t = turnedAbout(ball, buildTopology(ball), line.at, line.axis, 1e-3)!
    expect(t.rows).toHaveLength(1)
    for (const [r, h] of t.rows[0].places) expect(Math.hypot(r, h)).toBeCloseTo(10, 2)
    const b = box(30, 20, 10, 2)
    for (const { at, axis } of axesThroughMiddle(b)) expect(turnedAbout(b, buildTopology(b), at, axis, 1e-3)).toBeNull()
  })
})

describe('bodies of several pieces', () => {
  it('hollows go with the smallest body round them, others stand alone', () => {
    const two = concatMeshes([sphere(20, 3), inward(sphere(5, 3)), shifted(box(10, 10, 10, 1), 100, 0, 0)])
    expect(bodiesOf(two).map((m) => m.triangles.length / 3)).toEqual([1024, 12])
    expect(bodiesOf(inward(sphere(5, 3)))).toHaveLength(1)
  })
})

describe('faces of a profile', () => {
  const d: Drawing = {
    points: [
      [0, 0],
      [10, 0],
      [10, 5],
      [0, 15],
      [0, 5],
      [5, 2],
    ],
    curves: [
      { kind: 'line', from: 0, to: 1 },
      { kind: 'line', from: 1, to: 2 },
      { kind: 'arc', from: 2, to: 3, centre: 4, ccw: true },
      { kind: 'circle', centre: 5, radius: 1 },
    ],
  }
  it('each place counts for the curve it lies nearest to', () => {
    const off = offCurves(d, [
      [5, 0.2],
      [9.7, 3],
      [6.5, 2],
    ])
    expect(off.map((o) => o.offs.map((v) => Number(v.toFixed(6))))).toEqual([[0.2], [0.3], [], [0.5]])
  })
  it('what curves become, drawn out and turned', () => {
    expect(d.curves.map((c) => wallOf(d, c).shape)).toEqual(['plane', 'plane', 'cylinder', 'cylinder'])
    expect(d.curves.map((c) => turnedWallOf(d, c).shape)).toEqual(['plane', 'cylinder', 'sphere', 'ring'])
    expect(turnedWallOf({ ...d, curves: [] }, { kind: 'line', from: 0, to: 2 })).toMatchObject({ shape: 'cone' })
  })
  it('the table tells rms and most by face, and where it is', () => {
    const plane = { at: [0, 0, 7] as const, normal: [0, 0, 1] as const, x: [1, 0, 0] as const }
    const faces = facesOfProfile(
      plane,
      d,
      offCurves(d, [
        [2, 0.3],
        [8, -0.4],
      ]),
      wallOf,
    )
    expect(faces[0]).toMatchObject({ corners: 2, max: 0.4, at: [5, 0, 7] })
    expect(faces[0].rms).toBeCloseTo(Math.sqrt(0.125), 9)
    expect(faces[1]).toMatchObject({ corners: 0, rms: 0, max: 0 })
  })
})
