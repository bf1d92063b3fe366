/** What is wrong with a mesh, how much of it, and where. */
import { cornerFans, buildTopology, type Topology, findRims, type Rim, nextIn, triangleOf } from './topology'
import { findSelfCrossings } from './self-crossing'
import { meshArea, meshVolume } from './measures'
import { boundsSize, corners, meshBounds, triangleCount, vertex, vertexCount, type TriMesh } from './tri-mesh'
import type { Vec3 } from '@/core/math/vec'
import { span, quiet, type Work } from '@/core/base/work'
import { findDegenerate, findDuplicates, findFolded } from './defects'
import { pieceFacts } from './orient'
import { findScraps } from './scraps'

/** `scrap` marks the border of a small piece that floats inside a hole: an open rim, but no hole of the part. */
export interface HoleFact {
  edges: number
  length: number
  centre: Vec3
  scrap?: true
}

/** Names are stable: scripts read them. Lengths mm, area mm², volume mm³ (signed; meaningless while open). */
export interface CheckUpFacts {
  triangles: number
  vertices: number
  pieces: number
  size: Vec3
  closed: boolean
  openEdges: number
  holes: HoleFact[]
  nonManifoldEdges: number
  nonManifoldVertices: number
  flippedEdges: number
  insideOutPieces: number
  degenerate: number
  duplicates: number
  folded: number
  selfCrossings: number
  volume: number
  area: number
}

export type FaultKind =
  | 'hole'
  | 'scrap in a hole'
  | 'non-manifold edge'
  | 'non-manifold vertex'
  | 'flipped neighbours'
  | 'inside-out piece'
  | 'degenerate'
  | 'duplicate'
  | 'fold'
  | 'crossing'

/** One fault with its place; `line` runs along a rim or edge, `triangles` are those to show. */
export interface Fault {
  kind: FaultKind
  at: Vec3
  /** How far it reaches from its place, mm. */
  reach: number
  /** Of a hole: the length of its rim, mm. */
  length?: number
  line?: number[]
  triangles?: number[]
}

export interface CheckUp {
  facts: CheckUpFacts
  faults: Fault[]
  faultsListed: Record<FaultKind, number>
}

/** At most this many faults of a kind are listed with their place; all are counted. */
const listed = 200

const figure = (v: number, digits = 6) => Number(v.toFixed(digits))
const round3 = (v: Vec3): Vec3 => [figure(v[0]), figure(v[1]), figure(v[2])]
const middle = (mesh: TriMesh, t: number): Vec3 => {
  const [a, b, c] = corners(mesh, t)
  return [(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3, (a[2] + b[2] + c[2]) / 3]
}
const reachOf = (mesh: TriMesh, t: number): number => {
  const [a, b, c] = corners(mesh, t)
  return Math.max(Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]), Math.hypot(a[0] - c[0], a[1] - c[1], a[2] - c[2]))
}

/** Greatest distance of a line's corners from a point. */
function reachOfLine(line: readonly number[], [x, y, z]: Vec3): number {
  let most = 0
  for (let i = 0; i < line.length; i += 3)
    most = Math.max(most, Math.hypot(line[i] - x, line[i + 1] - y, line[i + 2] - z))
  return figure(most)
}

/**
 * The whole check-up of a mesh. Edges are open with one triangle, non-manifold with three or more; a vertex is non-manifold when its
 * triangles form several fans; crossings are pairs of triangles that pass through each other.
 */
export const checkUp = (mesh: TriMesh, work: Work = quiet): CheckUp => inspect(mesh, work).checkUp

type Hole = HoleFact & { line: number[] }

/** Each rim with its length, middle and line, the longest first. */
function holesOf(mesh: TriMesh, topology: Topology, rims: readonly Rim[]): Hole[] {
  const scraps = findScraps(mesh, topology, rims)
  return rims
    .map((rim, r): Hole => {
      let length = 0
      const centre = [0, 0, 0]
      const line: number[] = []
      rim.halfEdges.forEach((h, i) => {
        const a = vertex(mesh, mesh.triangles[h]),
          b = vertex(mesh, mesh.triangles[nextIn(h)])
        const l = Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])
        length += l
        for (let k = 0; k < 3; k++) centre[k] += (l * (a[k] + b[k])) / 2
        line.push(...vertex(mesh, rim.vertices[i]))
      })
      if (rim.closed) line.push(...line.slice(0, 3))
      const c: Vec3 =
        length > 0 ? [centre[0] / length, centre[1] / length, centre[2] / length] : vertex(mesh, rim.vertices[0])
      return {
        edges: rim.halfEdges.length,
        length: figure(length),
        centre: round3(c),
        line: line.map((v) => figure(v)),
        ...(scraps?.isBorder(r) ? { scrap: true as const } : {}),
      }
    })
    .sort((a, b) => b.length - a.length)
}

/** Vertices where several fans meet, that are not on a non-manifold edge. */
function nonManifoldVertices(mesh: TriMesh, topology: Topology): number[] {
  const fans = cornerFans(mesh, topology)
  // Fans that only meet along a non-manifold edge are that edge's fault, not the vertex's.
  const onBadEdge = new Set<number>()
  if (topology.nonManifoldEdges)
    for (let h = 0; h < topology.twin.length; h++)
      if (topology.twin[h] === -2) {
        onBadEdge.add(mesh.triangles[h])
        onBadEdge.add(mesh.triangles[nextIn(h)])
      }
  return fans.manyFans.filter((v) => !onBadEdge.has(v))
}

