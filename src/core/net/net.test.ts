/** Nets of shapes whose truth is known: how many irregular points there must be, and what Euler's formula says of them. */
import { beforeAll, describe, expect, it } from '@jest/globals'
import { StepError } from '@/core/base/step-error'
import { quiet } from '@/core/base/work'
import { random } from '@/core/math/random'
import {
  nextInQuad,
  quadFigures,
  quadsOfFaces,
  quadTopology,
  trianglesOfQuads,
  type QuadMesh,
} from '@/core/mesh/quad-mesh'
import { simplifyQuadric } from '@/core/kernels/simplifier'
import { splitLong } from '@/core/mesh/split-long'
import { buildTopology } from '@/core/mesh/topology'
import { meshArea, meshVolume } from '@/core/mesh/measures'
import { concatMeshes, type TriMesh } from '@/core/mesh/tri-mesh'
import { deviation } from '@/core/gauge/deviation'
import { gripShape } from '@/core/scan/shapes'
import { box, cylinder, moebius, shifted, sphere, torus, without } from '@/testing/shapes'
import { creaseFlags, longCreases } from './crease-lines'
import { crossField } from './cross-field'
import { cutOpen } from './cut/cut'
import { pairToQuads } from './pair'
import { forgetWorking, quadNet, type NetChoice } from './quad-net'
import { halfOf, mirrored } from './symmetry'
import { tidyQuads } from './tidy-quads'
import { itLong } from '@/testing/long'

const plain: NetChoice = { count: 400, adaptive: 0, hardAngle: 40, working: 1600 }
const netOf = async (mesh: TriMesh, more: Partial<NetChoice> = {}) => (await quadNet(mesh, { ...plain, ...more })).net

/** Corners less edges and faces, and what the valences add up to: four times that (Euler; each quad has four edges, each edge two quads). */
function euler(net: QuadMesh) {
  const t = quadTopology(net)
  const used = t.valence.filter((v) => v > 0)
  return { sum: used.length - t.edges + net.quads.length / 4, valences: used.reduce((s, v) => s + 4 - v, 0) }
}

describe('a net of a box', () => {
  let net: QuadMesh
  beforeAll(async () => {
    net = await netOf(box(40, 30, 20))
  })
  it('has eight irregular points, at the corners, and lies on the faces', () => {
    const f = quadFigures(net)
    expect(f.closed).toBe(true)
    expect(euler(net)).toEqual({ sum: 2, valences: 8 })
    expect(f.irregularPoints).toBe(8)
    expect(f.minAngle).toBeGreaterThan(60)
    expect(Math.abs(f.quads - 400)).toBeLessThan(40)
    expect(meshVolume(trianglesOfQuads(net))).toBeCloseTo(24_000, 1)
  })
  it('has an edge along every hard edge', () => {
    const mesh = trianglesOfQuads(net)
    const t = buildTopology(mesh)
    const flags = creaseFlags(mesh, t, 40)
    let along = 0
    for (let h = 0; h < flags.length; h++)
      if (flags[h] && t.twin[h] > h) {
        const [a, b] = [mesh.triangles[h], mesh.triangles[h % 3 === 2 ? h - 2 : h + 1]]
        along += Math.hypot(...[0, 1, 2].map((k) => mesh.positions[3 * a + k] - mesh.positions[3 * b + k]))
      }
    expect(along).toBeCloseTo(4 * 90, 1)
  })
})

