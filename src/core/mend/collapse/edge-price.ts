/**
 * What it costs to collapse an edge, and to where: from the quadrics of the planes round its ends (Garland & Heckbert 1997) as the skin is now
 * (Lindstrom & Turk 1998), held to the volume.
 */
import { crossInto } from '@/core/mesh/triangle'
import type { CollapsingSkin } from './collapsing-skin'

/** Planes upright on rims and kept edges weigh this many times their neighbours'. */
const lineWeight = 30
/** Where the planes leave a direction free, the middle of the edge holds it with this share of their weight. */
const holdShare = 1e-6

export class EdgePrice {
  /** The place that the edge last priced would be collapsed to. */
  readonly best = new Float64Array(3)
  /** Of each vertex xx xy xz yy yz zz x y z 1, weighted by area. */
  private readonly quadric: Float64Array
  /** That of the edge being priced. */
  private readonly sum = new Float64Array(10)
  /** Inverse of its form, by cofactors: xx xy xz yy yz zz, to be divided by `determinant`. */
  private readonly inverse = new Float64Array(6)
  private determinant = 0
  private readonly normal = new Float64Array(3)
  private readonly middle = new Float64Array(3)

  constructor(private readonly skin: CollapsingSkin) {
    const vertices = skin.around.length
    this.quadric = new Float64Array(10 * vertices)
    for (let v = 0; v < vertices; v++) if (skin.around[v].length) this.refresh(v)
  }

  /** Makes the quadric of a vertex anew, after something round it changed. */
  refresh(v: number): void {
    const { quadric, normal: n } = this
    const { places: p, corners, around } = this.skin
    const o = 10 * v
    quadric.fill(0, o, o + 10)
    for (const t of around[v]) {
      const l = crossInto(p, corners, t, n)
      if (!(l > 0)) continue
      const nx = n[0] / l,
        ny = n[1] / l,
        nz = n[2] / l,
        a = 3 * corners[3 * t]
      this.addPlane(o, nx, ny, nz, -(nx * p[a] + ny * p[a + 1] + nz * p[a + 2]), l / 2)
    }
    for (const u of this.skin.linesAt(v)) this.addUprightPlanes(o, v, u)
  }

  /** Cost of collapsing a and b, with the place in `best`; Infinity when it may not be. */
  price(a: number, b: number): number {
    const { fixed, places: p } = this.skin
    const { best, sum, quadric: q } = this
    if (fixed[a] && fixed[b]) return Infinity
    for (let k = 0; k < 10; k++) sum[k] = q[10 * a + k] + q[10 * b + k]
    if (fixed[a] || fixed[b]) {
      const v = 3 * (fixed[a] ? a : b)
      for (let k = 0; k < 3; k++) best[k] = p[v + k]
    } else if (!this.findBest(a, b)) return Infinity
    const x = best[0],
      y = best[1],
      z = best[2]
    const cost =
      sum[0] * x * x +
      sum[3] * y * y +
      sum[5] * z * z +
      2 * (sum[1] * x * y + sum[2] * x * z + sum[4] * y * z + sum[6] * x + sum[7] * y + sum[8] * z) +
      sum[9]
    return Math.max(0, cost)
  }

