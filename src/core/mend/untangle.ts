/** Takes small tangles out of a skin: the crossing triangles and a ring round them go, the gap is filled anew; where that fails the ring grows (Attene 2010). */
import { crossingsFrom, findSelfCrossings } from '@/core/mesh/self-crossing'
import { buildTopology } from '@/core/mesh/topology'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { checkStop, quiet, span, type Work } from '@/core/base/work'
import { cutAndRefill, growTriangles } from './cut-and-refill'
import { findFolded } from '@/core/mesh/defects'

export interface Untangled {
  readonly mesh: TriMesh
  readonly before: number
  readonly after: number
  readonly removed: number
}

/**
 * Holes that were there before stay as they are.
 * @param folds also cut out folded triangles
 * @param known the crossings of the input, when they have been searched
 */
export function untangle(
  input: TriMesh,
  { rounds = 8, folds = false, known }: { rounds?: number; folds?: boolean; known?: Uint32Array } = {},
  work: Work = quiet,
): Untangled {
  let mesh = input
  let before = -1,
    removed = 0,
    firstNew = 0
  let best = input,
    bestCount = Infinity
  for (let round = 0; round < rounds; round++) {
    const part = span(work, round / rounds, (round + 1) / rounds)
    checkStop(work)
    // Every crossing triangle was cut out in the round before: only new ones can cross.
    const crossings = round > 0 ? crossingsFrom(mesh, firstNew) : (known ?? findSelfCrossings(mesh, span(part, 0, 0.6)))
    const folded = folds ? findFolded(mesh, buildTopology(mesh)) : []
    const count = crossings.length / 2 + folded.length
    if (before < 0) before = count
    if (count < bestCount) {
      best = mesh
      bestCount = count
    }
    if (!count || round === rounds - 1) break
    part.progress(0.6, `untangling ${count} places`)
    let flags: Uint8Array = new Uint8Array(triangleCount(mesh))
    for (const t of crossings) flags[t] = 1
    for (const t of folded) flags[t] = 1
    flags = growTriangles(mesh, flags, 1 + Math.floor(round / 2))
    const refilled = cutAndRefill(
      mesh,
      flags,
      { how: round < rounds - 3 ? 'smooth' : 'flat', crumbs: 1e-3 },
      span(part, 0.6, 1),
    )
    if (!refilled) break
    removed += refilled.removed
    mesh = refilled.mesh
    firstNew = refilled.firstNew
  }
  return { mesh: best, before, after: bestCount, removed }
}
