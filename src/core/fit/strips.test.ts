/** Strips, scraps and what hangs together: which regions a scan's rounded edges go to. */
import { describe, expect, it } from '@jest/globals'
import { buildTopology } from '@/core/mesh/topology'
import { concatMeshes, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { flood } from '@/core/mesh/flood'
import { box, cylinder, shifted } from '@/testing/shapes'
import { fitKind, type Fitted } from './fit-shape'
import { fitHeld } from './held'
import { absorbNarrow, releaseSpanning } from './narrow'
import { patchesOf } from './patches'
import { samplesOf } from './samples'

/** Triangles all of whose corners hold to a rule. */
const where = (m: TriMesh, rule: (x: number, y: number, z: number) => boolean) =>
  [...Array(triangleCount(m)).keys()].filter((t) =>
    [0, 1, 2].every((c) => {
      const v = 3 * m.triangles[3 * t + c]
      return rule(m.positions[v], m.positions[v + 1], m.positions[v + 2])
    }),
  )

describe('what hangs together', () => {
  const two = concatMeshes([box(4, 4, 4), shifted(box(4, 4, 4), 10, 0, 0)])
  const { twin } = buildTopology(two)
  it('is reached over edges, once, and no farther than it may', () => {
    const seen = new Uint8Array(24)
    expect(flood(twin, 0, seen, () => true).sort((a, b) => a - b)).toEqual(Array.from({ length: 12 }, (_, i) => i))
    expect(seen.slice(12).some(Boolean)).toBe(false)
    expect(flood(twin, 12, seen, () => false)).toEqual([12])
  })
  it('patches come largest first, and only of what is picked', () => {
    const flags = new Uint8Array(24).fill(1)
    flags.fill(0, 0, 10)
    expect(patchesOf(two, flags).map((p) => p.length)[0]).toBe(12)
    expect(patchesOf(two, flags).reduce((s, p) => s + p.length, 0)).toBe(14)
  })
})

describe('strips between larger regions', () => {
  const m = box(20, 20, 20, 10)
  const topology = buildTopology(m)
  const plane = (list: readonly number[]): Fitted => fitKind('plane', samplesOf(m, list), {}, { lots: 0 })
  const top = where(m, (_x, _y, z) => z > 19.9)
  const front = where(m, (_x, y) => y < 0.1)
  /** The top and the front are regions, but for their last rows along the edge that they share; all else is of none. */
  const start = () => {
    const of = new Int32Array(triangleCount(m)).fill(-1)
    for (const t of top) of[t] = 0
    for (const t of front) of[t] = 1
    for (const t of where(m, (_x, y, z) => (z > 19.9 && y < 2.1) || (y < 0.1 && z > 17.9))) of[t] = -1
    return of
  }
  const shapes = [plane(top), plane(front)]
  it('a rounded edge goes to both sides, each triangle to the nearer', () => {
    const of = start()
    // What is left of the box is wide and stays of no region: only the two rows are looked at, as a region by itself.
    const rest = where(m, (_x, y, z) => !(z > 19.9) && !(y < 0.1))
    const own = [...shapes, plane(where(m, (_x, _y, z) => z < 0.1))]
    for (let t = 0; t < of.length; t++) if (of[t] < 0 && !top.includes(t) && !front.includes(t)) of[t] = 2
    expect(rest.length).toBeGreaterThan(0)
    absorbNarrow(m, topology, of, own)
    for (const t of top) expect(of[t]).toBe(0)
    for (const t of front) expect(of[t]).toBe(1)
  })
  it('a scrap of another shape goes to what is round it', () => {
    const of = start()
    for (const t of top) of[t] = 0
    for (const t of front) of[t] = 1
    for (let t = 0; t < of.length; t++) if (of[t] < 0) of[t] = 1
    const scrap = where(m, (x, y, z) => z > 19.9 && x > 7.9 && x < 12.1 && y > 7.9 && y < 10.1)
    expect(scrap.length).toBeGreaterThan(1)
    for (const t of scrap) of[t] = 2
    absorbNarrow(m, topology, of, [...shapes, { ...plane(scrap), kind: 'sphere', radius: 90 } as Fitted])
    for (const t of scrap) expect(of[t]).toBe(0)
  })
})

describe('a direction that a shape is held to', () => {
  const m = cylinder(6, 20, 48)
  const wall = samplesOf(
    m,
    where(m, (x, y) => Math.hypot(x, y) > 5.9).filter((t) => {
      const z = [0, 1, 2].map((c) => m.positions[3 * m.triangles[3 * t + c] + 2])
      return Math.max(...z) - Math.min(...z) > 5
    }),
  )
  it('square to one that it nearly is square to, exactly so; along it, a sentence', () => {
    const way = [1, 0, 0.01] as const
    const { fit } = fitHeld(wall, { shape: 'cylinder', hold: 'square', way, snap: 'none' })
    expect(Math.abs(fit.axis![0] * way[0] + fit.axis![2] * way[2])).toBeLessThan(1e-12)
    expect(() => fitHeld(wall, { shape: 'cylinder', hold: 'square', way: [0, 0, 1], snap: 'none' })).toThrow(
      /runs along that direction/,
    )
  })
  it('a diameter comes to its step: 12 mm to sixty-fourths of an inch', () => {
    const { fit } = fitHeld(wall, { shape: 'cylinder', hold: 'free', snap: 'sixtyfourth' })
    expect(2 * fit.radius!).toBeCloseTo((25.4 / 64) * Math.round(12 / (25.4 / 64)), 9)
  })
})

describe('triangles across a bore', () => {
  it('with all their corners on its wall are no part of it; those of the wall stay', () => {
    const n = 60
    const m = cylinder(10, 20, n, 20)
    const wall: Fitted = {
      kind: 'cylinder',
      at: [0, 0, 0],
      axis: [0, 0, 1],
      radius: 10,
      rms: 0,
      max: 0,
      inliers: 1,
      inside: true,
    }
    // A fan from one corner of a rim over the others closes the bore there.
    const rim = [...Array(m.positions.length / 3).keys()].filter(
      (v) =>
        Math.abs(m.positions[3 * v + 2] - m.positions[2]) < 1e-9 &&
        Math.hypot(m.positions[3 * v], m.positions[3 * v + 1]) > 9.9,
    )
    expect(rim).toHaveLength(n)
    const round = rim.sort(
      (a, b) =>
        Math.atan2(m.positions[3 * a + 1], m.positions[3 * a]) - Math.atan2(m.positions[3 * b + 1], m.positions[3 * b]),
    )
    const onWall = where(m, (x, y) => Math.hypot(x, y) > 9.9)
    const triangles = Uint32Array.from([
      ...onWall.flatMap((t) => [...m.triangles.subarray(3 * t, 3 * t + 3)]),
      ...round.slice(1, -1).flatMap((v, i) => [round[0], v, round[i + 2]]),
    ])
    const mesh: TriMesh = { positions: m.positions, triangles }
    const of = new Int32Array(triangles.length / 3)
    releaseSpanning(mesh, of, [wall], 0.1)
    expect(of.subarray(0, onWall.length).every((r) => r === 0)).toBe(true)
    const across = of.subarray(onWall.length)
    expect(across.filter((r) => r < 0).length).toBeGreaterThan(0.85 * across.length)
  })
})
