/** Parallel bodies of a closed mesh: grown or shrunk by a distance, without self-crossings, and hollow ones. */
import { CutError } from '@/core/arrange/plane-net'
import { unite } from '@/core/arrange/unite'
import { csg } from '@/core/join/csg'
import { cutterMesh } from '@/core/holes/edit-hole'
import { normalize, type Vec3 } from '@/core/math/vec'
import { keepSound } from '@/core/mend/keep-sound'
import { cleanUp } from '@/core/mend/tidy'
import { checkUp, faultCount, faultWords } from '@/core/mesh/check-up'
import { NearestInGrid } from '@/core/mesh/nearest'
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { meshVolume } from '@/core/mesh/measures'
import {
  concatMeshes,
  diagonal,
  flipTriangles,
  meshBounds,
  triangleCount,
  type Bounds,
  type TriMesh,
} from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'
import { referenceOf, signedDistance } from '@/core/gauge/deviation'
import { StepError } from '@/core/base/step-error'
import { quiet, span, type Work } from '@/core/base/work'
import { distanceField, toLevel } from './distance-field'
import { movedSkin, type Corners } from './moved/moved-skin'
import { skinOf } from './skin-of'

/** Refuses what has no clear inside, with the reason and the cure. */
export function requireSound(name: string, mesh: TriMesh, work: Work): void {
  const { facts, faults } = checkUp(mesh, work)
  // Folds alone do not blur what is inside.
  const bad = faultCount(facts) - facts.folded - facts.degenerate
  if (bad > 0 || !facts.closed)
    throw new StepError('not-sound', `"${name}" is not a clean closed skin: ${faultWords(facts)}.`, {
      where: { body: name, ...(faults[0] ? { point: faults[0].at } : {}) },
      tryThis: facts.openEdges
        ? 'Run Mend all or Reskin on it first; for a wall on an open skin take Thicken.'
        : 'Run Mend all on it, or Reskin it.',
    })
}

/** Edge length for an offset when none is given: fine enough for its rounds, no finer than a 300th of the diagonal. */
export function offsetEdge(mesh: TriMesh, by: number): number {
  const d = diagonal(meshBounds(mesh))
  return Math.max(d / 300, Math.min(d / 120, Math.abs(by) / 2))
}

/** A box wider by a distance on every side. */
export const widened = (b: Bounds, by: number): Bounds => ({
  min: [b.min[0] - by, b.min[1] - by, b.min[2] - by],
  max: [b.max[0] + by, b.max[1] + by, b.max[2] + by],
})

/** More crossings than this in the raw skin are laid anew at once: cutting them would take longer and leave needles. */
const mostCrossings = 20_000
/** What a patch of the raw skin may lie nearer than the distance, as a share of it, before it is taken for inside. */
const nearShare = 0.005

/** Share of the volume that mending the cut skin may change. */
const crumb = 1e-3

export interface ParallelBody {
  readonly mesh: TriMesh
  /** Whether it was laid anew with edges of the given length, because the moved skin crossed itself too much; its outer corners are round. */
  readonly laid: boolean
  /** Greatest distance by which moved corners miss the exact one, mm; 0 where it was laid anew. */
  readonly miss: number
}

/**
 * The moved skin with all taken out that lies nearer to the body than the distance or on its wrong side (trimming by the arrangement's
 * cells; Campen & Kobbelt 2010); null when what is left is not a clean closed skin.
 */
function movedBody(
  mesh: TriMesh,
  by: number,
  shape: { corners: Corners; loose: boolean },
  work: Work,
): ParallelBody | null {
  const raw = movedSkin(mesh, by, shape, work)
  const crossings = findSelfCrossings(raw.mesh, span(work, 0, 0.2), mostCrossings + 1).length / 2
  if (crossings > mostCrossings) return null
  const reference = referenceOf(mesh)
  const side = Math.sign(by)
  const least = (1 - nearShare) * Math.abs(by) - raw.miss
  const keeps = (x: number, y: number, z: number) => side * signedDistance(reference, x, y, z) >= least
  try {
    const { mesh: cut } = unite(raw.mesh, span(work, 0.2, 0.8), keeps)
    if (!triangleCount(cut)) return { mesh: cut, laid: false, miss: 0 }
    const out = keepSound(cleanUp(cut), span(work, 0.8, 0.9))
    // Mending a crumb must not cost a piece of the body.
    if (Math.abs(meshVolume(out) - meshVolume(cut)) > crumb * Math.abs(meshVolume(cut))) return null
    const p = out.positions
    for (let v = 0; v < p.length; v += 3) if (!keeps(p[v], p[v + 1], p[v + 2])) return null
    const { facts } = checkUp(out, span(work, 0.9, 1))
    return facts.closed && !faultCount(facts) ? { mesh: out, laid: false, miss: raw.miss } : null
  } catch (error) {
    if (error instanceof CutError) return null
    throw error
  }
}

