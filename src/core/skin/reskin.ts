/** A new closed clean skin over anything: open, crossing, in several pieces. */
import { closeBorders } from '@/core/mend/close-borders'
import { closeHoles } from '@/core/mend/close-holes'
import { joinPlateSides } from '@/core/mend/plate-sides'
import { survey } from '@/core/mend/survey'
import { faceShells } from '@/core/mend/unite-shells'
import { dropBadCoordinates } from '@/core/mesh/bad-coordinates'
import { faceOutward } from '@/core/mesh/orient'
import { splitNonManifold } from '@/core/mend/split-non-manifold'
import { NearestInGrid } from '@/core/mesh/nearest'
import { buildTopology, findPieces } from '@/core/mesh/topology'
import { weldMesh } from '@/core/mesh/weld'
import { type Bounds, diagonal, keepTriangles, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleArea } from '@/core/mesh/triangle'
import { StepError } from '@/core/base/step-error'
import { checkStop, quiet, span, type Work } from '@/core/base/work'
import { distanceField, toLevel } from './distance-field'
import { skinOf } from './skin-of'
import { flagged, laidSteps, thinTriangles, withThin } from './thin-field'

export interface ReskinChoice {
  /** Edge length of the new skin, mm. */
  readonly edge: number
  /** Gaps and slots narrower than this are bridged, mm; 0 bridges none but holes. */
  readonly gap: number
  /** Close holes, or leave those wider than the gap open. */
  readonly holes: 'close' | 'leave'
}

/** Triangles and seconds to expect, from the area: two triangles to a cell; the rate was measured on a 2-core machine. */
export function estimateReskin(area: number, edge: number): { triangles: number; seconds: number } {
  const triangles = Math.round((2.4 * area) / (edge * edge))
  return { triangles, seconds: Math.max(1, Math.round(triangles / 12_000)) }
}

const widened = (b: Bounds, by: number): Bounds => ({
  min: [b.min[0] - by, b.min[1] - by, b.min[2] - by],
  max: [b.max[0] + by, b.max[1] + by, b.max[2] + by],
})

/** Outer shells only: pieces with positive volume that are not within another. */
function outerShells(mesh: TriMesh): TriMesh {
  const { piece, count } = findPieces(mesh, buildTopology(mesh))
  if (count < 2) return mesh
  const volume = new Float64Array(count)
  const p = mesh.positions,
    k = mesh.triangles
  for (let t = 0; t < piece.length; t++) {
    const a = 3 * k[3 * t],
      b = 3 * k[3 * t + 1],
      c = 3 * k[3 * t + 2]
    volume[piece[t]] +=
      p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) +
      p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]) +
      p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c])
  }
  return keepTriangles(
    mesh,
    piece.map((i) => (volume[i] > 0 ? 1 : 0)),
  ).mesh
}

/** Pieces too small for the grid to mean them. */
function withoutCrumbs(mesh: TriMesh, least: number): TriMesh {
  const { piece, count } = findPieces(mesh, buildTopology(mesh))
  if (count < 2) return mesh
  const area = new Float64Array(count)
  for (let t = 0; t < piece.length; t++) area[piece[t]] += triangleArea(mesh, t)
  const largest = Math.max(...area)
  return keepTriangles(
    mesh,
    piece.map((i) => (area[i] >= least || area[i] === largest ? 1 : 0)),
  ).mesh
}

/** The input closed as far as it must be to have an inside, facing outward. */
function closedUp(facing: TriMesh, work: Work): TriMesh {
  // Sides of plates belong together; borders of sheets are closed across or by a base, for without an inside there is no skin round them.
  const joined = joinPlateSides(survey(facing)).mesh
  const seen = survey(joined)
  const border = new Set(seen.rims.flatMap((rim, r) => (seen.border[r] ? rim.halfEdges : [])))
  const holed = closeHoles(
    joined,
    { how: 'smooth', scraps: true, accept: (rim) => !border.has(rim.halfEdges[0]) },
    span(work, 0.02, 0.08),
  ).mesh
  const bordered = border.size ? closeBorders(holed, 'smooth', span(work, 0.08, 0.1)) : holed
  const rest = buildTopology(bordered).openEdges ? closeHoles(bordered, { how: 'smooth' }, work).mesh : bordered
  return faceShells(splitNonManifold(rest).mesh)
}

