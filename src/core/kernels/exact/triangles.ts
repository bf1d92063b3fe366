/** Triangles of an exact body as one welded mesh. */
import type { ExactBody } from '@/core/bodies/body'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { weldMesh } from '@/core/mesh/weld'
import { facet } from './facet'
import { withKernel } from './scope'
import { shapeOf } from './shape-cache'

/** Facets of an exact body within a chord tolerance (mm), closed where the body is, with the exact face of each triangle. */
export const facetSolid = (body: ExactBody, tolerance: number): Promise<{ mesh: TriMesh; face: Uint32Array }> =>
  withKernel('Faceting', (oc) => {
    const shape = shapeOf(oc, body)
    // The shape is shared: facets of another tolerance must not be found here, nor left behind.
    oc.BRepTools.Clean(shape, true)
    const d = facet(oc, shape, tolerance)
    oc.BRepTools.Clean(shape, true)
    // Each face brings its own corners; they meet to the last digits along the edges.
    const within = 1e-6 * Math.max(1, Math.hypot(...body.facts.size))
    const { mesh, map } = weldMesh({ positions: d.positions, triangles: d.triangles }, within)
    const face = new Uint32Array(mesh.triangles.length / 3)
    let o = 0
    for (let t = 0; t < d.face.length; t++) {
      const a = map[d.triangles[3 * t]],
        b = map[d.triangles[3 * t + 1]],
        c = map[d.triangles[3 * t + 2]]
      if (a !== b && b !== c && a !== c) face[o++] = d.face[t]
    }
    return { mesh, face }
  })
