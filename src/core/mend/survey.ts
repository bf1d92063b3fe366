/** What a mesh is made of, piece by piece: closed shells, parts with holes, open sheets; and which rims are holes and which the border of a sheet. */
import { many } from '@/core/base/say'
import { cross, length, sub } from '@/core/math/vec'
import { buildTopology, findPieces, findRims, triangleOf, type Rim, type Topology } from '@/core/mesh/topology'
import { type TriMesh, vertex } from '@/core/mesh/tri-mesh'
import { crossOf, triangleArea } from '@/core/mesh/triangle'
import { findScraps } from '@/core/mesh/scraps'

/** A rim is a border, not a hole, when the least skin that could span it has at least this share of its piece's area. Common practice, no source. */
const borderShare = 0.2
/** Further rims of a sheet are borders from this share on: a washer is no disc with a hole. */
const innerShare = 0.25
/** A piece of which this share of the area is seen from one side is a relief, and its longest rim the border. */
const reliefShare = 0.97

export interface Survey {
  readonly mesh: TriMesh
  readonly topology: Topology
  readonly rims: readonly Rim[]
  /** For each rim 1 where it is the border of an open sheet. */
  readonly border: Uint8Array
  readonly piece: Uint32Array
  /** For each piece what it is; a scrap floats in a hole of another. */
  readonly kinds: readonly PieceKind[]
  /** Area of each piece, mm². */
  readonly area: Float64Array
}
export type PieceKind = 'closed' | 'holed' | 'sheet' | 'scrap'

/** Twice the vector area of a rim: no skin that spans it is smaller than half its length. */
function spannedBy(mesh: TriMesh, rim: Rim): number {
  const o = vertex(mesh, rim.vertices[0])
  const sum: [number, number, number] = [0, 0, 0]
  rim.vertices.forEach((v, i) => {
    const c = cross(sub(vertex(mesh, v), o), sub(vertex(mesh, rim.vertices[(i + 1) % rim.vertices.length]), o))
    for (let k = 0; k < 3; k++) sum[k] += c[k]
  })
  return length(sum) / 2
}

/** Share of each piece's area that faces the way the piece faces as a whole. */
function facing(mesh: TriMesh, piece: Uint32Array, count: number): Float64Array {
  const n = mesh.triangles.length / 3
  const sum = new Float64Array(3 * count),
    area = new Float64Array(count),
    same = new Float64Array(count)
  for (let t = 0; t < n; t++) {
    const c = crossOf(mesh, t)
    for (let k = 0; k < 3; k++) sum[3 * piece[t] + k] += c[k]
    area[piece[t]] += length(c)
  }
  for (let t = 0; t < n; t++) {
    const c = crossOf(mesh, t),
      i = piece[t]
    if (c[0] * sum[3 * i] + c[1] * sum[3 * i + 1] + c[2] * sum[3 * i + 2] > 0) same[i] += length(c)
  }
  return same.map((s, i) => (area[i] > 0 ? s / area[i] : 0))
}

/** Surveys a mesh whose pieces run one way round. */
export function survey(mesh: TriMesh): Survey {
  const topology = buildTopology(mesh)
  const rims = findRims(mesh, topology)
  const { piece, count } = findPieces(mesh, topology)
  const area = new Float64Array(count)
  for (let t = 0; t < piece.length; t++) area[piece[t]] += triangleArea(mesh, t)
  const scraps = findScraps(mesh, topology, rims)
  const kinds: PieceKind[] = new Array<PieceKind>(count).fill('closed')
  const border = new Uint8Array(rims.length)
  const own: number[][] = Array.from({ length: count }, () => [])
  rims.forEach((rim, r) => own[piece[triangleOf(rim.halfEdges[0])]].push(r))
  const oneSided = rims.length ? facing(mesh, piece, count) : null
  const judge = (list: readonly number[], i: number) => {
    const spans = list.map((r) => spannedBy(mesh, rims[r]) / (area[i] || 1))
    const widest = spans.indexOf(Math.max(...spans))
    if (spans[widest] < borderShare && oneSided![i] < reliefShare) {
      kinds[i] = 'holed'
      return
    }
    kinds[i] = 'sheet'
    const filled = new Set(scraps ? list.filter((r) => scraps.holeOf.includes(r)) : [])
    list.forEach((r, k) => {
      if (k === widest || (spans[k] >= innerShare && !filled.has(r))) border[r] = 1
    })
  }
  const floats = (i: number) => scraps !== null && scraps.holeOf[i] >= 0
  own.forEach((list, i) => {
    if (list.length && !floats(i)) judge(list, i)
  })
  own.forEach((list, i) => {
    if (!list.length || !floats(i)) return
    // Within the border of a sheet nothing floats in a hole: that is a piece like others.
    if (border[scraps!.holeOf[i]]) judge(list, i)
    else kinds[i] = 'scrap'
  })
  return { mesh, topology, rims, border, piece, kinds, area }
}

/** "an open sheet", "4 closed pieces and 2 with holes". */
export function surveyWords(s: Pick<Survey, 'kinds'>): string {
  const count = (kind: PieceKind) => s.kinds.filter((k) => k === kind).length
  const closed = count('closed'),
    holed = count('holed'),
    sheets = count('sheet')
  const words = [
    ...(closed ? [closed === 1 ? 'a closed piece' : `${many(closed)} closed pieces`] : []),
    ...(holed ? [holed === 1 ? 'a piece with holes' : `${many(holed)} pieces with holes`] : []),
    ...(sheets ? [sheets === 1 ? 'an open sheet' : `${many(sheets)} open sheets`] : []),
  ]
  return words.length > 1 ? `${words.slice(0, -1).join(', ')} and ${words[words.length - 1]}` : (words[0] ?? 'nothing')
}
