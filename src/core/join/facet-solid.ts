/** A mesh as an exact body of flat faces, with what may be asked of it. */
import type { ExactBody } from '@/core/bodies/body'
import { many } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { span, type Work } from '@/core/base/work'
import { solidOfFaces } from '@/core/kernels/exact/facet-solid'
import { add, dot, normalize, type Vec3 } from '@/core/math/vec'
import { polyhedronOf } from '@/core/mesh/polyhedron'
import { buildTopology, type Topology } from '@/core/mesh/topology'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf, middleOf } from '@/core/mesh/triangle'

/** More faces than this take the exact kernel beyond all patience. */
export const mostFaces = 50_000

export interface FacetSolid {
  readonly solid: ExactBody
  /** How far corners were moved to lie in their planes, mm. */
  readonly moved: number
}

/** Throws StepError `not-closed` where edges of a mesh would spoil any exact body of it. */
export function requireManifold(name: string, t: Topology): void {
  if (t.nonManifoldEdges || t.flippedEdges)
    throw new StepError(
      'not-closed',
      `"${name}" has ${t.nonManifoldEdges} non-manifold and ${t.flippedEdges} flipped edges, so it makes no solid.`,
      { where: { body: name }, tryThis: 'Run Mend all on it first.' },
    )
}

/** Throws StepError `not-flat` where triangles that are to be one plane face away from it: an area that goes round has no plane. */
function requireFlat(name: string, mesh: TriMesh, told: readonly (readonly number[])[]): void {
  for (const list of told) {
    const crosses = list.map((t) => crossOf(mesh, t))
    const normal = normalize(crosses.reduce<Vec3>(add, [0, 0, 0]))
    const away = crosses.filter((c) => dot(c, normal) <= 0).length
    if (away)
      throw new StepError(
        'not-flat',
        `An area of "${name}" that is to be one plane goes round: ${many(away)} of its ${many(list.length)} triangles face away from that plane.`,
        { where: { body: name, point: middleOf(mesh, list[0]) }, tryThis: 'Pick areas that are nearly flat.' },
      )
  }
}

/**
 * @param angle degrees, distance mm: what counts as one plane
 * @param most faces
 * @param told triangles of each of some faces that are to be one plane
 * Throws StepError `not-closed`, `not-flat`, `too-many-faces`.
 */
export async function facetSolidOf(
  name: string,
  mesh: TriMesh,
  { angle, distance, most, told }: { angle: number; distance: number; most: number; told?: readonly number[][] },
  work: Work,
): Promise<FacetSolid> {
  requireManifold(name, buildTopology(mesh))
  requireFlat(name, mesh, told ?? [])
  work.progress(0.02, 'flat faces')
  const p = polyhedronOf(mesh, angle, distance, told)
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
