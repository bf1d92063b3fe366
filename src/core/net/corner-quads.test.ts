/** Quads wanted at corners, counted by hand. */
import { describe, expect, it } from '@jest/globals'
import { edgeKey } from '@/core/mesh/edge-key'
import { buildTopology, nextIn } from '@/core/mesh/topology'
import { vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { box, sheet, sphere, without } from '@/testing/shapes'
import { cornerQuads } from './corner-quads'
import { creaseFlags } from './crease-lines'

function wanted(mesh: TriMesh): { at(x: number, y: number, z: number): number; all: Uint8Array } {
  const flags = creaseFlags(mesh, buildTopology(mesh), 40)
  const lines = new Set<number>()
  flags.forEach((f, h) => f && lines.add(edgeKey(mesh.triangles[h], mesh.triangles[nextIn(h)])))
  const all = cornerQuads(mesh, lines)
  const at = (...p: number[]) => {
    for (let v = 0; v < vertexCount(mesh); v++)
      if (p.every((x, k) => Math.abs(mesh.positions[3 * v + k] - x) < 1e-4)) return all[v]
    throw new Error(`no vertex at ${p.join(' ')}`)
  }
  return { at, all }
}

describe('quads wanted', () => {
  it('at the corners of a box are three, along its edges and on its faces four', () => {
    const mesh = box(4, 4, 4, 4)
    const { all } = wanted(mesh)
    expect(all.filter((n) => n === 3).length).toBe(8)
    expect(all.filter((n) => n === 4).length).toBe(all.length - 8)
  })
  it('nowhere other than four on a ball', () => {
    expect(wanted(sphere(10, 3)).all.every((n) => n === 4)).toBe(true)
  })
  it('of a sheet: one at its corners, two along its rim; three where a notch goes in', () => {
    const whole = sheet(8, 8)
    const [x0, y0] = [
      Math.min(...whole.positions.filter((_, i) => i % 3 === 0)),
      Math.min(...whole.positions.filter((_, i) => i % 3 === 1)),
    ]
    const cell = 1
    expect(wanted(whole).at(x0, y0, 0)).toBe(1)
    expect(wanted(whole).at(x0 + 3 * cell, y0, 0)).toBe(2)
    const notched = wanted(without(whole, (x, y) => x < x0 + 3 * cell && y < y0 + 3 * cell))
    expect(notched.at(x0 + 3 * cell, y0 + 3 * cell, 0)).toBe(3)
    expect(notched.at(x0 + 3 * cell, y0, 0)).toBe(1)
  })
})
