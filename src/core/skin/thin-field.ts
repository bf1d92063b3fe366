/**
 * Keeps what a grid would miss: parts thinner than its steps. The skin is laid round them at a small distance, as part of the solid, and
 * drawn back on to both of their sides afterwards.
 */
import { MeshSearch } from '@/core/mesh/closest'
import { NearestInGrid } from '@/core/mesh/nearest'
import { corners, keepTriangles, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'
import { distance, normalize, type Vec3 } from '@/core/math/vec'
import { checkStop, type Work } from '@/core/base/work'
import type { Field } from './field'

/** A part is thin when its other side is nearer than this many steps. */
const thinSteps = 1.4
/** The skin is laid this many steps from thin parts: no node pattern misses it. */
export const laidSteps = 0.6

/** Where on a triangle it is looked, as shares of its corners: the middle first. */
const places = [
  [1 / 3, 1 / 3],
  [0.9, 0.05],
  [0.05, 0.9],
  [0.05, 0.05],
] as const

/** 1 for triangles whose other side, straight inward, is nearer than some steps of the grid. Triangles face outward. */
export function thinTriangles(mesh: TriMesh, step: number, work: Work): Uint8Array {
  const search = new MeshSearch(mesh)
  const out = new Uint8Array(triangleCount(mesh))
  for (let t = 0; t < out.length; t++) {
    if ((t & 4095) === 0) {
      checkStop(work)
      work.progress(t / out.length, 'looking for thin parts')
    }
    const n = normalize(crossOf(mesh, t))
    if (!n[0] && !n[1] && !n[2]) continue
    const [a, b, c] = corners(mesh, t)
    const inward: Vec3 = [-n[0], -n[1], -n[2]]
    // Large triangles may be thin towards a corner only.
    const large = Math.max(distance(a, b), distance(b, c), distance(c, a)) > step
    for (const [u, v] of large ? places : places.slice(0, 1)) {
      const w = 1 - u - v
      const from: Vec3 = [0, 1, 2].map(
        (k) => u * a[k] + v * b[k] + w * c[k] + 1e-4 * step * inward[k],
      ) as unknown as Vec3
      const hit = search.first(from, inward)
      // What it meets from behind is the other side; a wall met from the front is another part.
      if (hit && hit.distance < thinSteps * step && facesAlong(mesh, hit.triangle, inward)) {
        out[t] = 1
        break
      }
    }
  }
  return out
}

const facesAlong = (mesh: TriMesh, t: number, d: Vec3): boolean => {
  const n = crossOf(mesh, t)
  return n[0] * d[0] + n[1] * d[1] + n[2] * d[2] > 0
}

/** The field of a solid together with all that lies within `laid` of its thin parts. */
export function withThin(solid: Field, thin: TriMesh, laid: number, step: number): Field {
  const near = new NearestInGrid(thin, step)
  const fromThin = (x: number, y: number, z: number, within: number) => Math.sqrt(near.square(x, y, z, within))
  const inSolid = solid.inside!
  return {
    level: 0,
    inside: (x, y, z) => fromThin(x, y, z, laid) < laid || inSolid(x, y, z),
    distance(x, y, z, within) {
      const d = solid.distance(x, y, z, within)
      const e = fromThin(x, y, z, within + laid) - laid
      if (e < 0) return inSolid(x, y, z) ? Math.max(d === Infinity ? 0 : d, -e) : -e
      return e < d && !inSolid(x, y, z) ? e : d
    },
    slope(x, y, z, out) {
      const d = solid.distance(x, y, z, 2 * laid)
      const e = Math.abs(fromThin(x, y, z, 3 * laid) - laid)
      if (d <= e) return solid.slope(x, y, z, out)
      near.square(x, y, z)
      out[0] = x - near.x
      out[1] = y - near.y
      out[2] = z - near.z
    },
  }
}

/** The triangles that are flagged, or null when none is. */
export const flagged = (mesh: TriMesh, flags: Uint8Array): TriMesh | null =>
  flags.includes(1) ? keepTriangles(mesh, flags).mesh : null
