/** Patches of a mesh and the exact body that they bound: closed forms of boxes and rods, shaken and turned. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { fitKind, type Fitted } from '@/core/fit/fit-shape'
import { samplesOf } from '@/core/fit/samples'
import { offShape } from '@/core/fit/shape'
import { distance, dot, sub, type Vec3 } from '@/core/math/vec'
import { triangleNormals } from '@/core/mesh/triangle'
import { buildTopology } from '@/core/mesh/topology'
import { transformMesh, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { anyMove, fewRuns } from '@/testing/small-bodies'
import { box, cylinder, shaken } from '@/testing/shapes'
import { boundOf } from './bound'
import { isFacet, patchesOf } from './patches'

/** Regions by the axis that a triangle of the part as it was faces along most; of a rod the wall is one. */
function regionsBy(mesh: TriMesh, round: boolean): number[] {
  const n = triangleNormals(mesh)
  return Array.from({ length: triangleCount(mesh) }, (_, t) => {
    const v = [n[3 * t], n[3 * t + 1], n[3 * t + 2]]
    if (round) return v[2] > 0.5 ? 0 : v[2] < -0.5 ? 1 : 2
    const k = [0, 1, 2].reduce((a, b) => (Math.abs(v[b]) > Math.abs(v[a]) ? b : a))
    return 2 * k + (v[k] > 0 ? 1 : 0)
  })
}

function bound(part: TriMesh, mesh: TriMesh, round: boolean, close: number, strays = false) {
  const region = regionsBy(part, round)
  const topology = buildTopology(mesh)
  const shapes: (Fitted | null)[] = Array.from({ length: Math.max(...region) + 1 }, (_, r) =>
    fitKind(
      round && r === 2 ? 'cylinder' : 'plane',
      samplesOf(
        mesh,
        region.flatMap((x, t) => (x === r ? [t] : [])),
      ),
    ),
  )
  const p = patchesOf(mesh, topology, region, shapes)
  const shells = [{ outer: p.patches.map((_, i) => i), hollows: [] }]
  return { p, shapes, made: boundOf(mesh, p, shells, true, { close, strays }) }
}

describe('a box', () => {
  it('has eight corners on three planes each, and twelve straight edges between them', () => {
    fc.assert(
      fc.property(anyMove, fc.integer({ min: 1, max: 4 }), (move, n) => {
        const part = box(8, 6, 4, n)
        const { p, made } = bound(part, transformMesh(part, move), false, 1e-4)
        expect([p.patches.length, p.chains.length, p.corners.size]).toEqual([6, 12, 8])
        for (const patch of p.patches) expect([patch.loops.length, patch.loops[0].length]).toEqual([1, 4])
        expect(made.failed.size).toBe(0)
        const { corners, edges, faces } = made.body
        expect([corners.length, edges.length, faces.length]).toEqual([8, 12, 6])
        expect(edges.every((e) => e.curve.kind === 'line')).toBe(true)
        const lengths = edges.map((e) => distance(corners[e.from], corners[e.to])).sort((a, b) => a - b)
        ;[4, 4, 4, 4, 6, 6, 6, 6, 8, 8, 8, 8].forEach((l, i) => expect(lengths[i]).toBeCloseTo(l, 3))
        for (const [v, around] of p.corners) expect([v, around.length]).toEqual([v, 3])
      }),
      fewRuns(10),
    )
  })
  it('of a scan has its corners where three fitted planes meet, to the last digit', () => {
    const part = box(8, 6, 4, 6)
    const { p, made } = bound(part, shaken(part, 0.01, 3), false, 0.02, true)
    expect(made.failed.size).toBe(0)
    for (const corner of made.body.corners) {
      const offs = p.patches.map((x) => Math.abs(offShape(x.shape!, corner))).sort((a, b) => a - b)
      expect(offs[2]).toBeLessThan(1e-9)
      expect(offs[3]).toBeGreaterThan(1)
    }
  })
  it('of which one face is not known stays facets there, beside five faces', () => {
    const part = box(8, 6, 4, 2)
    const region = regionsBy(part, false)
    const topology = buildTopology(part)
    const shapes = Array.from({ length: 6 }, (_, r) =>
      r === 5
        ? null
        : fitKind(
            'plane',
            samplesOf(
              part,
              region.flatMap((x, t) => (x === r ? [t] : [])),
            ),
          ),
    )
    const p = patchesOf(part, topology, region, shapes)
    const facets = p.patches.filter(isFacet)
    expect([p.patches.length - facets.length, facets.length]).toEqual([5, 8])
    for (const f of facets) expect([f.triangles.length, f.loops[0].length, f.region]).toEqual([1, 3, -1])
    const made = boundOf(part, p, [{ outer: p.patches.map((_, i) => i), hollows: [] }], true, {
      close: 1e-4,
      strays: false,
    })
    expect([made.failed.size, made.body.faces.length]).toEqual([0, 13])
    // Every edge stands between two faces: Euler's formula of a closed skin.
    const { corners, edges, faces } = made.body
    expect(corners.length - edges.length + faces.length).toBe(2)
  })
})

describe('a rod', () => {
  it('has two rims that are circles of its radius about its axis, and a wall between', () => {
    fc.assert(
      fc.property(anyMove, fc.integer({ min: 24, max: 60 }), (move, n) => {
        const part = cylinder(5, 12, n, 2)
        const { p, shapes, made } = bound(part, transformMesh(part, move), true, 1e-4)
        expect([p.patches.length, p.chains.length, p.corners.size]).toEqual([3, 2, 0])
        expect(made.failed.size).toBe(0)
        const wall = shapes[2]!
        for (const { from, to, curve } of made.body.edges) {
          expect(from).toBe(to)
          if (curve.kind !== 'circle') throw new Error('no circle')
          expect(curve.radius).toBeCloseTo(5, 4)
          expect(Math.abs(dot(curve.axis, wall.axis!))).toBeCloseTo(1, 8)
          const aside = sub(curve.centre, wall.at)
          const along = dot(aside, wall.axis!)
          expect(Math.sqrt(Math.max(0, dot(aside, aside) - along * along))).toBeLessThan(1e-6)
          expect(offShape(wall, made.body.corners[from])).toBeCloseTo(0, 6)
        }
        const heights = made.body.edges.map(({ curve }) =>
          dot(sub((curve as { centre: Vec3 }).centre, wall.at), wall.axis!),
        )
        expect(Math.abs(heights[0] - heights[1])).toBeCloseTo(12, 4)
      }),
      fewRuns(8),
    )
  })
})
