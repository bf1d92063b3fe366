/** The exact face that triangles of a mesh came from: a bore cut by an exact cylinder still knows its axis and diameter. */
import { isMesh, type Body, type FacePart, type SourceTags } from '@/core/bodies/body'
import type { Vec3 } from '@/core/math/vec'
import { MeshSearch } from '@/core/mesh/closest'
import type { TriMesh } from '@/core/mesh/tri-mesh'

const searches = new WeakMap<TriMesh, MeshSearch>()
const searchOf = (mesh: TriMesh): MeshSearch => {
  let s = searches.get(mesh)
  if (!s) searches.set(mesh, (s = new MeshSearch(mesh)))
  return s
}

/** What a body of triangles knows of the faces they are of. */
export const tagsIn = (body: Body): SourceTags | undefined => (isMesh(body) ? body.tags : undefined)

/** The exact face a triangle lies on; null where it came from no exact body. */
export function exactFaceOf(body: Body, triangle: number): FacePart | null {
  if (!isMesh(body) || !body.tags?.exact) return null
  const { source, face, exact } = body.tags
  return exact[source[triangle]]?.[face[triangle]] ?? null
}

/** The exact face nearest to a place on a mesh, mm; null where the skin there came from no exact body. */
export function exactFaceAt(body: Body, at: Vec3): FacePart | null {
  if (!isMesh(body) || !body.tags?.exact) return null
  const near = searchOf(body.mesh).nearest(at)
  return near ? exactFaceOf(body, near.triangle) : null
}

/** All triangles that lie on the same exact face as one of them. */
export function trianglesOnFace(body: Body, triangle: number): number[] {
  if (!isMesh(body) || !exactFaceOf(body, triangle)) return []
  const { source, face } = body.tags!
  const out: number[] = []
  for (let t = 0; t < source.length; t++) if (source[t] === source[triangle] && face[t] === face[triangle]) out.push(t)
  return out
}
