/** Closes holes: finds rims, spans them, and joins the patches to the mesh without moving a vertex of it. */
import type { Vec3 } from '@/core/math/vec'
import { buildTopology, findRims, triangleOf, type Rim } from '@/core/mesh/topology'
import { keepTriangles, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { checkStop, quiet, span, type Work } from '@/core/base/work'
import { continueCurvature, fitPatches, type Fill } from './fit-patches'
import { loopOfRim, noteEdges, partLoop, patchGround, rimLength, rimNearest } from './loop'
import { patchLoop, type HoleFill } from './patch-loop'
import { findScraps, type Scraps } from '@/core/mesh/scraps'

export type { HoleFill }

export interface HoleChoice {
  readonly how: HoleFill
  /** Only holes with a rim up to this long, mm. */
  readonly longest?: number
  /** Only the hole whose rim is nearest to each of these points. */
  readonly picked?: readonly Vec3[]
  /** Only rims for which this holds. */
  readonly accept?: (rim: Rim) => boolean
  /** Take out scraps that float inside a hole first. */
  readonly scraps?: boolean
}

export interface Closed {
  readonly mesh: TriMesh
  readonly closed: number
  readonly left: number
  readonly longest: number
  readonly scraps: number
  /** Patches that pass through the mesh or each other, whichever way they were laid. */
  readonly crossing: number
  /** Number of the first new triangle; the ones before it are the old ones in their order, less the scraps. */
  readonly firstNew: number
}

/** Numbers of the rims to close. A scrap's border is no hole: picked, it stands for the hole the scrap floats in. */
function choose(mesh: TriMesh, rims: readonly Rim[], scraps: Scraps | null, choice: HoleChoice): number[] {
  let chosen = rims.map((_, r) => r).filter((r) => rims[r].closed && rims[r].vertices.length >= 3)
  if (choice.accept) chosen = chosen.filter((r) => choice.accept!(rims[r]))
  if (choice.picked?.length) {
    const among = chosen.map((r) => rims[r])
    const wanted = choice.picked.map((p) => rimNearest(mesh, among, p)?.rim)
    chosen = chosen
      .filter((r) => wanted.includes(rims[r]))
      .map((r) => (scraps?.isBorder(r) ? scraps.holeOf[scraps.piece[triangleOf(rims[r].halfEdges[0])]] : r))
    chosen = [...new Set(chosen)]
  }
  if (scraps) chosen = chosen.filter((r) => !scraps.isBorder(r))
  if (choice.longest !== undefined) chosen = chosen.filter((r) => rimLength(mesh, rims[r]) <= choice.longest!)
  return chosen
}

/** Closes the chosen holes of a mesh whose triangles run one way round; its own vertices and triangles keep their order. */
export function closeHoles(input: TriMesh, choice: HoleChoice, work: Work = quiet): Closed {
  let mesh = input
  const topology = buildTopology(mesh)
  const rims = findRims(mesh, topology)
  const scraps = choice.scraps ? findScraps(mesh, topology, rims) : null
  let chosen = choose(mesh, rims, scraps, choice).map((r) => rims[r])
  const holes = scraps ? rims.filter((_, r) => !scraps.isBorder(r)).length : rims.length
  if (scraps) {
    const filled = new Set(chosen)
    const keep = Uint8Array.from(scraps.piece, (p) =>
      scraps.holeOf[p] >= 0 && filled.has(rims[scraps.holeOf[p]]) ? 0 : 1,
    )
    if (keep.includes(0)) {
      const { mesh: kept, triangleFrom } = keepTriangles(mesh, keep)
      const edges = new Set(chosen.flatMap((rim) => rim.halfEdges))
      mesh = kept
      // The same rims, told by their edges: kept triangles keep the order of their corners.
      chosen = findRims(kept, buildTopology(kept)).filter(({ halfEdges: [h] }) =>
        edges.has(3 * triangleFrom[triangleOf(h)] + (h % 3)),
      )
    }
  }
  const gone = triangleCount(input) - triangleCount(mesh)
  const firstNew = triangleCount(mesh)
  if (!chosen.length) return { mesh, closed: 0, left: holes, longest: 0, scraps: gone, firstNew, crossing: 0 }
  const ground = patchGround(mesh)
  const fills: Fill[] = []
  let longest = 0,
    closed = 0
  const part = span(work, 0, 0.8)
  chosen.forEach((rim, r) => {
    checkStop(work)
    part.progress(r / chosen.length, 'closing holes')
    const each = span(part, r / chosen.length, (r + 1) / chosen.length)
    let some = false
    for (const loop of partLoop(loopOfRim(mesh, rim))) {
      const patch = patchLoop(ground, loop, choice.how, undefined, each)
      if (!patch.triangles.length) continue
      noteEdges(ground, loop, patch)
      fills.push({ loop, tried: [patch] })
      some = true
    }
    if (!some) return
    closed++
    longest = Math.max(longest, rimLength(mesh, rim))
  })
  if (choice.how === 'curvature') continueCurvature(mesh, fills, span(work, 0.8, 0.9))
  const fitted = fitPatches(ground, fills, choice.how, span(work, 0.9, 1))
  return { mesh: fitted.mesh, closed, left: holes - closed, longest, scraps: gone, firstNew, crossing: fitted.crossing }
}