  /** Leaves the cheapest place in `best`; false when no place is told by the planes. */
  private findBest(a: number, b: number): boolean {
    const { best, middle: m, sum, inverse: c } = this
    const { places: p, rim } = this.skin
    for (let k = 0; k < 3; k++) m[k] = (p[3 * a + k] + p[3 * b + k]) / 2
    // Read one by one: this is the innermost work, and taking an array apart walks an iterator.
    const xx = sum[0],
      xy = sum[1],
      xz = sum[2],
      yy = sum[3],
      yz = sum[4],
      zz = sum[5]
    const hold = holdShare * (xx + yy + zz) + 1e-30
    const m0 = xx + hold,
      m3 = yy + hold,
      m5 = zz + hold
    c[0] = m3 * m5 - yz * yz
    c[1] = xz * yz - xy * m5
    c[2] = xy * yz - xz * m3
    const det = (this.determinant = m0 * c[0] + xy * c[1] + xz * c[2])
    if (!(Math.abs(det) > 0)) return false
    c[3] = m0 * m5 - xz * xz
    c[4] = xy * xz - m0 * yz
    c[5] = m0 * m3 - xy * xy
    const rx = hold * m[0] - sum[6],
      ry = hold * m[1] - sum[7],
      rz = hold * m[2] - sum[8]
    best[0] = (c[0] * rx + c[1] * ry + c[2] * rz) / det
    best[1] = (c[1] * rx + c[3] * ry + c[4] * rz) / det
    best[2] = (c[2] * rx + c[4] * ry + c[5] * rz) / det
    if (!rim[a] && !rim[b]) this.holdVolume(a, b)
    // Where the planes say nothing the place may run off: then the middle is taken.
    const edge = (p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2
    if (!((best[0] - m[0]) ** 2 + (best[1] - m[1]) ** 2 + (best[2] - m[2]) ** 2 <= 4 * edge)) best.set(m)
    return true
  }

  /** Moves `best` to where the triangles that change enclose as much as before (Lindstrom & Turk 1998, 4.2). */
  private holdVolume(a: number, b: number): void {
    const { best, middle: m, inverse: c, determinant: det, normal: n } = this
    const { places: p, corners, around } = this.skin
    let gx = 0,
      gy = 0,
      gz = 0,
      volume = 0
    for (let side = 0; side < 2; side++)
      for (const t of around[side ? b : a]) {
        if (side && this.skin.has(t, a)) continue
        crossInto(p, corners, t, n)
        const o = 3 * corners[3 * t]
        gx += n[0]
        gy += n[1]
        gz += n[2]
        volume += n[0] * (p[o] - m[0]) + n[1] * (p[o + 1] - m[1]) + n[2] * (p[o + 2] - m[2])
      }
    const sx = (c[0] * gx + c[1] * gy + c[2] * gz) / det,
      sy = (c[1] * gx + c[3] * gy + c[4] * gz) / det,
      sz = (c[2] * gx + c[4] * gy + c[5] * gz) / det
    const along = gx * sx + gy * sy + gz * sz
    if (!(along > 0)) return
    const by = (volume - (gx * (best[0] - m[0]) + gy * (best[1] - m[1]) + gz * (best[2] - m[2]))) / along
    best[0] += by * sx
    best[1] += by * sy
    best[2] += by * sz
  }

  /** Adds planes through the line v u, upright on the triangles beside it. */
  private addUprightPlanes(o: number, v: number, u: number): void {
    const { normal: n } = this
    const { places: p, corners, around } = this.skin
    const ex = p[3 * u] - p[3 * v],
      ey = p[3 * u + 1] - p[3 * v + 1],
      ez = p[3 * u + 2] - p[3 * v + 2]
    for (const t of around[v]) {
      if (!this.skin.has(t, u)) continue
      crossInto(p, corners, t, n)
      const nx = ey * n[2] - ez * n[1],
        ny = ez * n[0] - ex * n[2],
        nz = ex * n[1] - ey * n[0]
      const l = Math.sqrt(nx * nx + ny * ny + nz * nz)
      if (!(l > 0)) continue
      const d = -(nx * p[3 * v] + ny * p[3 * v + 1] + nz * p[3 * v + 2]) / l
      this.addPlane(o, nx / l, ny / l, nz / l, d, lineWeight * (ex * ex + ey * ey + ez * ez))
    }
  }

  private addPlane(o: number, nx: number, ny: number, nz: number, d: number, w: number): void {
    const { quadric } = this
    quadric[o] += w * nx * nx
    quadric[o + 1] += w * nx * ny
    quadric[o + 2] += w * nx * nz
    quadric[o + 3] += w * ny * ny
    quadric[o + 4] += w * ny * nz
    quadric[o + 5] += w * nz * nz
    quadric[o + 6] += w * nx * d
    quadric[o + 7] += w * ny * d
    quadric[o + 8] += w * nz * d
    quadric[o + 9] += w * d * d
  }
}
