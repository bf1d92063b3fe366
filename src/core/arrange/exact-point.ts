/**
 * Points and planes without rounding. A point is held as whole numbers x, y, z over a common w, so that where triangles meet is known
 * exactly and equal points are one, however they were made (homogeneous coordinates; indirect points of Attene 2020, here in whole numbers).
 */
import { orient2d } from 'robust-predicates'

/** Normal and offset of a plane in whole numbers: n . p = d. */
export interface Plane {
  readonly x: bigint
  readonly y: bigint
  readonly z: bigint
  readonly d: bigint
}

/** Binary places kept below the grid of the input when points are told apart quickly. */
const places = 24n
const placesShare = 2 ** -24

/** The power of two that makes every one of these single-precision numbers whole. */
function wholeShift(p: Float32Array, used: Uint8Array): number {
  const bits = new Uint32Array(p.buffer, p.byteOffset, p.length)
  let low = 0
  for (let i = 0; i < p.length; i++) {
    if (!used[(i / 3) | 0] || p[i] === 0) continue
    const exponent = (bits[i] >>> 23) & 255
    const mantissa = (bits[i] & 0x7fffff) | (exponent ? 0x800000 : 0)
    const lowest = (exponent || 1) - 150 + (31 - Math.clz32(mantissa & -mantissa))
    if (lowest < low) low = lowest
  }
  return -low
}

/** All points of an arrangement by number: the mesh's vertices keep theirs, made ones follow. Equal points have one number. */
export class PointTable {
  private readonly x: bigint[] = []
  private readonly y: bigint[] = []
  private readonly z: bigint[] = []
  private readonly w: bigint[] = []
  /** Rounded coordinates, in units of the whole-number grid. */
  private near: Float64Array
  private slots = new Int32Array(1 << 14).fill(-1)
  private filled = 0
  private readonly scale: number
  private count: number
  private most = 0
  private readonly hash = new Float64Array(3)
  private readonly hashBits = new Uint32Array(this.hash.buffer)

  /** @param used 1 for vertices that may take part; only those are held to the grid */
  constructor(
    private readonly positions: Float32Array,
    used: Uint8Array,
  ) {
    this.scale = 2 ** wholeShift(positions, used)
    this.count = positions.length / 3
    this.near = new Float64Array(Math.max(3072, positions.length + (positions.length >> 1)))
    for (let v = 0; v < this.count; v++) if (used[v]) this.enter(v)
  }

  private enter(v: number): void {
    const { positions: p, scale } = this
    this.x[v] = BigInt(p[3 * v] * scale)
    this.y[v] = BigInt(p[3 * v + 1] * scale)
    this.z[v] = BigInt(p[3 * v + 2] * scale)
    this.w[v] = 1n
    for (let a = 0; a < 3; a++) {
      // Adding zero makes the two zeros one.
      this.near[3 * v + a] = p[3 * v + a] * scale + 0
      this.most = Math.max(this.most, Math.abs(this.near[3 * v + a]))
    }
    this.file(v)
  }

  private startOf(v: number): number {
    this.hash.set(this.near.subarray(3 * v, 3 * v + 3))
    let h = 0
    for (const b of this.hashBits) {
      h = Math.imul(h ^ b, 0x9e3779b1)
      h ^= h >>> 15
    }
    return h & (this.slots.length - 1)
  }

  private same(a: number, b: number): boolean {
    for (let k = 0; k < 3; k++) if (this.near[3 * a + k] !== this.near[3 * b + k]) return false
    const u = this.w[a],
      v = this.w[b]
    if (u === 1n && v === 1n) return true
    return this.x[a] * v === this.x[b] * u && this.y[a] * v === this.y[b] * u && this.z[a] * v === this.z[b] * u
  }

  /** Files point v; gives the number of an equal one that was there, or v. */
  private file(v: number): number {
    if (2 * this.filled > this.slots.length) {
      const old = this.slots
      this.slots = new Int32Array(2 * old.length).fill(-1)
      for (const u of old) {
        if (u < 0) continue
        let at = this.startOf(u)
        while (this.slots[at] >= 0) at = (at + 1) & (this.slots.length - 1)
        this.slots[at] = u
      }
    }
    const at = this.slotOf(v)
    if (this.slots[at] >= 0) return this.slots[at]
    this.slots[at] = v
    this.filled++
    return v
  }

  /** Where the point equal to v is filed, or would be. */
  private slotOf(v: number): number {
    let at = this.startOf(v)
    while (this.slots[at] >= 0 && !this.same(this.slots[at], v)) at = (at + 1) & (this.slots.length - 1)
    return at
  }

  /** The number that stands for vertex v: that of the first vertex at its place. */
  standsFor(v: number): number {
    const at = this.slots[this.slotOf(v)]
    return at >= 0 ? at : v
  }

  /** The point (x, y, z) / w. */
  private made(x: bigint, y: bigint, z: bigint, w: bigint): number {
    if (w < 0n) {
      x = -x
      y = -y
      z = -z
      w = -w
    }
    const v = this.count
    if (3 * v + 3 > this.near.length) {
      const wider = new Float64Array(2 * this.near.length)
      wider.set(this.near)
      this.near = wider
    }
    this.near[3 * v] = Number((x << places) / w) * placesShare
    this.near[3 * v + 1] = Number((y << places) / w) * placesShare
    this.near[3 * v + 2] = Number((z << places) / w) * placesShare
    this.x[v] = x
    this.y[v] = y
    this.z[v] = z
    this.w[v] = w
    const at = this.file(v)
    if (at === v) this.count++
    return at
  }

