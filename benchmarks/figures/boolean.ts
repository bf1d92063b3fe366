import { joinBodies } from '@/core/join/boolean'
import { meshBody } from '@/core/bodies/body'
import { manifoldKernel } from '@/core/kernels/manifold'
import { translation } from '@/core/math/affine'
import { transformMesh, type TriMesh } from '@/core/mesh/tri-mesh'
import { quiet } from '@/core/base/work'
import { gripShape } from '@/core/scan/shapes'
import { pair } from '../measure'

/** Union of two bodies of 200 000 triangles through our step, against the library called bare. */
export async function boolean() {
  const a = gripShape(500, 200),
    b = transformMesh(a, translation([9, 7, 5]))
  const { Manifold, Mesh } = await manifoldKernel()
  const bare = (m: TriMesh) =>
    new Manifold(new Mesh({ numProp: 3, vertProperties: m.positions, triVerts: m.triangles }))
  return {
    bar: 1.15,
    ...(await pair(
      () =>
        joinBodies(
          'union',
          [
            { name: 'a', body: meshBody(a) },
            { name: 'b', body: meshBody(b) },
          ],
          {},
          quiet,
        ),
      () => {
        const p = bare(a),
          q = bare(b),
          r = p.add(q)
        r.getMesh()
        for (const m of [p, q, r]) m.delete()
      },
    )),
  }
}