describe('a net of a smooth skin', () => {
  it('of a ball is closed, even, and near it', async () => {
    const skin = sphere(20, 4)
    const net = await netOf(skin)
    const f = quadFigures(net)
    expect(f.closed).toBe(true)
    expect(euler(net)).toEqual({ sum: 2, valences: 8 })
    expect(f.irregular).toBeLessThan(0.1)
    expect(f.minAngle99).toBeGreaterThan(50)
    expect(deviation(trianglesOfQuads(net), skin).both.p95).toBeLessThan(0.005 * 70)
  })
  it('of a ring has as many points of too few edges as of too many', async () => {
    const net = await netOf(torus(30, 10, 64, 32))
    expect(quadFigures(net).closed).toBe(true)
    expect(euler(net)).toEqual({ sum: 0, valences: 0 })
    expect(quadFigures(net).irregular).toBeLessThan(0.03)
  })
  it('of an open tube keeps its rims as clean loops', async () => {
    const open = without(cylinder(15, 30, 48, 8), (_x, _y, z) => z < 0.01)
    const net = await netOf(open)
    expect(quadFigures(net).closed).toBe(false)
    const t = quadTopology(net)
    // Every vertex of a rim has two rim edges, and those lie in the plane of the rim.
    const ends = new Int32Array(t.rim.length)
    for (let h = 0; h < net.quads.length; h++)
      if (t.twin[h] < 0) for (const v of [net.quads[h], net.quads[nextInQuad(h)]]) ends[v]++
    t.rim.forEach((r, v) => {
      if (!r) return
      expect(ends[v]).toBe(2)
      expect(net.positions[3 * v + 2]).toBeCloseTo(0, 4)
    })
  })
  it('follows the count, and is made anew for another', async () => {
    const skin = sphere(20, 4)
    // The few quads of a ball come in steps: rows go all round it.
    for (const [count, share] of [
      [150, 0.12],
      [900, 0.04],
    ])
      expect(Math.abs((await netOf(skin, { count })).quads.length / 4 - count)).toBeLessThan(share * count)
  })
  it('small bumps ask for no irregular points of their own', async () => {
    const ball = sphere(20, 5)
    const positions = ball.positions.slice()
    for (let v = 0; v < positions.length; v += 3) {
      const [x, y, z] = positions.subarray(v, v + 3)
      const bump = 1 + 0.012 * Math.sin(1.1 * x) * Math.sin(1.3 * y + 1) * Math.sin(1.2 * z + 2)
      for (let k = v; k < v + 3; k++) positions[k] *= bump
    }
    const f = quadFigures(await netOf({ positions, triangles: ball.triangles }, { count: 600, hardAngle: null }))
    expect(f.irregularPoints).toBeLessThanOrEqual(12)
    expect(f.closed).toBe(true)
  })
  it('of two pieces has two, each with its share', async () => {
    const near = box(10, 10, 10)
    const two = {
      positions: Float32Array.from([...near.positions, ...near.positions.map((v) => v + 40)]),
      triangles: Uint32Array.from([...near.triangles, ...near.triangles.map((v) => v + near.positions.length / 3)]),
    }
    const f = quadFigures(await netOf(two))
    expect(f.pieces).toBe(2)
    expect(f.irregularPoints).toBe(16)
  })
  itLong('comes nearer to a thin limb where extra quads are wished for', async () => {
    const skin = sphere(20, 4)
    // A horn: what is above 15 is drawn out and narrows.
    const positions = skin.positions.slice()
    for (let v = 0; v < positions.length; v += 3) {
      const over = Math.max(0, positions[v + 2] - 14)
      positions[v + 2] += 5 * over
      for (const k of [0, 1]) positions[v + k] /= 1 + 0.5 * over
    }
    const horn = { positions, triangles: skin.triangles }
    const off = async (detail: boolean) =>
      deviation(trianglesOfQuads(await netOf(horn, { count: 200, hardAngle: null, detail, working: 2500 })), horn).both
        .max
    const [plain, fine] = [await off(false), await off(true)]
    expect(fine).toBeLessThan(0.85 * plain)
  })
  it('specks get no quads, and are counted', async () => {
    const specks = Array.from({ length: 5 }, (_, i) => shifted(box(0.1, 0.1, 0.1), 40 + i, 0, 0))
    const { net, leftOut } = await quadNet(concatMeshes([box(20, 20, 20), ...specks]), plain)
    expect(leftOut).toBe(5)
    expect(quadFigures(net).pieces).toBe(1)
  })
  it('a strip with a twist is named, not walked round for ever', async () => {
    await expect(netOf(moebius())).rejects.toThrow('does not face one way')
  })
  it('nothing is named', async () => {
    await expect(netOf({ positions: new Float32Array(0), triangles: new Uint32Array(0) })).rejects.toThrow(StepError)
  })
})

describe('a net of a scan that is brought down first', () => {
  itLong('stays closed where collapses leave triangles back to back', async () => {
    const fine = gripShape(160, 900)
    // What this is about: the plain collapse is not sound.
    const plain = await simplifyQuadric(fine, { triangles: 60_000, error: 0.1, lockRims: true })
    expect(buildTopology(plain.mesh).nonManifoldEdges).toBeGreaterThan(0)
    const { net } = await quadNet(fine, { count: 120, adaptive: 0, hardAngle: 40 })
    const f = quadFigures(net)
    expect([f.closed, f.pieces]).toEqual([true, 1])
    expect(Math.abs(f.quads - 120)).toBeLessThan(30)
  })
})

