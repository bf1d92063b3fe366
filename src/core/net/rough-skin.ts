/** A skin brought down for a look at its net: kept while the mesh is, since a look follows every change of a setting. */
import { simplifyQuadric } from '@/core/kernels/simplifier'
import { buildTopology, type Topology } from '@/core/mesh/topology'
import { diagonal, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'

/** Triangles that show a net of a thousand quads as well as a million do. */
const enough = 12_000
/** Share of the size that the skin may be moved by. */
const within = 5e-4

const kept = new WeakMap<TriMesh, Promise<TriMesh>>()

/** About 12 000 triangles of a mesh, or as many as keep within 0.05 % of its size; the mesh itself where fewer would tear it. */
export function roughSkin(mesh: TriMesh): Promise<TriMesh> {
  let known = kept.get(mesh)
  if (!known) kept.set(mesh, (known = broughtDown(mesh)))
  return known
}

async function broughtDown(mesh: TriMesh): Promise<TriMesh> {
  const error = within * diagonal(meshBounds(mesh))
  const then = buildTopology(mesh)
  const bad = (t: Topology) => t.nonManifoldEdges > 0 || t.sameWay.some((w) => w === 1)
  for (let triangles = enough; triangles < triangleCount(mesh); triangles *= 2) {
    const few = (await simplifyQuadric(mesh, { triangles, error, lockRims: true })).mesh
    const now = buildTopology(few)
    if (now.openEdges <= then.openEdges && (!bad(now) || bad(then))) return few
  }
  return mesh
}
