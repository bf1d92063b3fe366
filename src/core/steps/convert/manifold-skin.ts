/** What a net can be laid on: a skin whose edges have one or two triangles that face one way. */
import { plural } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { removeDegenerate } from '@/core/mend/slivers'
import { splitNonManifold } from '@/core/mend/split-non-manifold'
import { faceOutward } from '@/core/mesh/orient'
import { buildTopology } from '@/core/mesh/topology'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'

/** A mesh whose edges all have one or two triangles that face one way; what had to be done is said. Throws StepError `not-manifold`. */
export function manifoldSkin(name: string, input: TriMesh): { mesh: TriMesh; warnings: string[] } {
  const t = buildTopology(input)
  const bad = (x: typeof t) => x.nonManifoldEdges || x.sameWay.some((s) => s === 1)
  const clean = removeDegenerate(input).mesh
  const before = clean === input ? t : buildTopology(clean)
  if (!bad(before)) return { mesh: clean, warnings: [] }
  const mesh = splitNonManifold(faceOutward(clean).mesh).mesh
  if (!triangleCount(mesh) || bad(buildTopology(mesh)))
    throw new StepError('not-manifold', `"${name}" has edges of three or more triangles that do not come apart.`, {
      where: { body: name },
      tryThis: 'Mend it first: Mend all, or Reskin.',
    })
  return {
    mesh,
    warnings: [
      t.nonManifoldEdges
        ? `${plural(t.nonManifoldEdges, 'edge')} of more than two triangles came apart for the net.`
        : 'Where neighbours faced opposite ways the skin came apart for the net.',
    ],
  }
}
