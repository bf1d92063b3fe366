/** Takes self-crossings out of a skin: the crossing triangles and a ring round them go, the gap is filled anew; where that fails the ring grows (Attene 2010). */
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { buildTopology, cornerFans, vertexTriangles } from '@/core/mesh/topology'
import { keepTriangles, triangleCount, vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { checkStop, quiet, span, type Work } from '@/core/recipe/work'
import { closeHoles } from './close-holes'
import { findFolded } from './defects'
import { clearSpecks } from './specks'

export interface Untangled { readonly mesh: TriMesh; readonly before: number; readonly after: number; readonly removed: number }

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
export function cutOut(mesh: TriMesh, flags: Uint8Array): TriMesh {
  let gone = flags
  for (let round = 0; round < 8; round++) {
    const kept = keepTriangles(mesh, gone.map((f) => (f ? 0 : 1)))
    const fans = cornerFans(kept.mesh, buildTopology(kept.mesh))
    if (!fans.manyFans.length) return kept.mesh
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
    if (!added) return kept.mesh
  }
  return keepTriangles(mesh, gone.map((f) => (f ? 0 : 1))).mesh
}

/**
 * @param folds also cut out folded triangles
 * @param refill fill only the gaps it made and any hole already there
 */
export function untangle(input: TriMesh, { rounds = 8, folds = false } = {}, work: Work = quiet): Untangled {
  let mesh = input
  let before = -1, removed = 0
  let best = input, bestCount = Infinity
  for (let round = 0; round < rounds; round++) {
    const part = span(work, round / rounds, (round + 1) / rounds)
    checkStop(work)
    const crossings = findSelfCrossings(mesh, span(part, 0, 0.6))
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
    const cut = cutOut(mesh, flags)
    removed += triangleCount(mesh) - triangleCount(cut)
    if (!triangleCount(cut)) break
    // Crumbs that the cut leaves behind are not worth a patch of their own.
    const clean = clearSpecks(cut, { share: 1e-3 }).mesh
    mesh = closeHoles(clean, { how: round < rounds - 3 ? 'smooth' : 'flat' }, span(part, 0.6, 1)).mesh
  }
  return { mesh: best, before, after: bestCount, removed }
}
