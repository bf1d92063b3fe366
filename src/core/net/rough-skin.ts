/** A skin brought down for a look at its net: kept while the mesh is, since a look follows every change of a setting. */
import { simplifyQuadric } from '@/core/kernels/simplifier'
import { splitLong } from '@/core/mesh/split-long'
import { buildTopology, type Topology } from '@/core/mesh/topology'
import { diagonal, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'

/** Triangles that show a net of a thousand quads as well as a million do. */
const enough = 12_000
/** Share of the size that the skin may be moved by. */
const within = 5e-4

const kept = new WeakMap<TriMesh, Promise<TriMesh>>()

/** Edges of more than this share of the size are divided, for cells to find them. */
const longest = 1 / 20

/** About 12 000 triangles of a mesh, or as many as keep within 0.05 % of its size; all of them where fewer would tear it. */
export function roughSkin(mesh: TriMesh): Promise<TriMesh> {
  let known = kept.get(mesh)
  if (!known) {
    known = broughtDown(mesh).then((few) => splitLong(few, longest * diagonal(meshBounds(mesh))))
    kept.set(mesh, known)
  }
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
