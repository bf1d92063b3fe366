/** Takes triangles out of a skin and fills the gap from what surrounds it. */
import { buildTopology, cornerFans, vertexTriangles } from '@/core/mesh/topology'
import { keepTriangles, triangleCount, vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { quiet, type Work } from '@/core/base/work'
import { closeHoles, type HoleFill } from './close-holes'
import { clearSpecks } from './specks'

/** Flags grown by `rings` rings of triangles that share a vertex. */
export function growTriangles(mesh: TriMesh, flags: Uint8Array, rings: number): Uint8Array {
  if (rings < 1) return flags
  const around = vertexTriangles(mesh)
  let current = flags
  for (let r = 0; r < rings; r++) {
    const wider = current.slice()
    for (let t = 0; t < current.length; t++) {
      if (!current[t]) continue
      for (let c = 0; c < 3; c++) {
        const v = mesh.triangles[3 * t + c]
        for (let i = around.start[v]; i < around.start[v + 1]; i++) wider[around.list[i]] = 1
      }
    }
    current = wider
  }
  return current
}

/** Also takes triangles at corners where the cut leaves two fans, so that rims do not touch themselves. */
export function cutOut(mesh: TriMesh, flags: Uint8Array): { mesh: TriMesh; triangleFrom: Uint32Array } {
  let gone = flags
  for (let round = 0; round < 8; round++) {
    const kept = keepTriangles(
      mesh,
      gone.map((f) => (f ? 0 : 1)),
    )
    const fans = cornerFans(kept.mesh, buildTopology(kept.mesh))
    if (!fans.manyFans.length) return kept
    const bad = new Uint8Array(vertexCount(kept.mesh))
    for (const v of fans.manyFans) bad[v] = 1
    gone = gone.slice()
    let added = 0
    for (let i = 0; i < kept.mesh.triangles.length; i++) {
      const t = kept.triangleFrom[(i / 3) | 0]
      if (bad[kept.mesh.triangles[i]] && !gone[t]) {
        gone[t] = 1
        added++
      }
    }
    if (!added) return kept
  }
  return keepTriangles(
    mesh,
    gone.map((f) => (f ? 0 : 1)),
  )
}

export interface Refilled {
  readonly mesh: TriMesh
  readonly removed: number
  readonly closed: number
  /** Gaps that run out into a rim that was open before: they stay open. */
  readonly left: number
  readonly longest: number
  readonly firstNew: number
}

/**
 * Removes flagged triangles and closes the rims this makes, and only those. Null when nothing would be left.
 * @param crumbs pieces that the cut leaves behind with less than this share of the largest one's area go too
 */
export function cutAndRefill(
  mesh: TriMesh,
  flags: Uint8Array,
  { how, crumbs = 0 }: { how: HoleFill; crumbs?: number },
  work: Work = quiet,
): Refilled | null {
  const before = buildTopology(mesh)
  const cut = cutOut(mesh, flags)
  if (!triangleCount(cut.mesh)) return null
  let current = cut.mesh
  // Half-edges of the cut mesh that lay on a rim before; -1 marks unknown ones after crumbs went.
  let from = cut.triangleFrom
  if (crumbs > 0) {
    const clean = clearSpecks(current, { share: crumbs })
    if (clean.removed) {
      from = clean.from.map((t) => from[t])
      current = clean.mesh
    }
  }
  const wasOpen = (h: number) => before.twin[3 * from[(h / 3) | 0] + (h % 3)] < 0
  let left = 0
  const closed = closeHoles(
    current,
    {
      how,
      accept: (rim) => {
        const old = rim.halfEdges.filter(wasOpen).length
        if (old && old < rim.halfEdges.length) left++
        return old === 0
      },
    },
    work,
  )
  return {
    mesh: closed.mesh,
    removed: triangleCount(mesh) - triangleCount(current),
    closed: closed.closed,
    left,
    longest: closed.longest,
    firstNew: closed.firstNew,
  }
}
