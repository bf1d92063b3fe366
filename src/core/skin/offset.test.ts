import { describe, expect, it } from '@jest/globals'
import { csg } from '@/core/join/csg'
import { checkUp, faultCount } from '@/core/mesh/check-up'
import { meshVolume } from '@/core/mesh/measures'
import { concatMeshes, diagonal, flipTriangles, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleNormals } from '@/core/mesh/triangle'
import { referenceOf, signedDistance } from '@/core/gauge/deviation'
import { Stopped } from '@/core/base/step-error'
import { quiet } from '@/core/base/work'
import { blade } from '@/testing/hard'
import { box, cylinder, shifted, sphere, torus, without } from '@/testing/shapes'
import { movedSkin, type Corners } from './moved/moved-skin'
import { offsetMesh, requireSound } from './offset'
import { itLong } from '@/testing/long'

const by = (mesh: TriMesh, distance: number, corners: Corners = 'sharp') => {
  const out = offsetMesh(mesh, distance, { edge: diagonal(meshBounds(mesh)) / 100, corners })
  if (triangleCount(out.mesh)) expect(faultCount(checkUp(out.mesh).facts)).toBe(0)
  return out
}
/** Least and greatest distance of the vertices of one mesh outside (or inside, for a shrunk one) of another. */
function reach(out: TriMesh, body: TriMesh, side: number): [number, number] {
  const reference = referenceOf(body)
  const all = Array.from(
    { length: out.positions.length / 3 },
    (_, v) =>
      side *
      signedDistance(reference, ...(out.positions.slice(3 * v, 3 * v + 3) as unknown as [number, number, number])),
  )
  return [Math.min(...all), Math.max(...all)]
}
/** Area of a regular polygon of n corners on a circle of radius r. */
const polygon = (n: number, r: number) => 0.5 * n * r * r * Math.sin((2 * Math.PI) / n)

const turned = (m: TriMesh): TriMesh => {
  const positions = m.positions.slice()
  for (let i = 0; i < positions.length; i += 3)
    positions.set([m.positions[i + 2], m.positions[i], m.positions[i + 1]], i)
  return { positions, triangles: m.triangles }
}
async function plate(): Promise<TriMesh> {
  const bores = [
    [10, 10],
    [50, 10],
    [10, 30],
    [50, 30],
  ].map(([x, y], i) => ({ name: `bore ${i}`, mesh: shifted(cylinder(3, 40, 48), x, y, -10) }))
  return (await csg('difference', [{ name: 'plate', mesh: box(60, 40, 8) }, ...bores])).mesh
}

describe('flat, sharp and few', () => {
  it.each([
    [1, 1728],
    [-1, 512],
    [-4.9, 0.008],
  ])('a cube of 10 moved by %d is a cube of 12 triangles', (distance, volume) => {
    const { mesh, laid, miss } = by(box(10, 10, 10), distance)
    expect(triangleCount(mesh)).toBe(12)
    expect(meshVolume(mesh)).toBeCloseTo(volume, 4)
    expect(laid).toBe(false)
    expect(miss).toBeLessThan(1e-9)
  })
  it('shrunk away is nothing, also where two or three ways pass through each other', () => {
    // Turned inside out twice, a bar would face outward again.
    for (const [body, distance] of [
      [box(10, 10, 10), -6],
      [box(1, 1, 10), -2],
      [box(1, 10, 10), -2],
      [sphere(10, 4), -11],
    ] as const)
      expect(triangleCount(by(body, distance).mesh)).toBe(0)
  })
  it('the wall of a cylinder stays on its cylinder, its faces flat', () => {
    for (const distance of [1, -1]) {
      const { mesh } = by(cylinder(5, 10, 48), distance)
      // The walls are tangent to a circle of 5 cos(180/48 deg), and so after the move.
      const r = (5 * Math.cos(Math.PI / 48) + distance) / Math.cos(Math.PI / 48)
      expect(meshVolume(mesh)).toBeCloseTo(polygon(48, r) * (10 + 2 * distance), 2)
      for (let v = 0; v < mesh.positions.length; v += 3) {
        const radius = Math.hypot(mesh.positions[v], mesh.positions[v + 1])
        if (radius > 1e-6) expect(radius).toBeCloseTo(r, 5)
      }
    }
  })
  it('a plate with four bores: no triangle more, bores and edges where they belong', async () => {
    const body = await plate()
    for (const distance of [1, -1]) {
      const { mesh } = by(body, distance)
      expect(triangleCount(mesh)).toBe(triangleCount(body))
      const r = (3 * Math.cos(Math.PI / 48) - distance) / Math.cos(Math.PI / 48)
      const area = (60 + 2 * distance) * (40 + 2 * distance) - 4 * polygon(48, r)
      expect(meshVolume(mesh) / (area * (8 + 2 * distance))).toBeCloseTo(1, 5)
    }
    // Shrunk until the bores come near the edges, what is left keeps its distance.
    expect(reach(by(body, -3.5).mesh, body, -1)[0]).toBeGreaterThan(3.4999)
  })
  it('a corner with a notch, shrunk to a skin of 0.2', async () => {
    const notched = (
      await csg('difference', [
        { name: 'a', mesh: box(20, 20, 20) },
        { name: 'b', mesh: shifted(box(20, 20, 20), 8, 8, 8) },
      ])
    ).mesh
    expect(meshVolume(by(notched, 1).mesh)).toBeCloseTo(8920, 2)
    expect(meshVolume(by(notched, -3.9).mesh)).toBeCloseTo(12.2 ** 3 - 12 ** 3, 3)
    // Round corners: every place at the same distance, none nearer.
    for (const distance of [1, -1]) {
      const [least, most] = reach(by(notched, distance, 'round').mesh, notched, distance)
      expect(least).toBeGreaterThan(0.998)
      expect(most).toBeLessThan(1.0005)
    }
  })
  it('a thin wedge shrinks without crossing itself and grows without a spike', () => {
    const body = blade(4)
    const [least] = reach(by(body, -0.3).mesh, body, -1)
    expect(least).toBeGreaterThan(0.2999)
    const [, most] = reach(by(body, 0.3).mesh, body, 1)
    expect(most).toBeLessThan(2.3 * 0.3)
  })
  it('walls that meet in a curve keep it, though their facets trade places', async () => {
    const body = (
      await csg('union', [
        { name: 'upright', mesh: cylinder(5, 30, 64) },
        { name: 'branch', mesh: shifted(turned(cylinder(4, 30, 64)), 0, 0, 15) },
      ])
    ).mesh
    for (const distance of [1, -1]) {
      const { mesh, laid, miss } = by(body, distance)
      expect(laid).toBe(false)
      expect(miss).toBeLessThan(0.03)
      expect(triangleCount(mesh)).toBeLessThan(1.2 * triangleCount(body))
      const [least, most] = reach(mesh, body, distance)
      expect(least).toBeGreaterThan(0.985)
      expect(most).toBeLessThan(1.45)
    }
  })
})