/** The check-up, with all pairs of crossing triangles as `findSelfCrossings` gives them. */
export function inspect(mesh: TriMesh, work: Work = quiet): { checkUp: CheckUp; crossings: Uint32Array } {
  work.progress(0, 'checking up')
  const topology = buildTopology(mesh)
  const faults: Fault[] = []
  const place = (kind: FaultKind, triangles: readonly number[], group = 1) => {
    for (let i = 0; i < triangles.length && i < listed * group; i += group) {
      const list = triangles.slice(i, i + group)
      faults.push({ kind, at: round3(middle(mesh, list[0])), reach: figure(reachOf(mesh, list[0])), triangles: list })
    }
  }
  const rims = findRims(mesh, topology)
  const holes = holesOf(mesh, topology, rims)
  for (const h of [...holes.filter((r) => !r.scrap).slice(0, listed), ...holes.filter((r) => r.scrap).slice(0, listed)])
    faults.push({
      kind: h.scrap ? 'scrap in a hole' : 'hole',
      at: h.centre,
      reach: reachOfLine(h.line, h.centre),
      length: h.length,
      line: h.line,
    })
  for (const h of topology.nonManifold.slice(0, listed)) {
    const a = vertex(mesh, mesh.triangles[h]),
      b = vertex(mesh, mesh.triangles[nextIn(h)])
    faults.push({
      kind: 'non-manifold edge',
      at: round3([(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2]),
      reach: Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]),
      line: [...a, ...b],
    })
  }
  const badVertices = nonManifoldVertices(mesh, topology)
  for (const v of badVertices.slice(0, listed))
    faults.push({ kind: 'non-manifold vertex', at: round3(vertex(mesh, v)), reach: 0 })
  if (topology.flippedEdges) {
    let count = 0
    for (let h = 0; h < topology.twin.length && count < listed; h++) {
      if (topology.sameWay[h] && topology.twin[h] > h) {
        place('flipped neighbours', [triangleOf(h)])
        count++
      }
    }
  }
  work.progress(0.15, 'checking pieces')
  const pieces = pieceFacts(mesh, topology)
  pieces.insideOut.forEach((wrong, i) => {
    if (wrong) place('inside-out piece', [pieces.triangles[i][0]])
  })
  const degenerate = findDegenerate(mesh)
  const duplicates = findDuplicates(mesh)
  const folded = findFolded(mesh, topology)
  place('degenerate', degenerate)
  place('duplicate', duplicates)
  place('fold', folded)
  work.progress(0.3, 'looking for crossings')
  const crossings = findSelfCrossings(mesh, span(work, 0.3, 1))
  place('crossing', Array.from(crossings.subarray(0, 2 * listed)), 2)
  const open1 = topology.openEdges
  const facts: CheckUpFacts = {
    triangles: triangleCount(mesh),
    vertices: vertexCount(mesh),
    pieces: pieces.triangles.length,
    size: round3(boundsSize(meshBounds(mesh))),
    closed: triangleCount(mesh) > 0 && open1 === 0 && topology.nonManifoldEdges === 0,
    openEdges: open1,
    holes: holes.map(({ edges, length, centre, scrap }) => ({ edges, length, centre, ...(scrap ? { scrap } : {}) })),
    nonManifoldEdges: topology.nonManifoldEdges,
    nonManifoldVertices: badVertices.length,
    flippedEdges: topology.flippedEdges,
    insideOutPieces: pieces.insideOut.filter(Boolean).length,
    degenerate: degenerate.length,
    duplicates: duplicates.length,
    folded: folded.length,
    selfCrossings: crossings.length / 2,
    volume: figure(meshVolume(mesh)),
    area: figure(meshArea(mesh)),
  }
  const faultsListed = {} as Record<FaultKind, number>
  for (const f of faults) faultsListed[f.kind] = (faultsListed[f.kind] ?? 0) + 1
  return { checkUp: { facts, faults, faultsListed }, crossings }
}

/** Holes of the part itself: rims, less the borders of scraps that float inside a hole. */
export const holeCount = (f: CheckUpFacts): number => f.holes.filter((h) => !h.scrap).length

/** How bad a mesh is: the number of its faults. Zero is a closed, outward, manifold, crossing-free skin. */
export function faultCount(f: CheckUpFacts): number {
  return (
    f.openEdges +
    f.nonManifoldEdges +
    f.nonManifoldVertices +
    f.flippedEdges +
    f.insideOutPieces +
    f.degenerate +
    f.duplicates +
    f.folded +
    f.selfCrossings
  )
}

/** The faults of a mesh in a maker's words, e.g. "2 holes, 14 folds"; "nothing" when it is sound. */
export function faultWords(f: CheckUpFacts): string {
  const n = (count: number, one: string, many = `${one}s`) =>
    count ? [`${count.toLocaleString('en').replaceAll(',', ' ')} ${count === 1 ? one : many}`] : []
  const words = [
    ...n(holeCount(f), 'hole'),
    ...n(f.holes.length - holeCount(f), 'scrap in a hole', 'scraps in holes'),
    ...n(f.nonManifoldEdges, 'non-manifold edge'),
    ...n(f.nonManifoldVertices, 'non-manifold vertex', 'non-manifold vertices'),
    ...n(f.flippedEdges, 'flipped edge'),
    ...n(f.insideOutPieces, 'inside-out piece'),
    ...n(f.degenerate, 'degenerate triangle'),
    ...n(f.duplicates, 'duplicate triangle'),
    ...n(f.folded, 'fold'),
    ...n(f.selfCrossings, 'self-crossing'),
  ]
  return words.length ? words.join(', ') : 'nothing'
}
