/** From skins to nets to smooth bodies: what has to hold of each, whatever the shape (Euler's formula; valences of closed nets add up to it). */
import { describe, expect, it } from '@jest/globals'
import { random } from '@/core/math/random'
import { quadFigures, quadTopology, trianglesOfQuads, type QuadMesh } from '@/core/mesh/quad-mesh'
import { splitLong } from '@/core/mesh/split-long'
import { meshVolume } from '@/core/mesh/measures'
import { diagonal, meshBounds, transformMesh, type TriMesh } from '@/core/mesh/tri-mesh'
import { quadNet } from '@/core/net/quad-net'
import { deviation } from '@/core/gauge/deviation'
import { weldMesh } from '@/core/mesh/weld'
import { translation } from '@/core/math/affine'
import { cylinder, sphere, torus } from '@/testing/shapes'
import { cageOfNet } from './cage-of-net'
import { smoothBody } from './smooth-body'
import { itLong, mostly } from '@/testing/long'

/** A ball with soft lumps and dents, and a few limbs. */
function lump(seed: number): TriMesh {
  const { next } = random(seed)
  const ways = Array.from({ length: 5 }, () => {
    const [z, a] = [2 * next() - 1, 2 * Math.PI * next()]
    const r = Math.sqrt(1 - z * z)
    return { at: [r * Math.cos(a), r * Math.sin(a), z], high: 1.2 * next() - 0.3, sharp: 3 + 6 * next() }
  })
  const ball = sphere(1, 5)
  const positions = ball.positions.slice()
  for (let v = 0; v < positions.length; v += 3) {
    const p = positions.slice(v, v + 3)
    const far = ways.reduce((sum, w) => {
      const c = p[0] * w.at[0] + p[1] * w.at[1] + p[2] * w.at[2]
      return sum + w.high * Math.exp(w.sharp * (c - 1))
    }, 1)
    for (let k = 0; k < 3; k++) positions[v + k] = 20 * far * p[k]
  }
  return { positions, triangles: ball.triangles }
}

/** The skin of cells of 10 mm in a grid. */
function blocks(cells: readonly (readonly [number, number, number])[]): TriMesh {
  const has = new Set(cells.map((c) => c.join()))
  const positions: number[] = []
  const triangles: number[] = []
  for (const c of cells)
    for (let k = 0; k < 3; k++)
      for (const s of [0, 1]) {
        const beside = c.map((v, i) => v + (i === k ? 2 * s - 1 : 0))
        if (has.has(beside.join())) continue
        const [u, w] = [(k + 1) % 3, (k + 2) % 3]
        const n = positions.length / 3
        for (const [a, b] of [
          [0, 0],
          [1, 0],
          [1, 1],
          [0, 1],
        ]) {
          const p = [...c] as number[]
          p[k] += s
          p[u] += a
          p[w] += b
          positions.push(...p.map((x) => 10 * x))
        }
        triangles.push(...(s ? [n, n + 1, n + 2, n, n + 2, n + 3] : [n, n + 2, n + 1, n, n + 3, n + 2]))
      }
  return weldMesh({ positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) }).mesh
}

const netOf = async (mesh: TriMesh, count: number, hardAngle: number | null): Promise<QuadMesh> =>
  (await quadNet(splitLong(mesh, diagonal(meshBounds(mesh)) / 60), { count, adaptive: 0.3, hardAngle, detail: false }))
    .net

/** Points less edges and faces; and by how much the valences of all points miss four. */
function euler(net: QuadMesh): [number, number] {
  const t = quadTopology(net)
  const used = t.valence.filter((v) => v > 0)
  return [used.length - t.edges + net.quads.length / 4, used.reduce((s, v) => s + 4 - v, 0)]
}

describe('soft shapes', () => {
  it.each(mostly([1, 2, 3, 4], (seed) => seed === 2))(
    'lump %i: a closed net, and a body smooth all over',
    async (seed) => {
      const skin = lump(seed)
      const net = await netOf(skin, 500, null)
      expect(euler(net)).toEqual([2, 8])
      const f = quadFigures(net)
      expect([f.closed, f.pieces]).toEqual([true, 1])
      expect(Math.abs(f.quads / 500 - 1)).toBeLessThan(0.1)
      expect(f.irregular).toBeLessThan(0.1)
      expect(f.minAngle99).toBeGreaterThan(25)
      const size = diagonal(meshBounds(skin))
      expect(deviation(trianglesOfQuads(net), skin).both.p95).toBeLessThan(0.015 * size)
      const { body, worstAngle } = smoothBody(cageOfNet(net, null))
      expect(worstAngle).toBeLessThan(1)
      expect(body.closed).toBe(true)
      expect(body.shells).toHaveLength(1)
      expect(body.faces.length).toBeLessThan(4 * f.quads)
    },
  )
  it('a ring is as often met by too few edges as by too many', async () => {
    const net = await netOf(torus(20, 7, 80, 40), 400, null)
    expect(euler(net)).toEqual([0, 0])
    expect(smoothBody(cageOfNet(net, null)).worstAngle).toBeLessThan(1)
  })
})

describe('hard edges', () => {
  const shapes: [string, TriMesh, number, number][] = [
    [
      'an angle of two legs',
      blocks([
        [0, 0, 0],
        [1, 0, 0],
        [2, 0, 0],
        [0, 1, 0],
        [0, 2, 0],
      ]),
      5,
      2,
    ],
    [
      'a plate with a boss',
      blocks([
        [0, 0, 0],
        [1, 0, 0],
        [2, 0, 0],
        [0, 1, 0],
        [1, 1, 0],
        [2, 1, 0],
        [0, 2, 0],
        [1, 2, 0],
        [2, 2, 0],
        [1, 1, 1],
      ]),
      10,
      2,
    ],
    [
      'a frame',
      blocks([
        [0, 0, 0],
        [1, 0, 0],
        [2, 0, 0],
        [0, 1, 0],
        [2, 1, 0],
        [0, 2, 0],
        [1, 2, 0],
        [2, 2, 0],
      ]),
      8,
      0,
    ],
  ]
  itLong.each(shapes)(
    '%s: its net has the volume, its body no fold, wherever it lies',
    async (_, skin, cells, characteristic) => {
      const net = await netOf(skin, 400, 40)
      expect(euler(net)[0]).toBe(characteristic)
      expect(quadFigures(net).closed).toBe(true)
      // Every corner is kept, so nothing is cut off.
      expect(meshVolume(trianglesOfQuads(net)) / (1000 * cells)).toBeCloseTo(1, 3)
      const { worstAngle } = smoothBody(cageOfNet(net, 40))
      expect(worstAngle).toBeLessThan(1.5)
      const moved = transformMesh(
        { positions: net.positions, triangles: new Uint32Array() },
        translation([300, -200, 150]),
      )
      const there = smoothBody(cageOfNet({ positions: moved.positions, quads: net.quads }, 40))
      expect(Math.abs(there.worstAngle - worstAngle)).toBeLessThan(0.1)
    },
  )
  itLong('a turned pin keeps its two rims round, and is smooth between', async () => {
    const net = await netOf(cylinder(10, 25, 64, 8), 400, 40)
    expect(euler(net)).toEqual([2, 8])
    const cage = cageOfNet(net, 40)
    expect(cage.creases.size).toBeGreaterThan(16)
    expect(smoothBody(cage).worstAngle).toBeLessThan(1)
  })
})
