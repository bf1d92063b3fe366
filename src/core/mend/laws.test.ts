/** Laws that the mending tools keep on random damage: what is right before stays right, and each does what its name says and no more. */
import { describe, expect, it } from '@jest/globals'
import fc from 'fast-check'
import { random } from '@/core/math/random'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { concatMeshes, keepTriangles, triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { weldMesh } from '@/core/mesh/weld'
import { deviation } from '@/core/gauge/deviation'
import { addFolds } from '@/demo/damage'
import { box, shaken, shifted, sphere, torus } from '@/testing/shapes'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { closeHoles } from './close-holes'
import { mendAll } from './mend-all'
import { faceOutward } from '@/core/mesh/orient'
import { refine } from './refine'
import { removeDegenerate } from './slivers'
import { smooth } from './smooth'
import { clearSpecks } from './specks'
import { splitNonManifold } from './split-non-manifold'
import { takeApart } from './take-apart'
import { untangle } from './untangle'

const shapes: [string, TriMesh][] = [
  ['sphere', sphere(15, 4)],
  ['ring', torus(20, 6, 64, 32)],
  ['block', box(30, 20, 12, 12)],
]
const seeds = [1, 2, 3, 4]
const cases = shapes.flatMap(([name, mesh]) => seeds.map((seed) => [name, seed, mesh] as const))

/** Triangles lost, turned over, doubled and strewn about; noise on the vertices. */
function damaged(mesh: TriMesh, seed: number): TriMesh {
  const rng = random(seed)
  const n = triangleCount(mesh)
  const keep = new Uint8Array(n).fill(1)
  for (let i = 0; i < 4; i++) {
    const at = vertex(mesh, mesh.triangles[3 * Math.floor(rng.next() * n)])
    for (let t = 0; t < n; t++) {
      const p = vertex(mesh, mesh.triangles[3 * t])
      if (Math.hypot(p[0] - at[0], p[1] - at[1], p[2] - at[2]) < 1 + 1.5 * rng.next()) keep[t] = 0
    }
  }
  const holed = keepTriangles(shaken(mesh, 0.02, seed), keep).mesh
  const triangles = holed.triangles.slice()
  for (let i = 0; i < 25; i++) {
    const t = 3 * Math.floor(rng.next() * (triangles.length / 3))
    ;[triangles[t], triangles[t + 1]] = [triangles[t + 1], triangles[t]]
  }
  const specks = Array.from({ length: 12 }, () =>
    shifted(sphere(0.3 + 0.3 * rng.next(), 1), 60 * rng.next() - 30, 60 * rng.next() - 30, 30 + 10 * rng.next()),
  )
  const again = triangles.slice(0, 9)
  return concatMeshes([
    { positions: holed.positions, triangles: Uint32Array.from([...triangles, ...again]) },
    ...specks,
  ])
}

const sameSkin = (a: TriMesh, b: TriMesh) => {
  expect(b.positions).toEqual(a.positions)
  expect(b.triangles).toEqual(a.triangles)
}

describe.each(cases)('%s, damaged with seed %d', (_name, seed, whole) => {
  const bad = damaged(whole, seed)
  const faults = faultCount(checkUp(bad).facts)
  it('Mend all: closed and sound, the volume within 2 %, the skin within a tenth of the hole size', () => {
    const m = mendAll(bad, { speckShare: 0.01, fill: 'smooth' })
    expect(faults).toBeGreaterThan(20)
    expect(faultCount(m.after)).toBe(0)
    expect(checkUp(m.mesh).facts.pieces).toBe(1)
    expect(Math.abs(meshVolume(m.mesh) / meshVolume(whole) - 1)).toBeLessThan(0.02)
    expect(deviation(m.mesh, whole, { samples: 4000 }).there.p95).toBeLessThan(0.25)
  })
  it('each tool lowers its own count and adds to no other', () => {
    const of = (m: TriMesh) => checkUp(m).facts
    const before = of(bad)
    const cleared = clearSpecks(bad, { share: 0.01 })
    // The twelve strewn about, and crumbs that lost all their neighbours.
    expect(cleared.removed).toBeGreaterThanOrEqual(12)
    expect(of(cleared.mesh).pieces).toBe(before.pieces - cleared.removed)
    const once = removeDegenerate(bad).mesh
    expect(of(once).duplicates).toBe(0)
    expect(triangleCount(once)).toBeLessThanOrEqual(triangleCount(bad))
    const split = splitNonManifold(bad).mesh
    expect(of(split)).toMatchObject({ nonManifoldEdges: 0, nonManifoldVertices: 0 })
    expect(meshArea(split)).toBeCloseTo(meshArea(bad), 3)
    const facing = faceOutward(splitNonManifold(removeDegenerate(bad).mesh).mesh).mesh
    expect(of(facing)).toMatchObject({
      flippedEdges: 0,
      insideOutPieces: 0,
      openEdges: of(splitNonManifold(removeDegenerate(bad).mesh).mesh).openEdges,
    })
    const closed = closeHoles(facing, { how: 'smooth' }).mesh
    expect(of(closed).openEdges).toBe(0)
    expect(of(closed).nonManifoldEdges).toBe(0)
  })
  it('folds made by hand are freed', () => {
    const folded = addFolds(whole, 2, 2, 1.6, seed)
    const count = (m: TriMesh) => {
      const f = checkUp(m).facts
      return f.folded + f.selfCrossings
    }
    if (!count(folded)) return
    const free = untangle(folded, { folds: true })
    expect(free.after).toBeLessThan(free.before)
    expect(count(free.mesh)).toBe(free.after)
    expect(checkUp(free.mesh).facts.openEdges).toBe(0)
  })
})

describe.each(shapes)('a sound %s', (_name, whole) => {
  it('comes out of every clean-up as it went in', () => {
    sameSkin(whole, removeDegenerate(whole).mesh)
    sameSkin(whole, splitNonManifold(whole).mesh)
    sameSkin(whole, faceOutward(whole).mesh)
    sameSkin(whole, clearSpecks(whole, { share: 0.01 }).mesh)
    sameSkin(whole, closeHoles(whole, { how: 'smooth' }).mesh)
    sameSkin(whole, untangle(whole, { folds: true }).mesh)
    expect(weldMesh(whole).joined).toBe(0)
    expect(mendAll(whole, { speckShare: 0.01, fill: 'smooth' }).mesh).toBe(whole)
    const { pieces } = takeApart(concatMeshes([whole, shifted(whole, 100, 0, 0)]), 0)
    expect(pieces).toHaveLength(2)
    for (const p of pieces) expect(meshVolume(p)).toBeCloseTo(meshVolume(whole), 1)
  })
  it('twice over is as once', () => {
    const bad = damaged(whole, 9)
    const split = splitNonManifold(bad).mesh
    sameSkin(split, splitNonManifold(split).mesh)
    const facing = faceOutward(split).mesh
    sameSkin(facing, faceOutward(facing).mesh)
    const cleared = clearSpecks(bad, { share: 0.01 }).mesh
    sameSkin(cleared, clearSpecks(cleared, { share: 0.01 }).mesh)
    const mended = mendAll(bad, { speckShare: 0.01, fill: 'smooth' }).mesh
    expect(mendAll(mended, { speckShare: 0.01, fill: 'smooth' }).mesh).toBe(mended)
  })
  it('smoothed or evened out stays sound and about as large', () => {
    for (const how of ['even', 'fair', 'keep-sharp'] as const) {
      const s = smooth(shaken(whole, 0.03), { how, strength: 0.5, passes: 5, rim: 'pinned' })
      expect(checkUp(s.mesh).facts).toMatchObject({ closed: true, selfCrossings: 0, folded: 0 })
      expect(Math.abs(meshVolume(s.mesh) / meshVolume(whole) - 1)).toBeLessThan(0.03)
    }
    const even = refine(whole, { edge: 1.5 })
    expect(checkUp(even).facts).toMatchObject({ closed: true, selfCrossings: 0, nonManifoldEdges: 0 })
    expect(Math.abs(meshVolume(even) / meshVolume(whole) - 1)).toBeLessThan(0.01)
  })
})

describe('needles taken out', () => {
  it('leave the body as it is, also where they hang on faces that lie across', () => {
    fc.assert(
      fc.property(fc.double({ min: 0.02, max: 0.98, noNaN: true }), fc.integer({ min: 0, max: 11 }), (share, which) => {
        // A point on the side of a triangle of a block: the triangle beside it keeps its side, so one without area lies between.
        const block = box(30, 20, 10)
        const { positions: p, triangles: k } = block
        const [a, b, c] = [k[3 * which], k[3 * which + 1], k[3 * which + 2]]
        const on = p.length / 3
        const place = [0, 1, 2].map((d) => p[3 * a + d] + share * (p[3 * b + d] - p[3 * a + d]))
        const rest = Array.from(k).filter((_, i) => Math.floor(i / 3) !== which)
        const needled = {
          positions: Float32Array.from([...p, ...place]),
          triangles: Uint32Array.from([...rest, a, on, c, on, b, c, a, b, on]),
        }
        const clean = removeDegenerate(needled)
        expect(clean.left).toBe(0)
        expect(meshVolume(clean.mesh)).toBeCloseTo(6000, 2)
        expect(checkUp(clean.mesh).facts).toMatchObject({ openEdges: 0, nonManifoldEdges: 0, selfCrossings: 0 })
      }),
    )
  })
})