describe('the cross field', () => {
  const fieldOf = (mesh: TriMesh, hard: number | null) => {
    const topology = buildTopology(mesh)
    const creases = creaseFlags(mesh, topology, hard)
    return { topology, creases, field: crossField(mesh, topology, { creases, bend: 0.05 }) }
  }
  it('runs along hard edges', () => {
    const mesh = box(20, 20, 20, 5)
    const { creases, field } = fieldOf(mesh, 40)
    creases.forEach((c, h) => {
      if (!c) return
      const quarter = (2 * (field.angle[Math.floor(h / 3)] - field.frames.angle[h])) / Math.PI
      expect(Math.abs(quarter - Math.round(quarter))).toBeLessThan(0.01)
    })
  })
  it('runs round and along a cylinder, as that bends', () => {
    const mesh = without(cylinder(10, 40, 64, 24), (_x, _y, z) => z < 0.01 || z > 39.99)
    const { field } = fieldOf(mesh, null)
    let off = 0
    for (let t = 0; t < field.angle.length; t++) {
      // The arm's height above level, or square to it.
      const up =
        Math.cos(field.angle[t]) * field.frames.first[3 * t + 2] +
        Math.sin(field.angle[t]) * field.frames.second[3 * t + 2]
      off = Math.max(off, Math.min(Math.abs(up), Math.abs(1 - Math.abs(up))))
    }
    expect(off).toBeLessThan(0.05)
  })
  it('leaves a disc of a ball: every corner has a place, and few of them are whole', () => {
    const mesh = sphere(20, 3)
    const { topology, field } = fieldOf(mesh, null)
    const cut = cutOpen(mesh, topology, field)
    expect(cut.places).toHaveLength(cut.wedges)
    // Euler of the cut skin as a disc: wedges less edges and faces is one.
    const n = mesh.triangles.length / 3
    const edges = new Set<string>()
    for (let h = 0; h < 3 * n; h++) {
      const [a, b] = [cut.wedge[h], cut.wedge[h % 3 === 2 ? h - 2 : h + 1]]
      edges.add(a < b ? `${a} ${b}` : `${b} ${a}`)
    }
    expect(cut.wedges - edges.size + n).toBe(1)
    expect(cut.whole).toBeLessThan(60)
    expect(cut.pinned).toBeGreaterThanOrEqual(cut.free)
  })
})

describe('quads are tidied', () => {
  /** A level sheet of n x n quads. */
  const level = (n: number) => {
    const positions: number[] = []
    for (let j = 0; j <= n; j++) for (let i = 0; i <= n; i++) positions.push(i, j, 0)
    const quads: number[][] = []
    for (let j = 0; j < n; j++)
      for (let i = 0; i < n; i++) {
        const a = i + (n + 1) * j
        quads.push([a, a + 1, a + n + 2, a + n + 1])
      }
    return { positions, quads }
  }
  it('a vertex of two edges goes, and the sheet is even again', () => {
    const { positions, quads } = level(4)
    const [a, b, c, d] = quads[5]
    const v = positions.length / 3
    positions.push(1.5, 1.5, 0)
    // Two quads over one square: both meet at the new vertex.
    quads.splice(5, 1, [a, b, c, v], [a, v, c, d])
    const net = { positions: Float32Array.from(positions), quads: Uint32Array.from(quads.flat()) }
    const { net: tidy, from } = tidyQuads(net, new Set(), new Uint8Array(v + 1))
    expect(tidy.quads.length / 4).toBe(16)
    expect([...from]).not.toContain(v)
    expect(quadFigures(tidy).irregularPoints).toBe(0)
  })
  it('what is even, and what stays, is left alone', () => {
    const { positions, quads } = level(4)
    const net = { positions: Float32Array.from(positions), quads: Uint32Array.from(quads.flat()) }
    expect(tidyQuads(net, new Set(), new Uint8Array(25)).net.quads.length).toBe(64)
  })
  it('irregular pairs that were led apart are led to each other again', () => {
    let [plainly, walked] = [0, 0]
    for (let seed = 1; seed <= 25; seed++) {
      const { next } = random(seed)
      const { positions, quads } = level(12)
      // Edges amid the net turned at random: steps in its rows, that come apart.
      for (let turns = 0; turns < 12; turns++) {
        const f = quads[Math.floor(next() * quads.length)]
        const c = Math.floor(next() * 4)
        const [p, q] = [f[c], f[(c + 1) % 4]]
        const g = quads.find((o) => o !== f && o.includes(p) && o.includes(q))
        if (!g || ![...f, ...g].every((v) => positions[3 * v] % 11 && positions[3 * v + 1] % 11)) continue
        const j = g.indexOf(q)
        const six = [q, f[(c + 2) % 4], f[(c + 3) % 4], p, g[(j + 2) % 4], g[(j + 3) % 4]]
        if (new Set(six).size < 6 || quads.some((o) => o.includes(six[1]) && o.includes(six[4]))) continue
        if ([p, q].some((v) => quads.filter((o) => o.includes(v)).length < 4)) continue
        f.splice(0, 4, six[1], six[2], six[3], six[4])
        g.splice(0, 4, six[4], six[5], six[0], six[1])
      }
      const net = { positions: Float32Array.from(positions), quads: Uint32Array.from(quads.flat()) }
      const count = (walk: boolean) => {
        const { net: tidy } = tidyQuads(net, new Set(), new Uint8Array(positions.length / 3), { walk })
        expect(quadFigures(tidy).pieces).toBe(1)
        expect(euler(tidy).sum).toBe(1)
        return quadFigures(tidy).irregularPoints
      }
      plainly += count(false)
      walked += count(true)
    }
    expect(plainly).toBeGreaterThan(20)
    expect(walked).toBeLessThan(0.7 * plainly)
  })
  it('an open piece of an odd number of triangles is all quads too', () => {
    const triangles = Uint32Array.from([0, 1, 2, 0, 2, 3, 0, 3, 4])
    const mesh = { positions: Float32Array.from([0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, -1, 0.5, 0]), triangles }
    const { net, left } = pairToQuads({ mesh, lengths: new Map(), creases: new Set() })
    expect([net.quads.length / 4, left]).toEqual([2, 0])
    expect(meshArea(trianglesOfQuads(net))).toBeCloseTo(meshArea(mesh), 6)
  })
})

