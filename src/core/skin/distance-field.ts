/** The distance field of a mesh, signed by its winding number. */
import { crossInto } from '@/core/mesh/triangle'
import { NearestInGrid, NearestPoints, type Nearest } from '@/core/mesh/nearest'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import type { Field } from './field'
import { WindingNumber } from '@/core/gauge/winding'

/**
 * Signed (or unsigned) distance less `level`, mm.
 * @param step grid step it will be sampled at: sets the cells of the search
 */
export function distanceField(
  mesh: TriMesh,
  level: number,
  { signed, step }: { signed: boolean; step: number },
): { field: Field; nearest: Nearest } {
  // Far from the skin many triangles are about as near as the nearest: there the tree looks at fewer of them.
  const nearest = Math.abs(level) > 1.2 * step ? new NearestPoints(mesh) : new NearestInGrid(mesh, step)
  const winding = signed ? new WindingNumber(mesh) : null
  const { positions: p, triangles: k } = mesh
  const field: Field = {
    level,
    inside: winding ? (x, y, z) => winding.at(x, y, z) > 0.5 : null,
    distance: (x, y, z, within) => Math.sqrt(nearest.square(x, y, z, within)),
    slope(x, y, z, out) {
      const away = Math.sqrt(nearest.square(x, y, z))
      if (level && away > 1e-9) {
        out[0] = x - nearest.x
        out[1] = y - nearest.y
        out[2] = z - nearest.z
        return
      }
      crossInto(p, k, nearest.triangle, out)
    },
  }
  return { field, nearest }
}

/** Draws a vertex to an exact distance from the mesh, away from its foot. */
export function toLevel(
  nearest: Nearest,
  level: number,
): (x: number, y: number, z: number, out: Float64Array) => boolean {
  return (x, y, z, out) => {
    const d = Math.sqrt(nearest.square(x, y, z))
    if (!(d > 1e-9)) return false
    const s = level / d
    out[0] = nearest.x + s * (x - nearest.x)
    out[1] = nearest.y + s * (y - nearest.y)
    out[2] = nearest.z + s * (z - nearest.z)
    return true
  }
}