  /** The plane through three vertices, facing the side from which they run counter-clockwise. */
  planeOf(a: number, b: number, c: number): Plane {
    const ux = this.x[b] - this.x[a],
      uy = this.y[b] - this.y[a],
      uz = this.z[b] - this.z[a],
      vx = this.x[c] - this.x[a],
      vy = this.y[c] - this.y[a],
      vz = this.z[c] - this.z[a]
    const x = uy * vz - uz * vy,
      y = uz * vx - ux * vz,
      z = ux * vy - uy * vx
    return { x, y, z, d: x * this.x[a] + y * this.y[a] + z * this.z[a] }
  }

  /** The plane through two vertices along coordinate axis `axis`. */
  planeAlong(a: number, b: number, axis: number): Plane {
    const ux = this.x[b] - this.x[a],
      uy = this.y[b] - this.y[a],
      uz = this.z[b] - this.z[a]
    const x = axis === 1 ? -uz : axis === 2 ? uy : 0n,
      y = axis === 0 ? uz : axis === 2 ? -ux : 0n,
      z = axis === 0 ? -uy : axis === 1 ? ux : 0n
    return { x, y, z, d: x * this.x[a] + y * this.y[a] + z * this.z[a] }
  }

  /** Where the line through two vertices passes through a plane it is not parallel to. */
  onLine(u: number, v: number, plane: Plane): number {
    const dx = this.x[v] - this.x[u],
      dy = this.y[v] - this.y[u],
      dz = this.z[v] - this.z[u]
    const w = plane.x * dx + plane.y * dy + plane.z * dz
    const t = plane.d - (plane.x * this.x[u] + plane.y * this.y[u] + plane.z * this.z[u])
    return this.made(this.x[u] * w + t * dx, this.y[u] * w + t * dy, this.z[u] * w + t * dz, w)
  }

  /** Where three planes meet (Cramer's rule). */
  onPlanes(a: Plane, b: Plane, c: Plane): number {
    const bcx = b.y * c.z - b.z * c.y,
      bcy = b.z * c.x - b.x * c.z,
      bcz = b.x * c.y - b.y * c.x,
      cax = c.y * a.z - c.z * a.y,
      cay = c.z * a.x - c.x * a.z,
      caz = c.x * a.y - c.y * a.x,
      abx = a.y * b.z - a.z * b.y,
      aby = a.z * b.x - a.x * b.z,
      abz = a.x * b.y - a.y * b.x
    return this.made(
      a.d * bcx + b.d * cax + c.d * abx,
      a.d * bcy + b.d * cay + c.d * aby,
      a.d * bcz + b.d * caz + c.d * abz,
      a.x * bcx + a.y * bcy + a.z * bcz,
    )
  }

  /** How many numbers there are. */
  get size(): number {
    return this.count
  }

  isVertex = (v: number): boolean => 3 * v < this.positions.length

  /** Rounded coordinate in grid units: off by less than a 2^23rd of the grid and two roundings. */
  coordinate = (v: number, axis: number): number => this.near[3 * v + axis]

  /** Coordinate in mm, rounded to double precision. */
  millimetres = (v: number, axis: number): number => this.near[3 * v + axis] / this.scale

  /** Sign of the turn p, q, r seen with coordinate i to the right and j up; exact. */
  turn(p: number, q: number, r: number, i: number, j: number): number {
    const n = this.near
    const rx = n[3 * r + i],
      ry = n[3 * r + j]
    const ax = n[3 * p + i] - rx,
      ay = n[3 * p + j] - ry,
      bx = n[3 * q + i] - rx,
      by = n[3 * q + j] - ry
    const det = ax * by - ay * bx
    const e = 2 * placesShare + this.most * 4.5e-16
    const bound =
      e * (Math.abs(ax) + Math.abs(ay) + Math.abs(bx) + Math.abs(by) + 2 * e) +
      1e-15 * (Math.abs(ax * by) + Math.abs(ay * bx))
    if (det > bound) return 1
    if (det < -bound) return -1
    if (this.isVertex(p) && this.isVertex(q) && this.isVertex(r)) {
      const s = this.positions
      // The library counts clockwise as positive.
      return -Math.sign(orient2d(s[3 * p + i], s[3 * p + j], s[3 * q + i], s[3 * q + j], s[3 * r + i], s[3 * r + j]))
    }
    const ci = i === 0 ? this.x : i === 1 ? this.y : this.z,
      cj = j === 0 ? this.x : j === 1 ? this.y : this.z
    const { w } = this
    const exact =
      ci[p] * (cj[q] * w[r] - cj[r] * w[q]) -
      cj[p] * (ci[q] * w[r] - ci[r] * w[q]) +
      w[p] * (ci[q] * cj[r] - cj[q] * ci[r])
    return exact > 0n ? 1 : exact < 0n ? -1 : 0
  }

  /** Sign of a's coordinate less b's; exact. */
  compare(a: number, b: number, axis: number): number {
    const d = this.near[3 * a + axis] - this.near[3 * b + axis]
    const e = 4 * placesShare + this.most * 9e-16
    if (d > e) return 1
    if (d < -e) return -1
    const c = axis === 0 ? this.x : axis === 1 ? this.y : this.z
    const l = c[a] * this.w[b],
      r = c[b] * this.w[a]
    return l > r ? 1 : l < r ? -1 : 0
  }

  /** How far rounded coordinates may be off, in grid units. */
  get slack(): number {
    return 4 * placesShare + this.most * 9e-16
  }
}
