/** Smooth bodies of cages: what they hold, how they meet, and that the kernel takes them for sound. */
import { describe, expect, it } from '@jest/globals'
import { boundedBody } from '@/core/kernels/exact/bounded'
import type { ExactBody } from '@/core/bodies/body'
import { sphere } from '@/testing/shapes'
import { trianglesOfQuads, type QuadMesh } from '@/core/mesh/quad-mesh'
import { deviation } from '@/core/gauge/deviation'
import { limitPlaces, limitQuads, type Cage } from '@/core/subdivision/subdivide'
import { Ground } from '@/core/net/relax-quads'
import { cageOfNet, netOfPairs } from './cage-of-net'
import { fitCage, throughPlaces } from './fit-cage'
import { smoothBody } from './smooth-body'
import { itLong } from '@/testing/long'

const cubeNet: QuadMesh = {
  positions: Float32Array.from(
    [-1, -1, -1, 1, -1, -1, 1, 1, -1, -1, 1, -1, -1, -1, 1, 1, -1, 1, 1, 1, 1, -1, 1, 1].map((v) => 10 * v),
  ),
  quads: Uint32Array.from([3, 2, 1, 0, 4, 5, 6, 7, 0, 1, 5, 4, 1, 2, 6, 5, 2, 3, 7, 6, 3, 0, 4, 7]),
}
/** A level sheet of n x n quads with height by formula; a hole leaves an inner corner of five quads' worth of edges where it is cut. */
const sheetNet = (n: number, height: (x: number, y: number) => number): QuadMesh => {
  const positions: number[] = []
  for (let j = 0; j <= n; j++) for (let i = 0; i <= n; i++) positions.push(i, j, height(i, j))
  const quads: number[] = []
  for (let j = 0; j < n; j++)
    for (let i = 0; i < n; i++)
      quads.push(i + (n + 1) * j, i + 1 + (n + 1) * j, i + 1 + (n + 1) * (j + 1), i + (n + 1) * (j + 1))
  return { positions: Float32Array.from(positions), quads: Uint32Array.from(quads) }
}
const solidOf = async (cage: Cage): Promise<ExactBody> => {
  const made = await boundedBody(smoothBody(cage).body, 'The body', 'b', 1e-3)
  if ('faulty' in made) throw made.why
  return made.body
}

describe('a smooth body', () => {
  it('of a cube is closed, valid, tangent everywhere, and holds what its limit surface does', async () => {
    const cage = cageOfNet(cubeNet, null)
    const { worstAngle, irregular } = smoothBody(cage)
    expect(irregular).toBe(24)
    expect(worstAngle).toBeLessThan(0.01)
    const { facts } = await solidOf(cage)
    expect([facts.valid, facts.closed]).toEqual([true, true])
    // 2.6204187 for side 2; here every patch is at an irregular point, and large beside the whole.
    expect(Math.abs(facts.volume / 2620.4187 - 1)).toBeLessThan(2e-3)
  })
  it('of a cube whose edges stay sharp is the cube, of six faces', async () => {
    const { facts } = await solidOf(cageOfNet(cubeNet, 45))
    expect(facts.faces).toBe(6)
    expect(facts.volume).toBeCloseTo(8000, 6)
  })
  it('of an even sheet is one face, the cubic spline itself', async () => {
    const net = sheetNet(4, (x, y) => 0.1 * x * y)
    const { facts, kind } = await solidOf(cageOfNet(net, null))
    expect([kind, facts.faces, facts.valid]).toEqual(['sheet', 1, true])
    // A cubic spline holds x y as it is.
    const { positions } = limitQuads(cageOfNet(net, null), 2)
    for (let v = 0; v < positions.length; v += 3)
      expect(positions[v + 2]).toBeCloseTo(0.1 * positions[v] * positions[v + 1], 6)
  })
  it('of a hollow cage keeps its hollow', async () => {
    const n = cubeNet.positions.length
    const hollow: QuadMesh = {
      positions: Float32Array.from([...cubeNet.positions, ...cubeNet.positions.map((v) => v / 2)]),
      quads: Uint32Array.from([...cubeNet.quads, ...cubeNet.quads.map((v) => v + n / 3).reverse()]),
    }
    const { facts } = await solidOf(cageOfNet(hollow, 45))
    expect([facts.valid, facts.closed, facts.pieces]).toEqual([true, true, 1])
    expect(facts.volume).toBeCloseTo(8000 - 1000, 3)
  })
  it('stays tangent where creases run through a vertex with three quads on one side', () => {
    // A plate of three quads round one side of a straight crease, folded down on the other.
    const positions = [
      0, 0, 0, -2, 0, 0, 2, 0, 0, -1, 2, 0, 1, 2, 0, -3, 2, 0, 3, 2, 0, 0, 4, 0, -2, 0, -2, 0, 0, -2, 2, 0, -2,
    ]
    const quads = [1, 0, 3, 5, 0, 4, 7, 3, 0, 2, 6, 4, 8, 9, 0, 1, 9, 10, 2, 0]
    const cage = cageOfNet({ positions: Float32Array.from(positions), quads: Uint32Array.from(quads) }, 45)
    expect(cage.creases.size).toBe(2)
    expect(smoothBody(cage).worstAngle).toBeLessThan(0.5)
  })
  it('runs through the points of a net', () => {
    const net = sheetNet(5, (x, y) => Math.sin(x) + Math.cos(y))
    const limit = limitPlaces(throughPlaces(cageOfNet(net, null), net.positions))
    limit.forEach((v, i) => expect(v).toBeCloseTo(net.positions[i], 3))
  })
})

describe('a cage through a scan', () => {
  itLong('lies many times closer than the plain one', () => {
    const scan = sphere(20, 3)
    const net = { positions: cubeNet.positions.map((v) => v * 1.6), quads: cubeNet.quads }
    let cage = cageOfNet(net, null)
    const once = limitQuads(cage, 1)
    cage = { ...cage, positions: once.positions, quads: once.quads, creases: new Map() }
    const off = (c: Cage) => {
      const { positions, quads } = limitQuads(c, 2)
      return deviation(trianglesOfQuads({ positions: Float32Array.from(positions), quads }), scan).both.rms
    }
    expect(off(cage) / off(fitCage(cage, new Ground(scan)))).toBeGreaterThan(3)
  })
  it('control points that are held stay', () => {
    const cage = cageOfNet(cubeNet, null)
    const held = new Uint8Array(8)
    held[3] = 1
    const fitted = fitCage(cage, new Ground(sphere(20, 3)), undefined, held)
    expect([...fitted.positions.subarray(9, 12)]).toEqual([...cage.positions.subarray(9, 12)])
    expect(fitted.positions[0]).not.toBe(cage.positions[0])
  })
})

it('triangles in pairs are quads again, others are not', () => {
  const mesh = trianglesOfQuads(cubeNet)
  const net = netOfPairs(mesh.positions, mesh.triangles)!
  expect(net.quads.length).toBe(24)
  expect(netOfPairs(mesh.positions, mesh.triangles.subarray(0, 33))).toBeNull()
  expect(netOfPairs(mesh.positions, Uint32Array.from([0, 1, 2, 5, 6, 7]))).toBeNull()
})
