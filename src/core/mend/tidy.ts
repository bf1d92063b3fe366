/** What every mending ends with: nothing is opened, nothing of size is moved. */
import { checkStop, quiet, type Work } from '@/core/base/work'
import { faceOutward } from '@/core/mesh/orient'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { removeDegenerate } from './slivers'
import { splitNonManifold } from './split-non-manifold'

/** Triangles without area out, skins split where they hang together wrongly. @param rims split points where holes meet too */
export const cleanUp = (mesh: TriMesh, rims = true): TriMesh =>
  splitNonManifold(removeDegenerate(mesh).mesh, { rims }).mesh

/** The same, with every piece facing outward. */
export function tidy(mesh: TriMesh, work: Work = quiet): TriMesh {
  const clean = cleanUp(mesh)
  checkStop(work)
  return faceOutward(clean, work).mesh
}
