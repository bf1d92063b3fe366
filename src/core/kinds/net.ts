/** The kind `net`: quads only, open or closed. */
import { netBody, type NetBody } from '@/core/bodies/body'
import { badBody } from '@/core/bodies/container'
import type { Facts } from '@/core/base/facts'
import { num, percentText, plural } from '@/core/base/say'
import { quadFaults, quadFaultWords } from '@/core/gauge/quad-faults'
import { applyPoint, determinant } from '@/core/math/affine'
import { add, distance, scale } from '@/core/math/vec'
import { checkUp, faultWords, type Fault } from '@/core/mesh/check-up'
import { nextInQuad, quadFigures, quadTopology, trianglesOfQuads, type QuadMesh } from '@/core/mesh/quad-mesh'
import { corners, meshBounds, type TriMesh } from '@/core/mesh/tri-mesh'
import { bulkOf } from './bulk'
import { defineKind, type FactRow } from './kind'

/** Every edge once, as point pairs, with the quad it belongs to. */
export function quadLines(net: QuadMesh): { points: Float32Array; part: Uint32Array } {
  const { twin } = quadTopology(net)
  const points: number[] = []
  const part: number[] = []
  const { positions: p, quads } = net
  for (let h = 0; h < quads.length; h++) {
    if (twin[h] > h) continue
    const [a, b] = [quads[h], quads[nextInQuad(h)]]
    points.push(p[3 * a], p[3 * a + 1], p[3 * a + 2], p[3 * b], p[3 * b + 1], p[3 * b + 2])
    part.push(h >> 2)
  }
  return { points: Float32Array.from(points), part: Uint32Array.from(part) }
}

/** The quad of each of the triangles a net is drawn by. */
export const quadOf = (net: QuadMesh) => Uint32Array.from({ length: net.quads.length / 2 }, (_, t) => t >> 1)

/** At most so many quads are shown with their places. */
const mostShown = 200

/** A quad that is folded or pinched, as a fault with its two triangles. */
function foldedQuad(mesh: TriMesh, q: number): Fault {
  const points = [2 * q, 2 * q + 1].flatMap((t) => corners(mesh, t))
  const at = scale(points.reduce(add), 1 / points.length)
  return {
    kind: 'fold',
    at,
    reach: Math.max(...points.map((p) => distance(p, at))),
    triangles: [2 * q, 2 * q + 1],
  }
}

export const netKind = defineKind<NetBody>({
  kind: 'net',
  title: 'net',
  version: 1,
  pack: ({ net }) => ({
    head: {},
    arrays: [
      { name: 'positions', data: net.positions },
      { name: 'quads', data: net.quads },
    ],
  }),
  unpack(from) {
    const net = { positions: from.f32('positions'), quads: from.u32('quads') }
    if (net.positions.length % 3 || net.quads.length % 4) throw badBody('corners or quads are not whole')
    return netBody(net)
  },
  bounds: (b) => meshBounds(trianglesOfQuads(b.net)),
  move({ net }, map) {
    const positions = new Float32Array(net.positions.length)
    for (let o = 0; o < positions.length; o += 3)
      positions.set(applyPoint(map, [net.positions[o], net.positions[o + 1], net.positions[o + 2]]), o)
    const quads = net.quads.slice()
    if (determinant(map) < 0) for (let q = 0; q < quads.length; q += 4) quads.subarray(q, q + 4).reverse()
    return Promise.resolve(netBody({ positions, quads }))
  },
  facts({ net }) {
    const f = quadFigures(net)
    const mesh = trianglesOfQuads(net)
    const bulk = bulkOf(mesh, f.closed)
    const figures = {
      quads: f.quads,
      vertices: f.vertices,
      pieces: f.pieces,
      irregular: f.irregular,
      irregularPoints: f.irregularPoints,
      minAngle: f.minAngle,
      edge: f.edge,
      volume: bulk.volume,
      area: bulk.area,
    }
    const rows: FactRow[] = [
      { key: 'quads', label: 'Quads', value: f.quads, as: 'count' },
      { key: 'edge', label: 'Mean edge', value: f.edge, as: 'length' },
      {
        key: 'irregular',
        label: 'Irregular points',
        value: `${f.irregularPoints} (${percentText(f.irregular)})`,
        as: 'words',
      },
      { key: 'minAngle', label: 'Smallest angle', value: `${num(f.minAngle, 1)}°`, as: 'words' },
    ]
    if (f.pieces > 1) rows.push({ key: 'pieces', label: 'Pieces', value: f.pieces, as: 'count' })
    rows.push(...bulk.rows)
    return {
      ...bulk.place,
      sound: f.closed,
      badge: f.closed ? plural(f.quads, 'quad') : 'open',
      rows,
      figures,
    }
  },
  draw({ net }) {
    const { positions, triangles } = trianglesOfQuads(net)
    return { skin: { positions, triangles, part: quadOf(net) }, lines: quadLines(net) }
  },
  surface: ({ net }) => Promise.resolve({ mesh: trianglesOfQuads(net), face: quadOf(net) }),
  faceted: true,
  check({ net }, work) {
    const mesh = trianglesOfQuads(net)
    const { facts, faults } = checkUp(mesh, work)
    const of = quadFaults(net)
    const words = quadFaultWords({ ...of, crossing: [] })
    return {
      facts: {
        ...(facts as unknown as Facts),
        foldedQuads: of.folded.length,
        pinchedQuads: of.pinched.length,
        coincidentCorners: of.coincident,
        smallestJacobian: of.worst,
      },
      faults: [...faults, ...[...of.folded, ...of.pinched].slice(0, mostShown).map((q) => foldedQuad(mesh, q))],
      said: `${facts.closed ? 'closed' : 'open'} · faults: ${[words, faultWords(facts)].filter(Boolean).join(', ')}`,
    }
  },
  flaws({ net }) {
    const words = quadFaultWords(quadFaults(net))
    return words ? [`has ${words}`] : []
  },
  detail: ({ net }) => quadFigures(net).edge,
  coordinates: (b) => b.net.positions,
})
