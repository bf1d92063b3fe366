/** Triangles that nothing can be made of are left out and counted; what is left is whole. */
import { describe, expect, it } from '@jest/globals'
import { box, sphere } from '@/testing/shapes'
import { buildTopology } from './topology'
import { usableTriangles } from './usable'

describe('what a file holds', () => {
  it('is left as it is where all of it can be used', () => {
    const mesh = box(3, 2, 1)
    expect(usableTriangles(mesh)).toEqual({ mesh, kept: null, notNumbers: 0, flat: 0 })
  })
  it('loses triangles with two corners in one place, by number or by coordinates, and stays closed', () => {
    const mesh = sphere(5, 8)
    const [a, b] = [mesh.triangles[0], mesh.triangles[1]]
    const twin = mesh.positions.length / 3
    const positions = Float32Array.from([...mesh.positions, ...mesh.positions.subarray(3 * a, 3 * a + 3)])
    const triangles = Uint32Array.from([a, a, b, ...mesh.triangles, a, b, twin])
    const u = usableTriangles({ positions, triangles })
    expect([u.flat, u.notNumbers]).toEqual([2, 0])
    expect(u.kept![0]).toBe(1)
    expect(u.mesh.triangles.length).toBe(mesh.triangles.length)
    expect(buildTopology(u.mesh).openEdges).toBe(0)
  })
  it('loses triangles at corners that are no numbers, with those corners', () => {
    const mesh = box(3, 2, 1)
    const positions = mesh.positions.slice()
    positions[1] = Infinity
    const u = usableTriangles({ ...mesh, positions })
    expect(u.notNumbers).toBe(mesh.triangles.filter((v) => v === 0).length)
    expect(u.mesh.positions.every(Number.isFinite)).toBe(true)
    expect(u.mesh.triangles.length / 3).toBe(mesh.triangles.length / 3 - u.notNumbers)
  })
})
