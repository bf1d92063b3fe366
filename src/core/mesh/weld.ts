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
 * Joins bit-equal corners of a soup (x y z per corner, three corners per triangle) into a mesh.
 * Open-addressing hash on the bits; -0 counts as 0. Linear in the number of corners.
 */
export function weldSoup(soup: Float32Array): TriMesh {
  const corners = soup.length / 3
  const bits = new Int32Array(soup.buffer, soup.byteOffset, soup.length)
  for (let i = 0; i < bits.length; i++) if (bits[i] === -2147483648) bits[i] = 0
  let capacity = 1024
  while (capacity < corners * 0.8) capacity *= 2
  let mask = capacity - 1
  let table = new Int32Array(capacity)
  const unique = new Int32Array(soup.length)
  const triangles = new Uint32Array(corners)
  let count = 0
  for (let i = 0; i < corners; i++) {
    const x = bits[3 * i], y = bits[3 * i + 1], z = bits[3 * i + 2]
    let slot = mix(Math.imul(x, 0x9e3779b1) ^ Math.imul(y, 0x85ebca77) ^ Math.imul(z, 0xc2b2ae3d)) & mask
    for (;;) {
      const id = table[slot] - 1
      if (id < 0) {
        unique[3 * count] = x
        unique[3 * count + 1] = y
        unique[3 * count + 2] = z
        triangles[i] = count++
        table[slot] = count
        if (count * 2 > capacity) {
          capacity *= 2
          mask = capacity - 1
          table = new Int32Array(capacity)
          for (let v = 0; v < count; v++) {
            let s = mix(Math.imul(unique[3 * v], 0x9e3779b1) ^ Math.imul(unique[3 * v + 1], 0x85ebca77) ^ Math.imul(unique[3 * v + 2], 0xc2b2ae3d)) & mask
            while (table[s]) s = (s + 1) & mask
            table[s] = v + 1
          }
        }
        break
      }
      const o = 3 * id
      if (unique[o] === x && unique[o + 1] === y && unique[o + 2] === z) {
        triangles[i] = id
        break
      }
      slot = (slot + 1) & mask
    }
  }
  return { positions: new Float32Array(unique.buffer.slice(0, 12 * count)), triangles }
}

export interface Welded {
  readonly mesh: TriMesh
  /** For each old vertex its new number. */
  readonly map: Uint32Array
  readonly joined: number
}

/**
 * Joins vertices closer than `within` mm (default 1e-5 of the diagonal) by a spatial hash of cells twice that wide; the first
 * of a group keeps its place. Triangles that lose a corner that way are dropped.
 */
export function weldMesh(mesh: TriMesh, within = weldShare * diagonal(meshBounds(mesh))): Welded {
  const n = vertexCount(mesh)
  const p = mesh.positions
  const cell = Math.max(2 * within, 1e-30)
  const { min } = meshBounds(mesh)
  let capacity = 1024
  while (capacity < 2 * n) capacity *= 2
  const mask = capacity - 1
  const head = new Int32Array(capacity).fill(-1)
  const next = new Int32Array(n).fill(-1)
  const map = new Uint32Array(n)
  const key = (i: number, j: number, k: number) => mix(Math.imul(i | 0, 0x9e3779b1) ^ Math.imul(j | 0, 0x85ebca77) ^ Math.imul(k | 0, 0xc2b2ae3d)) & mask
  const limit = within * within
  const kept: number[] = []
  for (let v = 0; v < n; v++) {
    const x = p[3 * v], y = p[3 * v + 1], z = p[3 * v + 2]
    const fx = (x - min[0]) / cell, fy = (y - min[1]) / cell, fz = (z - min[2]) / cell
    const i = Math.floor(fx), j = Math.floor(fy), k = Math.floor(fz)
    // A cell is twice the distance wide, so only the nearer neighbour on each axis can hold a partner.
    const di = fx - i < 0.5 ? -1 : 1, dj = fy - j < 0.5 ? -1 : 1, dk = fz - k < 0.5 ? -1 : 1
    let found = -1
    for (let c = 0; c < 8 && found < 0; c++) {
      for (let u = head[key(i + (c & 1 ? di : 0), j + (c & 2 ? dj : 0), k + (c & 4 ? dk : 0))]; u >= 0; u = next[u]) {
        const dx = p[3 * u] - x, dy = p[3 * u + 1] - y, dz = p[3 * u + 2] - z
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
  const triangles = new Uint32Array(mesh.triangles.length)
  let o = 0
  for (let t = 0; t < mesh.triangles.length; t += 3) {
    const a = map[mesh.triangles[t]], b = map[mesh.triangles[t + 1]], c = map[mesh.triangles[t + 2]]
    if (a === b || b === c || a === c) continue
    triangles[o++] = a
    triangles[o++] = b
    triangles[o++] = c
  }
  return { mesh: { positions, triangles: triangles.slice(0, o) }, map, joined: n - kept.length }
}
