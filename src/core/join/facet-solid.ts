/** A mesh as an exact body of flat faces, with what may be asked of it. */
import type { ExactBody } from '@/core/bodies/body'
import { many } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { span, type Work } from '@/core/base/work'
import { solidOfFaces } from '@/core/kernels/exact/facet-solid'
import { polyhedronOf } from '@/core/mesh/polyhedron'
import { buildTopology } from '@/core/mesh/topology'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'

/** More faces than this take the exact kernel beyond all patience. */
export const mostFaces = 50_000

export interface FacetSolid {
  readonly solid: ExactBody
  /** How far corners were moved to lie in their planes, mm. */
  readonly moved: number
}

/**
 * @param angle degrees, distance mm: what counts as one plane
 * @param most faces
 * Throws StepError `not-closed`, `too-many-faces`.
 */
export async function facetSolidOf(
  name: string,
  mesh: TriMesh,
  { angle, distance, most }: { angle: number; distance: number; most: number },
  work: Work,
): Promise<FacetSolid> {
  const t = buildTopology(mesh)
  if (t.nonManifoldEdges || t.flippedEdges)
    throw new StepError(
      'not-closed',
      `"${name}" has ${t.nonManifoldEdges} non-manifold and ${t.flippedEdges} flipped edges, so it makes no solid.`,
      { where: { body: name }, tryThis: 'Run Mend all on it first.' },
    )
  work.progress(0.02, 'flat faces')
  const p = polyhedronOf(mesh, angle, distance)
  if (p.faces.length > most)
    throw new StepError(
      'too-many-faces',
      `"${name}" would have ${many(p.faces.length)} flat faces of ${many(triangleCount(mesh))} triangles; ${many(most)} are the most here.`,
      {
        where: { body: name },
        tryThis: 'Simplify it, widen what counts as one plane, or work on the mesh itself.',
      },
    )
  return { solid: await solidOfFaces(p, name, span(work, 0.1, 0.9)), moved: p.moved }
}
