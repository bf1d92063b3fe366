/** How scans are divided: borders, strips, waves, and surfaces that no one shape holds. */
import { describe, expect, it } from '@jest/globals'
import { buildTopology } from '@/core/mesh/topology'
import { triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleNormals } from '@/core/mesh/triangle'
import { box, cylinder, shaken } from '@/testing/shapes'
import { settleBorders } from './borders'
import type { Fitted } from './fit-shape'
import { absorbNarrow } from './narrow'
import { partsOfFree } from './parts-of-free'
import { wavinessOf } from './waviness'

const fieldOf = (mesh: TriMesh) => ({ mesh, topology: buildTopology(mesh), normals: triangleNormals(mesh) })
const flat = (at: [number, number, number], axis: [number, number, number]): Fitted => ({
  kind: 'plane',
  at,
  axis,
  rms: 0,
  max: 0,
  inliers: 1,
  inside: false,
})
/** Sides of a box from 0 with its faces' planes, and for each triangle the one it truly is of. */
function boxed(n: number) {
  const mesh = box(20, 20, 20, n)
  const shapes = [0, 1, 2].flatMap((k) =>
    [0, 20].map((v) =>
      flat(
        [0, 1, 2].map((j) => (j === k ? v : 0)) as never,
        [0, 1, 2].map((j) => (j === k ? (v ? 1 : -1) : 0)) as never,
      ),
    ),
  )
  const normals = triangleNormals(mesh)
  const truth = Int32Array.from({ length: triangleCount(mesh) }, (_, t) => {
    const k = [0, 1, 2].find((j) => Math.abs(normals[3 * t + j]) > 0.5)!
    return 2 * k + (normals[3 * t + k] > 0 ? 1 : 0)
  })
  return { mesh, shapes, truth }
}

describe('borders', () => {
  it('that stray come back to the edges', () => {
    const { mesh, shapes, truth } = boxed(8)
    const of = truth.slice()
    // A face takes what lies beside it, one ring in.
    const { twin } = buildTopology(mesh)
    for (let h = 0; h < twin.length; h++)
      if (truth[(h / 3) | 0] === 5 && truth[(twin[h] / 3) | 0] !== 5) of[(twin[h] / 3) | 0] = 5
    expect(of).not.toEqual(truth)
    settleBorders(fieldOf(mesh), of, shapes, 0.05)
    expect(of).toEqual(truth)
  })
  it('what was of no shape goes to the one it lies on; what lies on none stays', () => {
    const { mesh, shapes, truth } = boxed(8)
    const of = truth.slice()
    for (let t = 0; t < of.length; t += 7) of[t] = -1
    settleBorders(fieldOf(mesh), of, shapes, 0.05)
    expect(of).toEqual(truth)
    const far = of.slice().fill(-1)
    settleBorders(fieldOf(mesh), far, [flat([0, 0, 500], [0, 0, 1])], 0.05)
    expect(far.every((r) => r === -1)).toBe(true)
  })
  it('a small region that its neighbours explain is dissolved', () => {
    const { mesh, shapes, truth } = boxed(8)
    const of = truth.slice()
    const top = [...truth.keys()].filter((t) => truth[t] === 5)
    for (const t of top.slice(20, 30)) of[t] = 6
    settleBorders(fieldOf(mesh), of, [...shapes, flat([0, 0, 20], [0, 0, 1])], 0.05)
    expect(of).toEqual(truth)
  })
})

describe('strips at edges', () => {
  it('of no shape go to the faces beside them; wide ones stay', () => {
    const { mesh, shapes, truth } = boxed(16)
    const middle = (t: number) =>
      [0, 1, 2].map((k) => [0, 1, 2].reduce((s, c) => s + vertex(mesh, mesh.triangles[3 * t + c])[k] / 3, 0))
    const nearEdge = (t: number, by: number) => middle(t).filter((v) => v < by || v > 20 - by).length > 1
    const of = truth.map((r, t) => (nearEdge(t, 1.3) ? -1 : r))
    absorbNarrow(mesh, buildTopology(mesh), of, shapes)
    expect(of.every((r) => r >= 0)).toBe(true)
    expect([...of.keys()].filter((t) => of[t] !== truth[t] && !nearEdge(t, 1.3))).toHaveLength(0)
    const wide = truth.map((r) => (r === 5 ? -1 : r))
    absorbNarrow(mesh, buildTopology(mesh), wide, shapes)
    expect([...wide.keys()].filter((t) => truth[t] === 5 && wide[t] >= 0)).toHaveLength(0)
  })
})

describe('waves', () => {
  it('are none on a drawn part, and of the size of the noise on a shaken one', () => {
    const part = box(60, 40, 20, 40)
    const of = (m: TriMesh) => wavinessOf(m, buildTopology(m), triangleNormals(m))
    expect(of(part)).toBeLessThan(1e-6)
    // Even noise of 0.03 has an rms of 0.03 / sqrt(3).
    expect(of(shaken(part, 0.03))).toBeGreaterThan(0.012)
    expect(of(shaken(part, 0.03))).toBeLessThan(0.025)
  })
})

describe('a surface that no shape holds', () => {
  it('is divided into the shapes it is made of', () => {
    const mesh = shaken(cylinder(10, 20, 48), 0.002)
    const field = fieldOf(mesh)
    const all = Array.from({ length: triangleCount(mesh) }, (_, t) => t)
    const parts = partsOfFree(field, all, 0.01, 40)
    const wall = parts.find((p) => p.shape.kind === 'cylinder')!
    expect(wall.shape.radius).toBeCloseTo(10, 1)
    expect(parts.filter((p) => p.shape.kind === 'plane')).toHaveLength(2)
    const seen = parts.flatMap((p) => p.triangles)
    expect(new Set(seen).size).toBe(seen.length)
  })
  it('noise alone has no parts', () => {
    const mesh = shaken(box(10, 10, 10, 6), 3)
    const field = fieldOf(mesh)
    expect(
      partsOfFree(
        field,
        Array.from({ length: triangleCount(mesh) }, (_, t) => t),
        0.01,
        20,
      ),
    ).toHaveLength(0)
  })
})