/** The skin of the distance field, with edges of about `edge` mm. Vertices stand at the exact distance, but for inner creases of a shrunk body. */
export function laidBody(mesh: TriMesh, by: number, edge: number, work: Work): TriMesh {
  const { field, nearest } = distanceField(mesh, by, { signed: true, step: edge })
  const level = toLevel(nearest, Math.abs(by))
  // Creases are where feet jump from one part of the skin to another: drawing there would tear.
  const draw = (x: number, y: number, z: number, out: Float64Array) =>
    level(x, y, z, out) && Math.hypot(out[0] - x, out[1] - y, out[2] - z) < 0.5 * edge
  return skinOf(field, by > 0 ? widened(meshBounds(mesh), by) : meshBounds(mesh), edge, { draw }, work)
}

/**
 * A closed mesh grown by a distance, or shrunk by it (`by` negative): flat faces stay flat, round walls keep their facets, edges stay where
 * moved faces meet. With round corners it is all points within `by` of the body, or all of it further than that from its skin.
 * @param edge of the new skin in mm, used only where the moved skin crosses itself too much to be trimmed
 */
export function offsetMesh(
  mesh: TriMesh,
  by: number,
  { edge, corners }: { edge: number; corners: Corners },
  work: Work = quiet,
): ParallelBody {
  return (
    movedBody(mesh, by, { corners, loose: false }, span(work, 0, 0.25)) ??
    movedBody(mesh, by, { corners, loose: true }, span(work, 0.25, 0.5)) ?? {
      mesh: laidBody(mesh, by, edge, span(work, 0.5, 1)),
      laid: true,
      miss: 0,
    }
  )
}

export interface Drain {
  readonly at: Vec3
  readonly diameter: number
}

export interface Hollowed {
  readonly mesh: TriMesh
  readonly inner: number
  readonly outer: number
  readonly drains: number
}

/** The body with a hollow that leaves a wall, and holes through the wall to drain it. */
export async function hollow(
  name: string,
  mesh: TriMesh,
  wall: number,
  edge: number,
  drains: readonly Drain[],
  work: Work = quiet,
): Promise<Hollowed> {
  const { mesh: inner } = offsetMesh(mesh, -wall, { edge, corners: 'round' }, span(work, 0, 0.8))
  if (!triangleCount(inner))
    throw new StepError('too-thick', `A wall of ${wall} mm leaves no room inside "${name}".`, {
      where: { body: name },
      tryThis: 'Choose a thinner wall.',
    })
  const room = meshVolume(inner)
  let out = concatMeshes([mesh, { positions: inner.positions, triangles: flipTriangles(inner.triangles) }])
  if (drains.length) {
    const nearest = new NearestInGrid(mesh)
    const cutters = drains.map(({ at, diameter }, i) => {
      nearest.square(at[0], at[1], at[2])
      const n = normalize(crossOf(mesh, nearest.triangle))
      const foot: Vec3 = [nearest.x, nearest.y, nearest.z]
      const sides = Math.max(24, Math.ceil(Math.PI / Math.acos(Math.max(0, 1 - 0.01 / Math.max(diameter / 2, 0.02)))))
      return {
        name: `drain ${i + 1}`,
        mesh: cutterMesh(foot, n, diameter / 2, -2.2 * wall, Math.max(wall, diameter), sides),
      }
    })
    out = (await csg('difference', [{ name, mesh: out }, ...cutters])).mesh
  }
  return { mesh: out, inner: room, outer: meshVolume(mesh), drains: drains.length }
}