type Draw = (x: number, y: number, z: number, out: Float64Array) => boolean

/** A skin laid round a closed one, with what is narrower than the gap bridged. */
function laid(filled: TriMesh, edge: number, gap: number, draw: Draw, work: Work): TriMesh {
  if (gap > 0) {
    const r = gap / 2
    // Growing needs no finer steps than the gap itself.
    const grown = distanceField(filled, r, { signed: false, step: edge })
    const shell = outerShells(
      skinOf(
        grown.field,
        widened(meshBounds(filled), r),
        Math.min(edge, Math.max(edge / 2, r)),
        { sharp: false, draw: toLevel(grown.nearest, r) },
        span(work, 0.12, 0.5),
      ),
    )
    const back = distanceField(shell, -r, { signed: true, step: edge })
    return skinOf(back.field, meshBounds(shell), edge, { draw }, span(work, 0.5, 1))
  }
  const { field } = distanceField(filled, 0, { signed: true, step: edge })
  const thin = flagged(filled, thinTriangles(filled, edge, span(work, 0.1, 0.14)))
  const room = thin ? laidSteps * edge : 0
  return skinOf(
    thin ? withThin(field, thin, room, edge) : field,
    widened(meshBounds(filled), room),
    edge,
    { draw },
    span(work, 0.14, 1),
  )
}

/** The skin without what lies over openings of the input. */
function withoutCovers(skin: TriMesh, facing: TriMesh, edge: number, gap: number): TriMesh {
  const bare = new NearestInGrid(facing, edge)
  const far = Math.max(1.2 * edge, gap / 2)
  const p = skin.positions
  const keep = new Uint8Array(triangleCount(skin))
  for (let t = 0; t < keep.length; t++) {
    const [a, b, c] = [3 * skin.triangles[3 * t], 3 * skin.triangles[3 * t + 1], 3 * skin.triangles[3 * t + 2]]
    keep[t] =
      bare.square(
        (p[a] + p[b] + p[c]) / 3,
        (p[a + 1] + p[b + 1] + p[c + 1]) / 3,
        (p[a + 2] + p[b + 2] + p[c + 2]) / 3,
        far,
      ) < Infinity
        ? 1
        : 0
  }
  return splitNonManifold(keepTriangles(skin, keep).mesh).mesh
}

/**
 * The new skin. Inside is where the winding number of the mended input is above one half; with a gap, the body is first grown by half of
 * it and shrunk back (morphological closing), which bridges what is narrower. Vertices are then drawn on to the input where it lies close.
 */
export function reskin(input: TriMesh, { edge, gap, holes }: ReskinChoice, work: Work = quiet): TriMesh {
  const sound = dropBadCoordinates(input).mesh
  if (!triangleCount(sound)) throw new StepError('empty', 'There is no triangle to lay a skin over.')
  const scale = diagonal(meshBounds(sound))
  if (!(edge > 1e-5 * scale))
    throw new StepError('too-fine', 'That edge length is too small for this body.', {
      tryThis: 'Choose a longer edge.',
    })
  work.progress(0, 'making ready')
  const welded = weldMesh(sound).mesh
  const facing = faceOutward(splitNonManifold(welded, { rims: false }).mesh, work).mesh
  checkStop(work)
  const filled = closedUp(facing, work)
  const target = new NearestInGrid(filled, edge)
  const draw = (x: number, y: number, z: number, out: Float64Array): boolean => {
    if (!(target.square(x, y, z, 0.75 * edge) < Infinity)) return false
    out[0] = target.x
    out[1] = target.y
    out[2] = target.z
    return true
  }
  const skin = withoutCrumbs(laid(filled, edge, gap, draw, work), 6 * edge * edge)
  if (!triangleCount(skin))
    throw new StepError('empty-result', 'No inside was found at this edge length.', {
      tryThis: 'Choose a shorter edge, or a gap to bridge.',
    })
  return holes === 'leave' ? withoutCovers(skin, facing, edge, gap) : skin
}

/** Edge length to begin with: a two-hundredth of the diagonal. */
export const defaultEdge = (mesh: TriMesh): number => diagonal(meshBounds(mesh)) / 200
