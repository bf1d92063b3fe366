/** Nets that follow guide curves, and nets mirrored at a plane of one's own. */
import { describe, expect, it } from '@jest/globals'
import { distance, dot, normalize, sub, type Vec3 } from '@/core/math/vec'
import { NearestInGrid } from '@/core/mesh/nearest'
import { quadFigures, type QuadMesh } from '@/core/mesh/quad-mesh'
import { meshBounds } from '@/core/mesh/tri-mesh'
import { box, cylinder, sheet, shifted, sphere } from '@/testing/shapes'
import { guideOn, type Guide } from './guides'
import { quadNet } from './quad-net'
import { halfAt, mirroredAt } from './symmetry'
import { itLong } from '@/testing/long'

const ring = (n: number, at: (a: number) => Vec3): Guide => ({
  places: Array.from({ length: n }, (_, i) => at((2 * Math.PI * i) / n)),
  closed: true,
})
const corner = (net: QuadMesh, v: number): Vec3 => [
  net.positions[3 * v],
  net.positions[3 * v + 1],
  net.positions[3 * v + 2],
]
const edgesOf = (net: QuadMesh) =>
  Array.from(net.quads, (v, i) => [corner(net, v), corner(net, net.quads[i % 4 === 3 ? i - 3 : i + 1])] as const)
/** How far places lie from the nearest edge of a net at most, mm. */
function offEdges(net: QuadMesh, places: readonly Vec3[]): number {
  const edges = edgesOf(net)
  return Math.max(
    ...places.map((p) =>
      edges.reduce((least, [a, b]) => {
        const d = sub(b, a)
        const s = Math.max(0, Math.min(1, dot(sub(p, a), d) / dot(d, d)))
        return Math.min(least, distance(p, [a[0] + s * d[0], a[1] + s * d[1], a[2] + s * d[2]]))
      }, Infinity),
    ),
  )
}
const plain = { count: 400, adaptive: 0, hardAngle: 40 }

describe('a guide on a skin', () => {
  const skin = new NearestInGrid(sphere(10, 3))
  it('is brought on to it, round and closed, or only where it comes near', () => {
    const round = guideOn(
      ring(40, (a) => [10.2 * Math.cos(a), 10.2 * Math.sin(a), 0]),
      skin,
      0.5,
      1,
    )
    expect(round).toHaveLength(1)
    expect(round[0].closed).toBe(true)
    for (const p of round[0].places) expect(Math.abs(Math.hypot(...p) - 10)).toBeLessThan(0.15)
    // Half of a wider ring is near.
    const half = guideOn(
      ring(80, (a) => [10 * Math.cos(a), 10 * Math.sin(a), Math.sin(a) < 0 ? -30 * Math.sin(a) : 0]),
      skin,
      0.5,
      1,
    )
    expect(half).toHaveLength(1)
    expect(half[0].closed).toBe(false)
    expect(
      guideOn(
        ring(40, (a) => [30 * Math.cos(a), 30 * Math.sin(a), 0]),
        skin,
        0.5,
        1,
      ),
    ).toHaveLength(0)
  })
})

