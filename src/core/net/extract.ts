/**
 * The lattice of whole numbers of a map, taken out of the skin by collapse: corners that round to one place become one, under the link
 * condition, so that what was closed stays closed even where the map folds over. Left is a triangle mesh of lattice edges and diagonals.
 */
import { checkStop, quiet, type Work } from '@/core/base/work'
import { edgeKey, endsOfKey } from '@/core/mesh/edge-key'
import { EditMesh } from '@/core/mesh/edit-mesh'
import { nextIn } from '@/core/mesh/topology'
import { compact, triangleCount, vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'
import type { CornerPlaces } from './integer-map'

/** Squared length of an edge across a square of the lattice; along it edges have 1, others are longer. */
export const diagonal = 2

export interface Lattice {
  readonly mesh: TriMesh
  /** What each edge is: its length in the lattice, squared. */
  readonly lengths: Map<number, number>
  readonly creases: Set<number>
}

/** Edges longer than this in the map are halved, as long as more than a share of them are. */
const longest = 0.6
const mostLong = 0.02
const mostRounds = 4
const mostTriangles = 600_000

interface Laid {
  positions: Float64Array
  triangles: Uint32Array
  places: Float64Array
  creases: Set<number>
}

function shareLong({ triangles, places }: Laid): number {
  let long = 0
  for (let h = 0; h < triangles.length; h++) {
    const g = nextIn(h)
    if (Math.hypot(places[2 * g] - places[2 * h], places[2 * g + 1] - places[2 * h + 1]) > longest) long++
  }
  return long / triangles.length
}

/** Each triangle in four, its places with it. */
function quartered({ positions, triangles, places, creases }: Laid): Laid {
  const middle = new Map<number, number>()
  const more: number[] = []
  const count = positions.length / 3
  const between = (h: number): number => {
    const [a, b] = [triangles[h], triangles[nextIn(h)]]
    const key = edgeKey(a, b)
    let m = middle.get(key)
    if (m === undefined) {
      middle.set(key, (m = count + more.length / 3))
      for (let k = 0; k < 3; k++) more.push((positions[3 * a + k] + positions[3 * b + k]) / 2)
    }
    return m
  }
  const out = new Uint32Array(4 * triangles.length)
  const laid = new Float64Array(4 * places.length)
  const lines = new Set<number>()
  for (let t = 0; t < triangles.length / 3; t++) {
    const v = [0, 1, 2].map((c) => triangles[3 * t + c])
    const m = [0, 1, 2].map((c) => between(3 * t + c))
    const z = [0, 1, 2].map((c) => [places[6 * t + 2 * c], places[6 * t + 2 * c + 1]])
    const y = [0, 1, 2].map((c) => [0, 1].map((k) => (z[c][k] + z[(c + 1) % 3][k]) / 2))
    const four = [
      [v[0], m[0], m[2]],
      [m[0], v[1], m[1]],
      [m[2], m[1], v[2]],
      [m[0], m[1], m[2]],
    ]
    const laidFour = [
      [z[0], y[0], y[2]],
      [y[0], z[1], y[1]],
      [y[2], y[1], z[2]],
      [y[0], y[1], y[2]],
    ]
    for (let q = 0; q < 4; q++)
      for (let c = 0; c < 3; c++) {
        const h = 12 * t + 3 * q + c
        out[h] = four[q][c]
        laid[2 * h] = laidFour[q][c][0]
        laid[2 * h + 1] = laidFour[q][c][1]
      }
    for (let c = 0; c < 3; c++)
      if (creases.has(edgeKey(v[c], v[(c + 1) % 3]))) {
        lines.add(edgeKey(v[c], m[c]))
        lines.add(edgeKey(m[c], v[(c + 1) % 3]))
      }
  }
  const all = new Float64Array(positions.length + more.length)
  all.set(positions)
  all.set(more, positions.length)
  return { positions: all, triangles: out, places: laid, creases: lines }
}

/** Squared lengths of edges on the lattice, in whole steps, and how far off its own place each vertex lies. */
function latticeLengths(
  triangles: Uint32Array,
  z: ArrayLike<number>,
  vertices: number,
): { lengths: Map<number, number>; off: Float32Array } {
  const lengths = new Map<number, number>()
  const off = new Float32Array(vertices).fill(9)
  for (let h = 0; h < triangles.length; h++) {
    const g = nextIn(h)
    const [a, b] = [triangles[h], triangles[g]]
    const [x, y] = [z[2 * h], z[2 * h + 1]]
    off[a] = Math.min(off[a], Math.hypot(x - Math.round(x), y - Math.round(y)))
    const key = edgeKey(a, b)
    if (lengths.has(key)) continue
    const [u, v] = [Math.round(z[2 * g]) - Math.round(x), Math.round(z[2 * g + 1]) - Math.round(y)]
    lengths.set(key, u * u + v * v)
  }
  return { lengths, off }
}

/**
 * @param creases edges that stay, by their vertices
 * @param corners 1 for vertices that stay
 */
export function extractLattice(
  mesh: TriMesh,
  places: CornerPlaces,
  creases: ReadonlySet<number>,
  corners: Uint8Array,
  work: Work = quiet,
): Lattice {
  let laid: Laid = {
    positions: Float64Array.from(mesh.positions),
    triangles: mesh.triangles,
    places,
    creases: new Set(creases),
  }
  for (let round = 0; round < mostRounds; round++) {
    if (shareLong(laid) <= mostLong || laid.triangles.length * 4 > 3 * mostTriangles) break
    laid = quartered(laid)
  }
  checkStop(work)
  const { positions, triangles, places: z } = laid
  const edit = new EditMesh({ positions: positions as unknown as Float32Array, triangles })
  const { lengths, off } = latticeLengths(triangles, z, positions.length / 3)
  const lines = laid.creases
  /** Ends of lines that a vertex has: 2 along a line; corners and places where lines meet stay. */
  const ends = new Uint8Array(positions.length / 3)
  for (const key of lines) for (const v of endsOfKey(key)) ends[v]++
  const stays = (v: number) => (v < corners.length && corners[v] === 1) || (ends[v] !== 0 && ends[v] !== 2)
  const pull = (a: number, b: number): boolean => {
    if (stays(a)) return false
    if (ends[a] && !lines.has(edgeKey(a, b))) return false
    const beside = [...edit.neighbours(a)]
    if (!edit.collapse(a, b)) return false
    for (const c of beside) {
      const old = edgeKey(a, c)
      const own = lengths.get(old)
      lengths.delete(old)
      if (c === b) {
        lines.delete(old)
        continue
      }
      const key = edgeKey(b, c)
      const there = lengths.get(key)
      // Two edges become one: that which leads somewhere tells its length.
      if (own !== undefined) lengths.set(key, there ? there : own)
      if (lines.delete(old)) lines.add(key)
    }
    return true
  }
  const zero = [...lengths].filter(([, l]) => l === 0).map(([key]) => key)
  let open = zero
    .map((key) => ({ key, l: edit.square(...endsOfKey(key)) }))
    .sort((a, b) => a.l - b.l)
    .map(({ key }) => key)
  for (let round = 0; round < 60 && open.length; round++) {
    checkStop(work)
    let done = 0
    for (const key of open) {
      if (lengths.get(key) !== 0) continue
      const [a, b] = endsOfKey(key)
      // The one nearer to the lattice's own place stays.
      const [go, stay] = off[a] >= off[b] ? [a, b] : [b, a]
      if (pull(go, stay) || pull(stay, go)) done++
    }
    open = [...lengths].filter(([, l]) => l === 0).map(([key]) => key)
    if (!done) break
  }
  const kept: number[] = []
  for (let t = 0; t < edit.faceCount; t++) if (edit.alive(t)) kept.push(...edit.loop(t))
  const raw: TriMesh = {
    positions: Float32Array.from(edit.points.subarray(0, 3 * edit.pointCount)),
    triangles: Uint32Array.from(kept),
  }
  return renumbered(raw, lengths, lines)
}

/** Vertices that are left, and the edges by their new numbers. */
function renumbered(raw: TriMesh, lengths: Map<number, number>, lines: ReadonlySet<number>): Lattice {
  const mesh = compact(raw)
  const number = new Int32Array(vertexCount(raw)).fill(-1)
  for (let h = 0; h < 3 * triangleCount(raw); h++) number[raw.triangles[h]] = mesh.triangles[h]
  const ends = (old: number) => endsOfKey(old).map((v) => number[v])
  const key = (old: number) => edgeKey(ends(old)[0], ends(old)[1])
  const alive = (old: number) => ends(old).every((v) => v >= 0)
  return {
    mesh,
    lengths: new Map([...lengths].filter(([k]) => alive(k)).map(([k, l]) => [key(k), l])),
    creases: new Set([...lines].filter(alive).map(key)),
  }
}
