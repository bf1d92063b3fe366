/** What every mending ends with: nothing is opened, nothing of size is moved. */
import { checkStop, quiet, type Work } from '@/core/base/work'
import { faceOutward } from '@/core/mesh/orient'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { removeDegenerate } from './slivers'
import { splitNonManifold } from './split-non-manifold'

/** Local clean-up that never opens anything: degenerate triangles out, split, facing. @param rims split points where holes meet too */
export function tidy(mesh: TriMesh, work: Work = quiet, rims = true): TriMesh {
  const cleared = removeDegenerate(mesh)
  checkStop(work)
  return faceOutward(splitNonManifold(cleared.mesh, { rims }).mesh, work).mesh
}
