/** Closes the borders of open sheets, where that is wanted. */
import { checkStop, type Work } from '@/core/base/work'
import { triangleOf, type Rim } from '@/core/mesh/topology'
import { vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import type { Vec3 } from '@/core/math/vec'
import { bordersAt } from './borders'
import { closeHoles } from './close-holes'
import { plinth } from './plinth'
import { survey, type Survey } from './survey'

/**
 * Closes the borders of sheets, all or those that places mean: straight across where nothing stands in the way, else with walls down to a
 * base.
 */
export function closeBorders(
  input: TriMesh,
  fill: 'flat' | 'smooth',
  work: Work,
  places: readonly Vec3[] | null = null,
): TriMesh {
  let mesh = input
  const all = survey(input)
  // Told once: where one is closed, its place would mean its neighbour. Corners stay where they are while others are closed.
  const key = (s: Survey, rim: Rim) => vertex(s.mesh, rim.vertices[0]).join()
  const meant = places && new Set([...bordersAt(all, places)].map((rim) => key(all, rim)))
  for (let guard = 0; guard < 200; guard++) {
    checkStop(work)
    const s = survey(mesh)
    const r = s.rims.findIndex(
      (rim, i) => s.border[i] && (!meant || rim.vertices.some((v) => meant.has(vertex(s.mesh, v).join()))),
    )
    if (r < 0) break
    const rim = s.rims[r],
      piece = s.piece[triangleOf(rim.halfEdges[0])]
    const across = closeHoles(mesh, { how: fill, accept: (other) => other.halfEdges[0] === rim.halfEdges[0] }, work)
    const next = across.closed && !across.crossing ? across.mesh : plinth(mesh, rim, (t) => s.piece[t] === piece)
    // Neither way: it stays open, and so do those after it.
    if (!next) break
    mesh = next
  }
  return mesh
}
