/** Takes crossings out of a mesh: shells that run through each other are cut along their crossing, small tangles go and are filled anew. */
import { quiet, span, type Work } from '@/core/base/work'
import { findFolded } from '@/core/mesh/defects'
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { buildTopology, findPieces } from '@/core/mesh/topology'
import { concatMeshes, diagonal, meshBounds, type TriMesh } from '@/core/mesh/tri-mesh'
import { clearSpecks } from './specks'
import { crossingClusters, type Tangle } from './tangles'
import { takeApart } from './take-apart'
import { tidy } from './tidy'
import { uniteEach, uniteShells } from './unite-shells'
import { untangle } from './untangle'

/** Tangles up to this share of the diagonal are taken out and filled anew; longer ones are cut along. */
const tangleShare = 0.04
const tangleTriangles = 400
/** Where a piece has no inside to go by, being open, its own tangles are taken out up to this share. */
const openShare = 0.12
/** After cutting, closed crumbs below this share of the largest piece go. */
const crumbShare = 1e-4

/** Pairs of which both triangles are of one piece. */
export function withinPieces(mesh: TriMesh, pairs: Uint32Array): Uint32Array {
  const { piece } = findPieces(mesh, buildTopology(mesh))
  const own: number[] = []
  for (let i = 0; i < pairs.length; i += 2)
    if (piece[pairs[i]] === piece[pairs[i + 1]]) own.push(pairs[i], pairs[i + 1])
  return Uint32Array.from(own)
}

const isSmall = (k: Tangle, size: number): boolean =>
  k.pieces === 1 && k.reach <= tangleShare * size && k.triangles.length <= tangleTriangles

export interface Resolved {
  readonly mesh: TriMesh
  readonly before: number
  /** Crossings left; null where shells were cut and nobody has looked since. */
  readonly after: number | null
  /** Triangles that were cut. */
  readonly cut: number
  /** Triangles that went with small tangles. */
  readonly removed: number
  /** What lies inside the united skin is gone. */
  readonly united: boolean
}

/**
 * Cuts along crossings that run long or lie between pieces, as far as the pieces are closed and run one way round, and keeps what bounds the solid; small tangles
 * and folds are taken out with a ring round them and filled anew. Long crossings of open sheets stay: a sheet has no inside to go by.
 * @param known the crossings, when they have been searched
 * @param apart pieces stay apart: only what each crosses of itself is resolved
 */
export function resolveCrossings(
  start: TriMesh,
  {
    apart = false,
    folds = false,
    rounds = 8,
    known,
  }: { apart?: boolean; folds?: boolean; rounds?: number; known?: Uint32Array } = {},
  work: Work = quiet,
): Resolved {
  let mesh = start,
    cut = 0,
    united = false
  const own = (m: TriMesh, pairs: Uint32Array) => (apart ? withinPieces(m, pairs) : pairs)
  const tanglesOf = (m: TriMesh, pairs: Uint32Array) => {
    const size = diagonal(meshBounds(m))
    const tangles = crossingClusters(m, pairs)
    return { all: tangles, long: tangles.some((k) => !isSmall(k, size)) }
  }
  let pairs = own(mesh, known ?? findSelfCrossings(mesh, span(work, 0, 0.15)))
  const before = pairs.length / 2
  let tangles = tanglesOf(mesh, pairs)
  if (tangles.long) {
    const cutting = span(work, 0.15, 0.6)
    const u = apart ? uniteEach(mesh, pairs, cutting) : uniteShells(mesh, cutting)
    if (u.pairs) {
      united = true
      cut = u.cut
      mesh = tidy(clearSpecks(u.mesh, { share: crumbShare }).mesh, span(work, 0.6, 0.65))
      pairs = own(mesh, findSelfCrossings(mesh, span(work, 0.65, 0.75)))
      tangles = tanglesOf(mesh, pairs)
    }
  }
  const part = span(work, 0.75, 1)
  const size = diagonal(meshBounds(mesh))
  const inSmall = new Set(
    tangles.all.flatMap((k) =>
      isSmall(k, size) || (k.pieces === 1 && k.reach <= openShare * size) ? k.triangles : [],
    ),
  )
  const tangled = pairs.filter((t) => inSmall.has(t))
  let removed = 0,
    after: number | null = united || apart || folds ? null : pairs.length / 2
  if (tangled.length || (folds && findFolded(mesh, buildTopology(mesh)).length)) {
    const each = (piece: TriMesh): TriMesh => {
      const u = untangle(piece, { folds, rounds, known: apart ? undefined : tangled }, part)
      removed += u.removed
      if (after !== null) after += u.after - u.before
      return u.mesh
    }
    mesh = apart ? concatMeshes(takeApart(mesh, 0).pieces.map(each)) : each(mesh)
  }
  return { mesh, before, after, cut, removed, united }
}