describe('parallel bodies', () => {
  // Steiner's formula for parallel bodies: V + S r + M r² + 4/3 pi r³, for a box M = pi (a + b + c).
  it.each([0.5, 1, 2])('a box grown by %d with round corners has the volume of Steiner', (r) => {
    const { mesh } = by(box(10, 12, 8, 2), r, 'round')
    const steiner = 960 + 592 * r + Math.PI * 30 * r * r + (4 / 3) * Math.PI * r ** 3
    expect(meshVolume(mesh) / steiner).toBeGreaterThan(0.999)
    expect(meshVolume(mesh) / steiner).toBeLessThan(1)
  })
  it('a sphere and a ring grown and shrunk are a sphere and a ring', () => {
    for (const r of [-2, 2])
      expect(meshVolume(by(sphere(10, 5), r).mesh) / ((4 / 3) * Math.PI * (10 + r) ** 3)).toBeCloseTo(1, 1)
    // Pappus: 2 pi² R r².
    for (const r of [-1, 1]) {
      const { mesh } = by(torus(10, 3, 96, 48), r)
      expect(meshVolume(mesh) / (2 * Math.PI ** 2 * 10 * (3 + r) ** 2)).toBeCloseTo(1, 1)
    }
  })
  itLong('a ring grown over its own hole keeps its distance', () => {
    const body = torus(5, 3, 32, 16)
    const { mesh } = by(body, 2.5)
    expect(meshVolume(mesh)).toBeGreaterThan(meshVolume(body))
    expect(reach(mesh, body, 1)[0]).toBeGreaterThan(2.45)
  })
  itLong('what crosses itself too much is laid anew and still a clean skin', async () => {
    const body = await plate()
    const { mesh, laid } = by(body, 3.5)
    expect(laid).toBe(true)
    const [least, most] = reach(mesh, body, 1)
    expect(least).toBeGreaterThan(3.49)
    expect(most).toBeLessThan(3.501)
  })
  it('moved skins are closed and face as the body does, whatever is parted', () => {
    for (const corners of ['sharp', 'round'] as const)
      for (const body of [box(4, 5, 6, 2), blade(8), cylinder(3, 2, 12)]) {
        const { mesh } = movedSkin(body, 0.2, { corners })
        expect(checkUp(mesh).facts).toMatchObject({ closed: true, flippedEdges: 0, nonManifoldEdges: 0 })
        expect(meshVolume(mesh)).toBeGreaterThan(meshVolume(body))
        // The first triangles are those of the body, each moved along its own normal.
        const before = triangleNormals(body),
          after = triangleNormals(mesh)
        for (let t = 0; t < triangleCount(body); t++)
          expect(
            before[3 * t] * after[3 * t] + before[3 * t + 1] * after[3 * t + 1] + before[3 * t + 2] * after[3 * t + 2],
          ).toBeGreaterThan(0.9999)
      }
  })
  it('is stopped before it moves anything', () => {
    const stop = new AbortController()
    stop.abort()
    const work = { progress: () => {}, signal: stop.signal }
    expect(() => movedSkin(sphere(10, 5), 1, { corners: 'sharp' }, work)).toThrow(Stopped)
  })
  it('a dirty mesh is refused with the reason and the cure', () => {
    const refuse = (m: TriMesh) => expect(() => requireSound('m', m, quiet))
    refuse(without(sphere(10, 3), (x) => x > 9)).toThrow(/not a clean closed skin: 1 hole/)
    refuse(concatMeshes([sphere(10, 3), shifted(sphere(10, 3), 5, 0, 0)])).toThrow(/self-crossing/)
    refuse({ ...box(4, 4, 4), triangles: flipTriangles(box(4, 4, 4).triangles) }).toThrow(/inside-out/)
  })
})
