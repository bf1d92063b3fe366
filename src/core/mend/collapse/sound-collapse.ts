/** Whether an edge may be collapsed: the ring stays a ring, and no triangle turns over or goes flat. */
import { nextIn } from '@/core/mesh/topology'
import type { CollapsingSkin } from './collapsing-skin'

/** No triangle may turn by more than this, cosine. */
const mostTurn = 0.3
/** Nor become thinner than this times what its corner saw before: area over squared longest edge. */
const thinnest = 0.02

export class SoundCollapse {
  /** The round in which each vertex was last met. */
  private readonly met: Int32Array
  private round = 0

  constructor(private readonly skin: CollapsingSkin) {
    this.met = new Int32Array(skin.around.length)
  }

  /** Whether a and b may become one at a place. */
  allows(a: number, b: number, at: Float64Array): boolean {
    return this.keepsRing(a, b) && this.keepsTriangles(a, b, at) && this.keepsTriangles(b, a, at)
  }

  /** The link condition (Dey et al. 1999): the ends share as many neighbours as triangles. */
  private keepsRing(a: number, b: number): boolean {
    const { met, skin } = this
    const { around, corners, rim } = skin
    const round = ++this.round
    for (const t of around[a]) for (let c = 0; c < 3; c++) met[corners[3 * t + c]] = round
    let shared = 0
    const common = new Set<number>()
    for (const t of around[b]) {
      if (skin.has(t, a)) shared++
      for (let c = 0; c < 3; c++) {
        const v = corners[3 * t + c]
        if (v !== a && v !== b && met[v] === round) common.add(v)
      }
    }
    if (shared < 1 || shared > 2 || common.size !== shared) return false
    if (rim[a] && rim[b] && shared !== 1) return false
    // The last triangles of a piece would go flat: a tetrahedron stays.
    return shared !== 2 || around[a].length + around[b].length - 2 * shared >= 3
  }

  /** Whether the triangles round `from` bear that it moves, those apart that `other` has too. */
  private keepsTriangles(from: number, other: number, at: Float64Array): boolean {
    const { places: p, corners, around } = this.skin
    const x = at[0],
      y = at[1],
      z = at[2]
    for (const t of around[from]) {
      const i = corners[3 * t] === from ? 3 * t : corners[3 * t + 1] === from ? 3 * t + 1 : 3 * t + 2
      const u = corners[nextIn(i)],
        w = corners[nextIn(nextIn(i))]
      if (u === other || w === other) continue
      const ux = p[3 * u],
        uy = p[3 * u + 1],
        uz = p[3 * u + 2]
      // From u: the third corner, the old place and the new one; and the normals before and after.
      const wx = p[3 * w] - ux,
        wy = p[3 * w + 1] - uy,
        wz = p[3 * w + 2] - uz
      const ox = p[3 * from] - ux,
        oy = p[3 * from + 1] - uy,
        oz = p[3 * from + 2] - uz
      const qx = x - ux,
        qy = y - uy,
        qz = z - uz
      const ax = wy * oz - wz * oy,
        ay = wz * ox - wx * oz,
        az = wx * oy - wy * ox
      const bx = wy * qz - wz * qy,
        by = wz * qx - wx * qz,
        bz = wx * qy - wy * qx
      const la = Math.sqrt(ax * ax + ay * ay + az * az),
        lb = Math.sqrt(bx * bx + by * by + bz * bz)
      if (!(lb > 0)) return false
      if (la > 0 && ax * bx + ay * by + az * bz < mostTurn * la * lb) return false
      const base = wx * wx + wy * wy + wz * wz
      const far = Math.max(base, qx * qx + qy * qy + qz * qz, (qx - wx) ** 2 + (qy - wy) ** 2 + (qz - wz) ** 2)
      const before = Math.max(base, ox * ox + oy * oy + oz * oz, (ox - wx) ** 2 + (oy - wy) ** 2 + (oz - wz) ** 2)
      if (lb < thinnest * far && lb / far < 0.5 * (la / before)) return false
    }
    return true
  }
}