describe('symmetry', () => {
  it('half a skin is cut in the plane, and its net put together is the same on both sides', async () => {
    const skin = sphere(20, 4)
    const middle = { ...skin, positions: skin.positions.slice() }
    const half = halfOf(middle, 0, 70)!
    expect(meshArea(half)).toBeCloseTo(meshArea(skin) / 2, 1)
    const net = mirrored(await netOf(half, { count: 200, hardAngle: null }), 0)
    expect(quadFigures(net).closed).toBe(true)
    const places = new Set<string>()
    for (let v = 0; v < net.positions.length; v += 3) places.add([...net.positions.subarray(v, v + 3)].join())
    for (let v = 0; v < net.positions.length; v += 3) {
      const [x, y, z] = net.positions.subarray(v, v + 3)
      expect(places.has([x === 0 ? 0 : -x, y, z].join())).toBe(true)
    }
  })
  it('a plane that misses gives nothing', () => {
    const far = box(10, 10, 10)
    expect(halfOf({ ...far, positions: far.positions.map((v) => v + 50) }, 0, 20)).toBeNull()
  })
})

describe('what nets are made with', () => {
  it('long needles become sound triangles on the same skin', () => {
    const needles = box(60, 40, 2)
    const split = splitLong(needles, 5)
    expect(meshVolume(split)).toBeCloseTo(meshVolume(needles), 2)
    expect(meshArea(split)).toBeCloseTo(meshArea(needles), 2)
    const p = split.positions
    for (let h = 0; h < split.triangles.length; h++) {
      const [a, b] = [split.triangles[h], split.triangles[h % 3 === 2 ? h - 2 : h + 1]]
      expect(Math.hypot(...[0, 1, 2].map((k) => p[3 * a + k] - p[3 * b + k]))).toBeLessThanOrEqual(5.001)
    }
  })
  it('faces that are no quads are divided once', () => {
    // A pyramid: four triangles and a square.
    const positions = Float32Array.from([0, 0, 0, 2, 0, 0, 2, 2, 0, 0, 2, 0, 1, 1, 2])
    const { net, divided } = quadsOfFaces(positions, [
      [3, 2, 1, 0],
      [0, 1, 4],
      [1, 2, 4],
      [2, 3, 4],
      [3, 0, 4],
    ])
    expect(divided).toBe(true)
    expect(net.quads.length / 4).toBe(16)
    expect(quadFigures(net).closed).toBe(true)
    expect(meshVolume(trianglesOfQuads(net))).toBeCloseTo(8 / 3, 4)
  })
  it('creases that noise makes go, those that run on stay', () => {
    const mesh = box(20, 20, 20, 6)
    const t = buildTopology(mesh)
    const flags = creaseFlags(mesh, t, 40)
    const stray = flags.slice()
    const loose = stray.findIndex((f, h) => !f && t.twin[h] > h)
    stray[loose] = stray[t.twin[loose]] = 1
    expect(longCreases(mesh, t, stray, 8)).toEqual(flags)
  })
})

describe('another count for the same mesh', () => {
  it('is the same net, byte by byte, with and without what was kept from the one before', async () => {
    const mesh = gripShape(48, 32)
    const phases: string[] = []
    const work = { ...quiet, progress: (_: number, phase?: string) => void phases.push(phase ?? '') }
    const at = async (count: number) => {
      phases.length = 0
      return (await quadNet(mesh, { count, adaptive: 0.4, hardAngle: 40 }, work)).net
    }
    const bytes = (net: QuadMesh) => [Buffer.from(net.positions.buffer).toString('hex'), [...net.quads].join(' ')]
    forgetWorking()
    await at(300)
    expect(phases).toEqual(expect.arrayContaining(['working mesh', 'cross field', 'map', 'quads']))
    const kept = await at(450)
    expect(phases).toContain('quads')
    for (const phase of ['working mesh', 'cross field', 'map']) expect(phases).not.toContain(phase)
    forgetWorking()
    expect(bytes(await at(450))).toEqual(bytes(kept))
  })
})
