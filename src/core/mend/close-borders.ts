/** Closes the borders of open sheets, where that is wanted. */
import { checkStop, type Work } from '@/core/base/work'
import { triangleOf } from '@/core/mesh/topology'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { closeHoles } from './close-holes'
import { plinth } from './plinth'
import { survey } from './survey'

/** Closes the borders of sheets: straight across where nothing stands in the way, else with walls down to a base. */
export function closeBorders(input: TriMesh, fill: 'flat' | 'smooth', work: Work): TriMesh {
  let mesh = input
  for (let guard = 0; guard < 200; guard++) {
    checkStop(work)
    const s = survey(mesh)
    const r = s.border.indexOf(1)
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