describe('nets with guides', () => {
  it('a ring aslant round a tube becomes a loop of edges', async () => {
    const mesh = cylinder(10, 40, 48, 24)
    const low = meshBounds(mesh).min[2]
    const guide = ring(90, (a) => [10 * Math.cos(a), 10 * Math.sin(a), low + 20 + 4 * Math.cos(a)])
    const { net, missed } = await quadNet(mesh, { ...plain, count: 250, guides: [guide] })
    expect(missed).toEqual([])
    const f = quadFigures(net)
    expect([f.closed, f.pieces]).toEqual([true, 1])
    expect(Math.abs(f.quads / 250 - 1)).toBeLessThan(0.15)
    // Chords of the quads' edges, and no more.
    expect(offEdges(net, guide.places)).toBeLessThan(0.1 * f.edge)
    const without = (await quadNet(mesh, { ...plain, count: 250 })).net
    expect(offEdges(without, guide.places)).toBeGreaterThan(0.3 * f.edge)
  })
  itLong('a line aslant over a sheet becomes edges, or only steers the rows', async () => {
    const mesh = sheet(40, 24)
    const { min, max } = meshBounds(mesh)
    const at = (s: number): Vec3 => [
      min[0] + (0.2 + 0.6 * s) * (max[0] - min[0]),
      min[1] + (0.3 + 0.35 * s) * (max[1] - min[1]),
      0,
    ]
    const guide: Guide = { places: [0, 0.25, 0.5, 0.75, 1].map(at), closed: false }
    const way = normalize(sub(at(1), at(0)))
    const inner = Array.from({ length: 20 }, (_, i) => at(0.1 + (0.8 * i) / 19))
    /** How far edges near the guide turn from running along it or square to it, in the mean, degrees. */
    const aside = (net: QuadMesh) => {
      const near = edgesOf(net).filter(([a, b]) =>
        inner.some((p) => distance(p, [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, 0]) < 1.6),
      )
      expect(near.length).toBeGreaterThan(20)
      const turn = near.map(
        ([a, b]) => (Math.acos(Math.min(1, Math.abs(dot(normalize(sub(b, a)), way)))) * 180) / Math.PI,
      )
      return turn.reduce((sum, t) => sum + Math.min(t, 90 - t), 0) / turn.length
    }
    const loops = (await quadNet(mesh, { ...plain, guides: [guide] })).net
    const flow = (await quadNet(mesh, { ...plain, guides: [guide], guidesAs: 'flow' })).net
    const free = (await quadNet(mesh, plain)).net
    expect(offEdges(loops, inner)).toBeLessThan(0.12 * quadFigures(loops).edge)
    // The rims of the sheet hold the rows at 30 degrees to the guide, where nothing turns them.
    expect(aside(free)).toBeGreaterThan(27)
    expect(aside(flow)).toBeLessThan(23)
    expect(aside(loops)).toBeLessThan(16)
  })
  itLong('on one side of a plate thinner than the quads stays on that side', async () => {
    const mesh = box(40, 40, 0.4, 20)
    const { max } = meshBounds(mesh)
    const [x, y] = [0, 1].map((k) => (max[k] + meshBounds(mesh).min[k]) / 2)
    const guide = ring(60, (a) => [x + 11 * Math.cos(a), y + 11 * Math.sin(a), max[2]])
    const { net } = await quadNet(mesh, { ...plain, guides: [guide] })
    expect(quadFigures(net)).toMatchObject({ closed: true, pieces: 1 })
    expect(offEdges(net, guide.places)).toBeLessThan(0.13 * quadFigures(net).edge)
    // Its corners are those of the upper side.
    const on = Array.from({ length: net.positions.length / 3 }, (_, v) => corner(net, v)).filter(
      (p) => Math.abs(Math.hypot(p[0] - x, p[1] - y) - 11) < 0.05,
    )
    expect(on.filter((p) => p[2] > max[2] - 0.1).length).toBeGreaterThan(15)
  })
  it('one that lies on nothing is told', async () => {
    const far = ring(20, (a) => [99 * Math.cos(a), 99 * Math.sin(a), 0])
    expect((await quadNet(sphere(10, 3), { ...plain, count: 100, guides: [far] })).missed).toEqual([0])
  })
})

describe('mirrored at a plane of its own', () => {
  it('aslant through a ball beside the origin: every corner has its image, and the net is closed', async () => {
    const middle: Vec3 = [30, -12, 7]
    const mesh = shifted(sphere(10, 3), ...middle)
    const plane = { at: middle, normal: normalize([1, 2, 0.5]) }
    const half = halfAt(mesh, plane, 35)!
    const net = mirroredAt((await quadNet(half, { ...plain, count: 150 })).net, plane)
    const f = quadFigures(net)
    expect([f.closed, f.pieces]).toEqual([true, 1])
    const all = Array.from({ length: net.positions.length / 3 }, (_, v) => corner(net, v))
    for (const p of all) {
      const d = dot(sub(p, plane.at), plane.normal)
      const image: Vec3 = [0, 1, 2].map((k) => p[k] - 2 * d * plane.normal[k]) as unknown as Vec3
      expect(Math.min(...all.map((q) => distance(q, image)))).toBeLessThan(1e-4)
    }
    expect(halfAt(mesh, { at: [0, 0, 90], normal: [0, 0, 1] }, 35)).toBeNull()
  })
})
