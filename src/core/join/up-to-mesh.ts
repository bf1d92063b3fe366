/** A body that reaches only up to a mesh: what lies behind the first meeting is taken away, on triangles. */
import { StepError } from '@/core/base/step-error'
import type { Work } from '@/core/base/work'
import { isMesh, meshBody, type Body, type MeshBody } from '@/core/bodies/body'
import type { Vec3 } from '@/core/math/vec'
import { MeshSearch } from '@/core/mesh/closest'
import { buildTopology, findPieces } from '@/core/mesh/topology'
import { keepTriangles, triangleCount } from '@/core/mesh/tri-mesh'
import { joinBodies } from './boolean'

/**
 * The piece of a body in front of a mesh that a place of its start lies on.
 * @param chord of the body's facets, mm; undefined: from its size
 * Throws StepError `never-reached`, `not-closed`.
 */
export async function upToMesh(
  name: string,
  body: Body,
  targetName: string,
  target: MeshBody,
  from: Vec3,
  chord: number | undefined,
  work: Work,
): Promise<MeshBody> {
  const { body: cut } = await joinBodies(
    'difference',
    [
      { name, body },
      { name: targetName, body: target },
    ],
    { ...(chord === undefined ? {} : { chord }) },
    work,
  )
  const never = new StepError('never-reached', `The extrusion never reaches "${targetName}" with all of its outline.`, {
    where: { body: targetName },
    tryThis: 'Move the outline, or give a distance.',
  })
  if (!isMesh(cut)) throw never
  const { piece, count } = findPieces(cut.mesh, buildTopology(cut.mesh))
  const near = new MeshSearch(cut.mesh).nearest(from)
  if (count < 2 || !near) throw never
  const mine = piece[near.triangle]
  const keep = Uint8Array.from({ length: triangleCount(cut.mesh) }, (_, t) => (piece[t] === mine ? 1 : 0))
  const { mesh } = keepTriangles(cut.mesh, keep)
  const stays = (all: Uint32Array) => all.filter((_, t) => keep[t])
  return meshBody(mesh, cut.tags && { ...cut.tags, source: stays(cut.tags.source), face: stays(cut.tags.face) })
}
