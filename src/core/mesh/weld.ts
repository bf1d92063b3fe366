/** Joins vertices that stand in the same place. */
import type { TriMesh } from './tri-mesh'
import { diagonal, meshBounds, vertexCount } from './tri-mesh'

/** Default welding distance as a share of the bounding-box diagonal. */
export const weldShare = 1e-5

const mix = (h: number) => {
  h = Math.imul(h ^ (h >>> 15), 0x2c1b3c6d)
  h = Math.imul(h ^ (h >>> 12), 0x297a2d39)
  return h ^ (h >>> 15)
}

/**
 * Gives each place one number: corners with the same bits share it, -0 counts as 0. Open addressing on the upper bits of a
 * multiplicative hash (Knuth, The Art of Computer Programming 3, 6.4), so it is linear in the number of corners.
 */
export class CornerTable {
  private bits: number
  /** Four numbers a slot: the place's number plus one (0: free), and its x y z bits beside it, so that a look costs one line of cache. */
  private table: Int32Array
  count = 0

  /** @param corners about how many will be asked for; a closed mesh has one vertex to six of them */
  constructor(corners: number) {
    this.bits = Math.max(10, Math.ceil(Math.log2(corners / 4 + 1)))
    this.table = new Int32Array(4 << this.bits)
  }

  /** The number of the place with these float bits. */
  at(x: number, y: number, z: number): number {
    if (x === -2147483648) x = 0
    if (y === -2147483648) y = 0
    if (z === -2147483648) z = 0
    const table = this.table
    let q = ((Math.imul(x, 0x9e3779b1) ^ Math.imul(y, 0x85ebca77) ^ Math.imul(z, 0xc2b2ae3d)) >>> (32 - this.bits)) << 2
    for (;;) {
      const id = table[q]
      if (id === 0) return this.fresh(q, x, y, z)
      if (table[q + 1] === x && table[q + 2] === y && table[q + 3] === z) return id - 1
      q = (q + 4) & (table.length - 1)
    }
  }

  private fresh(q: number, x: number, y: number, z: number): number {
    const id = ++this.count
    this.table[q] = id
    this.table[q + 1] = x
    this.table[q + 2] = y
    this.table[q + 3] = z
    if (id * 16 > 3 * this.table.length) this.widen() // three quarters full
    return id - 1
  }

  private widen(): void {
    const old = this.table
    this.bits++
    const table = (this.table = new Int32Array(4 << this.bits))
    for (let o = 0; o < old.length; o += 4) {
      if (!old[o]) continue
      let q =
        ((Math.imul(old[o + 1], 0x9e3779b1) ^ Math.imul(old[o + 2], 0x85ebca77) ^ Math.imul(old[o + 3], 0xc2b2ae3d)) >>>
          (32 - this.bits)) <<
        2
      while (table[q]) q = (q + 4) & (table.length - 1)
      for (let i = 0; i < 4; i++) table[q + i] = old[o + i]
    }
  }

  /** x y z of each place, in the order they first came. */
  positions(): Float32Array {
    const out = new Int32Array(3 * this.count)
    const table = this.table
    for (let q = 0; q < table.length; q += 4) {
      if (!table[q]) continue
      const o = 3 * (table[q] - 1)
      out[o] = table[q + 1]
      out[o + 1] = table[q + 2]
      out[o + 2] = table[q + 3]
    }
    return new Float32Array(out.buffer)
  }
}

/** Joins bit-equal corners of a soup (x y z per corner, three corners per triangle) into a mesh. */
export function weldSoup(soup: Float32Array): TriMesh {
  const corners = soup.length / 3
  const bits = new Int32Array(soup.buffer, soup.byteOffset, soup.length)
  const table = new CornerTable(corners)
  const triangles = new Uint32Array(corners)
  for (let i = 0; i < corners; i++) triangles[i] = table.at(bits[3 * i], bits[3 * i + 1], bits[3 * i + 2])
  return { positions: table.positions(), triangles }
}

export interface Welded {
  readonly mesh: TriMesh
  /** For each old vertex its new number. */
  readonly map: Uint32Array
  readonly joined: number
}

/** Triangles with other numbers for their corners; those that have a corner twice then are gone. */
function mapped(triangles: Uint32Array, map: Uint32Array): Uint32Array {
  const out = new Uint32Array(triangles.length)
  let o = 0
  for (let t = 0; t < triangles.length; t += 3) {
    const a = map[triangles[t]],
      b = map[triangles[t + 1]],
      c = map[triangles[t + 2]]
    if (a === b || b === c || a === c) continue
    out[o++] = a
    out[o++] = b
    out[o++] = c
  }
  return out.slice(0, o)
}

/**
 * Joins vertices closer than `within` mm (default 1e-5 of the diagonal) by a spatial hash of cells sixteen times that wide; the first
 * of a group keeps its place. Triangles that lose a corner that way are dropped.
 */
export function weldMesh(mesh: TriMesh, within = weldShare * diagonal(meshBounds(mesh))): Welded {
  const n = vertexCount(mesh)
  const p = mesh.positions
  const cell = Math.max(16 * within, 1e-30)
  const { min } = meshBounds(mesh)
  let capacity = 1024
  while (capacity < 2 * n) capacity *= 2
  const mask = capacity - 1
  const head = new Int32Array(capacity).fill(-1)
  const next = new Int32Array(n).fill(-1)
  const map = new Uint32Array(n)
  const key = (i: number, j: number, k: number) =>
    mix(Math.imul(i | 0, 0x9e3779b1) ^ Math.imul(j | 0, 0x85ebca77) ^ Math.imul(k | 0, 0xc2b2ae3d)) & mask
  const limit = within * within
  /** Share of a cell within reach of its wall; a little more than 1/16 against rounding. */
  const edge = 0.0626
  const kept: number[] = []
  for (let v = 0; v < n; v++) {
    const x = p[3 * v],
      y = p[3 * v + 1],
      z = p[3 * v + 2]
    const fx = (x - min[0]) / cell,
      fy = (y - min[1]) / cell,
      fz = (z - min[2]) / cell
    const i = Math.floor(fx),
      j = Math.floor(fy),
      k = Math.floor(fz)
    // Only near a cell's wall can the cell beyond hold a partner.
    const di = fx - i < edge ? -1 : fx - i > 1 - edge ? 1 : 0,
      dj = fy - j < edge ? -1 : fy - j > 1 - edge ? 1 : 0,
      dk = fz - k < edge ? -1 : fz - k > 1 - edge ? 1 : 0
    let found = -1
    for (let c = 0; c < 8 && found < 0; c++) {
      if ((c & 1 && !di) || (c & 2 && !dj) || (c & 4 && !dk)) continue
      for (let u = head[key(i + (c & 1 ? di : 0), j + (c & 2 ? dj : 0), k + (c & 4 ? dk : 0))]; u >= 0; u = next[u]) {
        const dx = p[3 * u] - x,
          dy = p[3 * u + 1] - y,
          dz = p[3 * u + 2] - z
        if (dx * dx + dy * dy + dz * dz <= limit) {
          found = u
          break
        }
      }
    }
    if (found >= 0) map[v] = map[found]
    else {
      map[v] = kept.length
      kept.push(v)
      const h = key(i, j, k)
      next[v] = head[h]
      head[h] = v
    }
  }
  const positions = new Float32Array(3 * kept.length)
  kept.forEach((v, i) => positions.set(p.subarray(3 * v, 3 * v + 3), 3 * i))
  return { mesh: { positions, triangles: mapped(mesh.triangles, map) }, map, joined: n - kept.length }
}
