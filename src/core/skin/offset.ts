/** Parallel bodies of a closed mesh: grown or shrunk by a distance, without self-crossings, and hollow ones. */
import { csg } from '@/core/join/csg'
import { cutterMesh } from '@/core/holes/edit-hole'
import { normalize, type Vec3 } from '@/core/math/vec'
import { checkUp, faultCount, faultWords } from '@/core/mesh/check-up'
import { NearestInGrid } from '@/core/mesh/nearest'
import {
  concatMeshes,
  crossOf,
  diagonal,
  flipTriangles,
  meshBounds,
  meshVolume,
  triangleCount,
  type Bounds,
  type TriMesh,
} from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'
import { quiet, span, type Work } from '@/core/base/work'
import { distanceField, toLevel } from './distance-field'
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

/**
 * All points within `by` of the body (outward), or all of the body further than that from its skin (inward, `by` negative).
 * Vertices stand at the exact distance, but for inner creases of a shrunk body.
 */
export function offsetMesh(mesh: TriMesh, by: number, edge: number, work: Work = quiet): TriMesh {
  const { field, nearest } = distanceField(mesh, by, { signed: true, step: edge })
  const level = toLevel(nearest, Math.abs(by))
  // Creases are where feet jump from one part of the skin to another: drawing there would tear.
  const draw = (x: number, y: number, z: number, out: Float64Array) =>
    level(x, y, z, out) && Math.hypot(out[0] - x, out[1] - y, out[2] - z) < 0.5 * edge
  return skinOf(field, by > 0 ? widened(meshBounds(mesh), by) : meshBounds(mesh), edge, { draw }, work)
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
  const inner = offsetMesh(mesh, -wall, edge, span(work, 0, 0.8))
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
