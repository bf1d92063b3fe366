/** The kind `cage`: the control net of a subdivision surface. What is seen, met and measured of it is its limit surface. */
import { cageBody, type CageBody } from '@/core/bodies/body'
import { badBody } from '@/core/bodies/container'
import { plural } from '@/core/base/say'
import { quadFaults } from '@/core/gauge/quad-faults'
import { applyPoint, determinant } from '@/core/math/affine'
import { edgeKey, endsOfKey } from '@/core/mesh/edge-key'
import { quadFigures, trianglesOfQuads, type QuadMesh } from '@/core/mesh/quad-mesh'
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { meshBounds, type TriMesh } from '@/core/mesh/tri-mesh'
import { limitQuads, type Cage } from '@/core/subdivision/subdivide'
import { bulkOf } from './bulk'
import { defineKind, type FactRow } from './kind'
import { quadLines } from './net'

/** The limit surface is shown and met by about so many quads. */
const shownQuads = 30_000
const mostSteps = 4

/** How many steps down the limit surface of a cage is shown. */
export const cageSteps = (cage: Pick<Cage, 'quads'>): number =>
  Math.max(1, Math.min(mostSteps, Math.floor(Math.log(shownQuads / Math.max(1, cage.quads.length / 4)) / Math.log(4))))

interface Skin {
  readonly mesh: TriMesh
  /** The quad of the cage that each triangle belongs to. */
  readonly face: Uint32Array
}

const known = new WeakMap<Cage, Skin>()

/** Triangles of the limit surface. */
export function limitSkin(cage: Cage): Skin {
  let skin = known.get(cage)
  if (!skin) {
    const steps = cageSteps(cage)
    const { positions, quads } = limitQuads(cage, steps)
    const mesh = trianglesOfQuads({ positions: Float32Array.from(positions), quads })
    const each = 2 * 4 ** steps
    skin = { mesh, face: Uint32Array.from({ length: mesh.triangles.length / 3 }, (_, t) => Math.floor(t / each)) }
    known.set(cage, skin)
  }
  return skin
}

const netOf = ({ positions, quads }: Cage): QuadMesh => ({ positions: Float32Array.from(positions), quads })

export const cageKind = defineKind<CageBody>({
  kind: 'cage',
  title: 'cage',
  version: 1,
  pack({ cage }) {
    const creases = [...cage.creases]
    const corners = [...cage.corners]
    return {
      head: {},
      arrays: [
        { name: 'positions', data: cage.positions },
        { name: 'quads', data: cage.quads },
        { name: 'creases', data: Uint32Array.from(creases.flatMap(([key]) => endsOfKey(key))) },
        { name: 'sharp', data: Float32Array.from(creases, ([, s]) => s) },
        { name: 'corners', data: Uint32Array.from(corners, ([v]) => v) },
        { name: 'pointed', data: Float32Array.from(corners, ([, s]) => s) },
      ],
    }
  },
  unpack(from) {
    const [positions, quads] = [from.f64('positions'), from.u32('quads')]
    const [ends, sharp] = [from.u32('creases'), from.f32('sharp')]
    const [at, pointed] = [from.u32('corners'), from.f32('pointed')]
    if (positions.length % 3 || quads.length % 4 || ends.length !== 2 * sharp.length || at.length !== pointed.length)
      throw badBody('corners, quads or creases are not whole')
    const creases = new Map<number, number>()
    sharp.forEach((s, i) => creases.set(edgeKey(ends[2 * i], ends[2 * i + 1]), s))
    const corners = new Map<number, number>()
    at.forEach((v, i) => corners.set(v, pointed[i]))
    return cageBody({ positions, quads, creases, corners })
  },
  bounds: (b) => meshBounds(limitSkin(b.cage).mesh),
  move({ cage }, map) {
    const positions = new Float64Array(cage.positions.length)
    for (let o = 0; o < positions.length; o += 3)
      positions.set(applyPoint(map, [cage.positions[o], cage.positions[o + 1], cage.positions[o + 2]]), o)
    const quads = cage.quads.slice()
    if (determinant(map) < 0) for (let q = 0; q < quads.length; q += 4) quads.subarray(q, q + 4).reverse()
    return Promise.resolve(cageBody({ ...cage, positions, quads }))
  },
  facts({ cage }) {
    const f = quadFigures(netOf(cage))
    const bulk = bulkOf(limitSkin(cage).mesh, f.closed)
    const figures = {
      faces: f.quads,
      points: f.vertices,
      creases: cage.creases.size,
      pieces: f.pieces,
      volume: bulk.volume,
      area: bulk.area,
    }
    const rows: FactRow[] = [
      { key: 'faces', label: 'Faces of the cage', value: f.quads, as: 'count' },
      { key: 'points', label: 'Control points', value: f.vertices, as: 'count' },
    ]
    if (figures.creases) rows.push({ key: 'creases', label: 'Creased edges', value: figures.creases, as: 'count' })
    if (f.pieces > 1) rows.push({ key: 'pieces', label: 'Pieces', value: f.pieces, as: 'count' })
    rows.push(...bulk.rows)
    return {
      ...bulk.place,
      sound: f.closed,
      badge: f.closed ? plural(f.quads, 'face') : 'open',
      rows,
      figures,
    }
  },
  draw({ cage }) {
    const { mesh, face } = limitSkin(cage)
    const net = netOf(cage)
    return {
      skin: { positions: mesh.positions, triangles: mesh.triangles, part: face },
      lines: quadLines(net),
      points: { points: net.positions },
    }
  },
  surface: ({ cage }) => Promise.resolve(limitSkin(cage)),
  faceted: true,
  flaws({ cage }) {
    const { coincident } = quadFaults(netOf(cage))
    const { mesh, face } = limitSkin(cage)
    const pairs = findSelfCrossings(mesh)
    const crossing = new Set(Array.from(pairs, (t) => face[t]))
    return [
      ...(coincident ? [`has ${plural(coincident, 'control point')} in the place of another`] : []),
      ...(crossing.size ? [`has a surface that crosses itself, on ${plural(crossing.size, 'face')}`] : []),
    ]
  },
  detail: ({ cage }) => quadFigures(netOf(cage)).edge,
  coordinates: (b) => Float32Array.from(b.cage.positions),
})
