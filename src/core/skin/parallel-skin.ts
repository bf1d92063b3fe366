/** An open parallel skin of a picked part of a mesh, without self-crossings. */
import { findFolded } from '@/core/mesh/defects'
import { clearSpecks } from '@/core/mend/specks'
import { smoothRims } from '@/core/mend/smooth-rim'
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { buildTopology, nextIn } from '@/core/mesh/topology'
import { diagonal, flipTriangles, keepTriangles, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { referenceOf, signedDistance } from '@/core/gauge/deviation'
import { StepError } from '@/core/base/step-error'
import { checkStop, quiet, span, type Work } from '@/core/base/work'
import { distanceField, toLevel } from './distance-field'
import { widened } from './offset'
import { skinOf } from './skin-of'
import { miterDirections } from './thicken'

export interface ParallelSkin {
  readonly mesh: TriMesh
  /** Whether the plain copy crossed itself and a new skin was laid instead. */ readonly reskinned: boolean
}

/**
 * The flagged part of a skin moved along its normals by `by` mm. Where the part bends more tightly than that, the moved copy passes through
 * itself; then the skin of all points at that distance is laid anew with edges of `edge` mm, and of it what faces the part's own side and
 * does not belong to its rim (the trimmed offset of Farouki 2008, chapter 8.4). Seams come out sharp.
 */
export function parallelSkin(
  mesh: TriMesh,
  flags: Uint8Array,
  by: number,
  edge: number,
  work: Work = quiet,
): ParallelSkin {
  const part = keepTriangles(mesh, flags).mesh
  if (!triangleCount(part)) throw new StepError('empty', 'There is no triangle to offset.')
  const way = miterDirections(part)
  const moved = { positions: part.positions.map((v, i) => v + by * way[i]), triangles: part.triangles }
  if (!findSelfCrossings(moved, span(work, 0, 0.2), 1).length) return { mesh: moved, reskinned: false }
  const level = Math.abs(by)
  const { field, nearest } = distanceField(part, level, { signed: false, step: edge })
  const bounds = meshBounds(part)
  const around = skinOf(field, widened(bounds, level), edge, { draw: toLevel(nearest, level) }, span(work, 0.2, 0.9))
  const side = sideOf(part, 1e-6 * diagonal(bounds))
  const keep = new Uint8Array(triangleCount(around))
  const sign = Math.sign(by)
  for (let t = 0; t < keep.length; t++) {
    if ((t & 4095) === 0) checkStop(work)
    let x = 0,
      y = 0,
      z = 0
    for (let c = 0; c < 3; c++) {
      const v = 3 * around.triangles[3 * t + c]
      x += around.positions[v] / 3
      y += around.positions[v + 1] / 3
      z += around.positions[v + 2] / 3
    }
    if (side(x, y, z) === sign) keep[t] = 1
  }
  const kept = keepTriangles(around, keep).mesh
  if (!triangleCount(kept))
    throw new StepError(
      'empty-result',
      'The area bends so tightly everywhere that nothing of its parallel skin is left.',
      { tryThis: 'Choose a smaller distance.' },
    )
  // The new skin faces away from the part; a copy faces as the part does.
  const facing = by > 0 ? kept : { positions: kept.positions, triangles: flipTriangles(kept.triangles) }
  const whole = clearSpecks(facing, { share: 0.002 }).mesh
  return { mesh: evenRim(whole, span(work, 0.95, 1)), reskinned: true }
}

/** The stepped rim smoothed as a curve; triangles that this folds or makes cross go, with what then hangs loose. */
function evenRim(mesh: TriMesh, work: Work): TriMesh {
  if (!buildTopology(mesh).openEdges) return mesh
  let out = smoothRims(mesh, 6, []).mesh
  for (let round = 0; round < 5; round++) {
    const bad = [...findFolded(out, buildTopology(out)), ...findSelfCrossings(out, work)]
    if (!bad.length) return out
    const keep = new Uint8Array(triangleCount(out)).fill(1)
    for (const t of bad) keep[t] = 0
    out = clearSpecks(keepTriangles(out, keep).mesh, { share: 0.002 }).mesh
  }
  return mesh
}

/** 1 or -1 for a point over or under the part, 0 where the nearest point of the part is on its rim. */
function sideOf(part: TriMesh, tiny: number): (x: number, y: number, z: number) => number {
  const reference = referenceOf(part)
  const { nearest } = reference
  const { twin } = buildTopology(part)
  const { positions: p, triangles: k } = part
  const rim = new Uint8Array(p.length / 3)
  for (let h = 0; h < twin.length; h++) if (twin[h] < 0) rim[k[h]] = rim[k[nextIn(h)]] = 1
  const toLine = (a: number, b: number, x: number, y: number, z: number) => {
    const ux = p[b] - p[a],
      uy = p[b + 1] - p[a + 1],
      uz = p[b + 2] - p[a + 2]
    const s = Math.max(
      0,
      Math.min(1, ((x - p[a]) * ux + (y - p[a + 1]) * uy + (z - p[a + 2]) * uz) / (ux * ux + uy * uy + uz * uz || 1)),
    )
    return Math.hypot(x - p[a] - s * ux, y - p[a + 1] - s * uy, z - p[a + 2] - s * uz)
  }
  return (x, y, z) => {
    const side = Math.sign(signedDistance(reference, x, y, z))
    for (let h = 3 * nearest.triangle; h < 3 * nearest.triangle + 3; h++) {
      const v = 3 * k[h],
        w = 3 * k[nextIn(h)]
      if (rim[k[h]] && Math.hypot(nearest.x - p[v], nearest.y - p[v + 1], nearest.z - p[v + 2]) < tiny) return 0
      if (twin[h] < 0 && toLine(v, w, nearest.x, nearest.y, nearest.z) < tiny) return 0
    }
    return side
  }
}
