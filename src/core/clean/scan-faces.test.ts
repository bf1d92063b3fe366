/** Scans face by face: skins brought down with their regions, and faces that draw back from what lies on nothing. */
import { describe, expect, it } from '@jest/globals'
import { quiet } from '@/core/base/work'
import type { Fitted } from '@/core/fit/fit-shape'
import { normalOf } from '@/core/fit/shape'
import { dot, type Vec3 } from '@/core/math/vec'
import { buildTopology } from '@/core/mesh/topology'
import { meshVolume } from '@/core/mesh/measures'
import { corners, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleNormals } from '@/core/mesh/triangle'
import { box, cylinder, shaken } from '@/testing/shapes'
import { coarser } from './coarser'
import { faceByFace } from './face-by-face'

const flat = (at: Vec3, axis: Vec3): Fitted => ({ kind: 'plane', at, axis, rms: 0, max: 0, inliers: 1, inside: false })
const middle = (m: TriMesh, t: number) => [0, 1, 2].map((k) => corners(m, t).reduce((s, c) => s + c[k] / 3, 0))

describe('a fine scan brought down', () => {
  it('stays closed, and its triangles keep to the faces that they lie on', async () => {
    const mesh = shaken(box(20, 20, 20, 40), 0.01)
    const shapes = [0, 1, 2].flatMap((k) =>
      [0, 20].map((v) =>
        flat(
          [0, 1, 2].map((j) => (j === k ? v : 0)) as unknown as Vec3,
          [0, 1, 2].map((j) => (j === k ? (v ? 1 : -1) : 0)) as unknown as Vec3,
        ),
      ),
    )
    const normals = triangleNormals(mesh)
    const of = Int32Array.from({ length: triangleCount(mesh) }, (_, t) => {
      const k = [0, 1, 2].find((j) => Math.abs(normals[3 * t + j]) > 0.7)
      return k === undefined ? -1 : 2 * k + (normals[3 * t + k] > 0 ? 1 : 0)
    })
    const small = await coarser(mesh, of, shapes, 0.03, 2000, quiet)
    expect(triangleCount(small.mesh)).toBeLessThan(2400)
    expect([small.topology.openEdges, small.topology.nonManifoldEdges]).toEqual([0, 0])
    expect(small.off).toBeLessThan(0.1)
    const own = triangleNormals(small.mesh)
    const told = [...small.of.keys()].filter((t) => small.of[t] >= 0)
    expect(told.length).toBeGreaterThan(0.97 * small.of.length)
    for (const t of told)
      expect(
        dot([own[3 * t], own[3 * t + 1], own[3 * t + 2]], normalOf(shapes[small.of[t]], [0, 0, 0])),
      ).toBeGreaterThan(0.6)
  })
})

describe('a wall beside a ragged patch of nothing', () => {
  it('is one true face still, the patch stays facets, and the body closes', async () => {
    const mesh = shaken(cylinder(10, 20, 90, 30), 0.004)
    const wall: Fitted = {
      kind: 'cylinder',
      at: [0, 0, 0],
      axis: [0, 0, 1],
      radius: 10,
      rms: 0,
      max: 0,
      inliers: 1,
      inside: false,
    }
    const [low, high] = [0, 1].map((k) =>
      mesh.positions
        .filter((_, i) => i % 3 === 2)
        .reduce((m, z) => (k ? Math.max(m, z) : Math.min(m, z)), k ? -Infinity : Infinity),
    )
    const shapes = [wall, flat([0, 0, low], [0, 0, -1]), flat([0, 0, high], [0, 0, 1])]
    const normals = triangleNormals(mesh)
    // Which triangles of the patch are told goes by no rule, as in a scan.
    const region = Int32Array.from({ length: triangleCount(mesh) }, (_, t) => {
      if (Math.abs(normals[3 * t + 2]) > 0.7) return normals[3 * t + 2] < 0 ? 1 : 2
      const [x, y, z] = middle(mesh, t)
      const from = Math.hypot(Math.atan2(y, x) * 10, z - (low + high) / 2)
      return from < 3 || (from < 5 && (t * 7919) % 5 < 3) ? -1 : 0
    })
    const made = await faceByFace(
      mesh,
      buildTopology(mesh),
      region,
      shapes,
      { close: 0.03, strays: true, name: 'w', closed: true },
      quiet,
    )
    expect(made.body.kind).toBe('solid')
    const round = made.patches.patches.filter((p) => p.shape?.kind === 'cylinder')
    expect(Math.max(...round.map((p) => p.triangles.length))).toBeGreaterThan(4000)
    const facets = made.patches.patches.filter((p) => !p.shape).length
    expect(facets).toBeGreaterThan(50)
    expect(facets).toBeLessThan(1200)
    expect(Math.abs(made.body.facts.volume / meshVolume(mesh) - 1)).toBeLessThan(0.003)
  }, 120_000)
})
