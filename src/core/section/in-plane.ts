/** Faces of a mesh that lie in a cutting plane: there a section is not told by the plane alone. */
import { cross, dot, sub, type Vec3 } from '@/core/math/vec'
import { diagonal, meshBounds, vertex, type TriMesh } from '@/core/mesh/tri-mesh'

/**
 * Area in mm² of the triangles whose three corners lie in the plane normal · p = offset, to a ten-millionth of the diagonal, and how much
 * more of it faces the way of the normal than the other: where that is above zero the body lies behind the plane.
 * @param normal unit vector
 */
export function facesInPlane(mesh: TriMesh, normal: Vec3, offset: number): { area: number; facing: number } {
  const tiny = 1e-7 * diagonal(meshBounds(mesh))
  const { positions: p, triangles: k } = mesh
  const [nx, ny, nz] = normal
  const on = new Uint8Array(p.length / 3)
  let any = 0
  for (let v = 0; v < on.length; v++)
    if (Math.abs(nx * p[3 * v] + ny * p[3 * v + 1] + nz * p[3 * v + 2] - offset) <= tiny) {
      on[v] = 1
      any++
    }
  let area = 0,
    facing = 0
  if (any < 3) return { area, facing }
  for (let t = 0; t < k.length; t += 3) {
    if (!on[k[t]] || !on[k[t + 1]] || !on[k[t + 2]]) continue
    const a = vertex(mesh, k[t]),
      u = sub(vertex(mesh, k[t + 1]), a),
      w = sub(vertex(mesh, k[t + 2]), a)
    const own = dot(cross(u, w), normal) / 2
    area += Math.abs(own)
    facing += own
  }
  return { area, facing }
}
