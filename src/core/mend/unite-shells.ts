/** Makes shells that cross into one skin by cutting along the crossings, and takes out what rounding the new corners left. */
import { span, quiet, type Work } from '@/core/base/work'
import { unite } from '@/core/arrange/unite'
import { buildTopology, findPieces } from '@/core/mesh/topology'
import { concatMeshes, keepTriangles, meshVolume, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { WindingNumber } from '@/core/skin/winding'
import { keepSound } from './keep-sound'
import { removeDegenerate } from './slivers'
import { splitNonManifold } from './split-non-manifold'

export interface UnitedShells {
  readonly mesh: TriMesh
  /** Triangles that were cut. */
  readonly cut: number
  /** Pairs that met. */
  readonly pairs: number
}

/** Which triangles belong to pieces without a rim. */
export function closedPieces(mesh: TriMesh): Uint8Array {
  const topology = buildTopology(mesh)
  const { piece, count } = findPieces(mesh, topology)
  const open = new Uint8Array(count)
  for (let h = 0; h < topology.twin.length; h++) if (topology.twin[h] === -1) open[piece[(h / 3) | 0]] = 1
  return Uint8Array.from(piece, (i) => 1 - open[i])
}

/** A shell that crosses another counts as a hollow of it only when this share of its corners lies within others. */
const hollowShare = 0.95
const hollowSamples = 60

/** Turns closed pieces outward that cross others. @param pairs the crossings */
function faceCrossing(mesh: TriMesh, pairs: Uint32Array): TriMesh {
  const { piece, count } = findPieces(mesh, buildTopology(mesh))
  const crosses = new Uint8Array(count)
  for (let i = 0; i < pairs.length; i += 2)
    if (piece[pairs[i]] !== piece[pairs[i + 1]]) crosses[piece[pairs[i]]] = crosses[piece[pairs[i + 1]]] = 1
  return crosses.includes(1) ? turnOutward(mesh, piece, crosses) : mesh
}

/** Turns all closed pieces outward: which way a piece with holes faced was a guess until they were closed. */
export function faceShells(mesh: TriMesh): TriMesh {
  const { piece, count } = findPieces(mesh, buildTopology(mesh))
  const closed = closedPieces(mesh)
  const of = new Uint8Array(count)
  piece.forEach((i, t) => {
    if (closed[t]) of[i] = 1
  })
  return turnOutward(mesh, piece, of)
}

/** Turns the pieces in question that enclose a negative volume, unless nearly all of one lies within the others: then it is a hollow. */
function turnOutward(mesh: TriMesh, piece: Uint32Array, crosses: Uint8Array): TriMesh {
  const own: number[][] = crosses.reduce<number[][]>((rows) => [...rows, []], [])
  for (let t = 0; t < piece.length; t++) if (crosses[piece[t]]) own[piece[t]].push(t)
  const corners = (list: readonly number[]) =>
    Uint32Array.from(list.flatMap((t) => [...mesh.triangles.subarray(3 * t, 3 * t + 3)]))
  const inward = own.flatMap((list, i) => (list.length && meshVolume(mesh, corners(list)) < 0 ? [i] : []))
  if (!inward.length) return mesh
  const triangles = mesh.triangles.slice()
  const turn = (i: number) => {
    for (const t of own[i]) [triangles[3 * t + 1], triangles[3 * t + 2]] = [triangles[3 * t + 2], triangles[3 * t + 1]]
  }
  for (const i of inward) turn(i)
  const outward = { positions: mesh.positions, triangles }
  // Against what the others enclose when all of them face outward.
  const hollows = inward.filter((i) => {
    const others = new WindingNumber(
      keepTriangles(
        outward,
        Uint8Array.from(piece, (q) => (q === i ? 0 : 1)),
      ).mesh,
    )
    const step = Math.max(1, Math.floor(own[i].length / hollowSamples))
    let inside = 0,
      all = 0
    for (let k = 0; k < own[i].length; k += step) {
      const v = 3 * mesh.triangles[3 * own[i][k]]
      if (others.at(mesh.positions[v], mesh.positions[v + 1], mesh.positions[v + 2]) >= 0.5) inside++
      all++
    }
    return inside >= hollowShare * all
  })
  for (const i of hollows) turn(i)
  return outward
}

/** Unites the closed pieces of a mesh, each with itself and with the others; open pieces stay as they are. Pieces run one way round.
 * @param pairs the crossings, as `findSelfCrossings` gives them */
export function uniteShells(input: TriMesh, pairs: Uint32Array, work: Work = quiet): UnitedShells {
  const mesh = faceCrossing(input, pairs)
  const closed = closedPieces(mesh)
  if (!closed.includes(1)) return { mesh: input, cut: 0, pairs: 0 }
  const whole = !closed.includes(0)
  const u = unite(whole ? mesh : keepTriangles(mesh, closed).mesh, span(work, 0, 0.8))
  if (!u.pairs) return { mesh: input, cut: 0, pairs: 0 }
  const tidy = splitNonManifold(removeDegenerate(u.mesh).mesh).mesh
  const sound = triangleCount(tidy) ? keepSound(tidy, span(work, 0.8, 1)) : tidy
  return {
    mesh: whole
      ? sound
      : concatMeshes([
          sound,
          keepTriangles(
            mesh,
            closed.map((c) => 1 - c),
          ).mesh,
        ]),
    cut: u.cut,
    pairs: u.pairs,
  }
}

/** Each closed piece united with itself alone, so that pieces that cross stay apart. */
export function uniteEach(mesh: TriMesh, _pairs: Uint32Array, work: Work = quiet): UnitedShells {
  const { piece, count } = findPieces(mesh, buildTopology(mesh))
  const parts: TriMesh[] = []
  let cut = 0,
    pairs = 0
  for (let i = 0; i < count; i++) {
    const u = uniteShells(
      keepTriangles(
        mesh,
        Uint8Array.from(piece, (p) => (p === i ? 1 : 0)),
      ).mesh,
      new Uint32Array(0),
      span(work, i / count, (i + 1) / count),
    )
    cut += u.cut
    pairs += u.pairs
    parts.push(u.mesh)
  }
  return pairs ? { mesh: concatMeshes(parts), cut, pairs } : { mesh, cut, pairs }
}
