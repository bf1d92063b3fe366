/** Bad single triangles: without area, doubled, or folded over. */
import { nextIn, prevIn, triangleOf, type Topology } from '@/core/mesh/topology'
import { crossOf, diagonal, meshBounds, triangleCount, triangleNormals, type TriMesh } from '@/core/mesh/tri-mesh'

/** A triangle lower than this share of the diagonal has no area worth the name. */
export const degenerateShare = 1e-7
/** Neighbours that meet back to back within this angle are a fold. */
export const foldDegrees = 20

/** Triangles with a corner used twice or without height. */
export function findDegenerate(mesh: TriMesh): number[] {
  const limit = degenerateShare * diagonal(meshBounds(mesh))
  const out: number[] = []
  const { positions: p, triangles: k } = mesh
  for (let t = 0; t < triangleCount(mesh); t++) {
    const a = k[3 * t], b = k[3 * t + 1], c = k[3 * t + 2]
    if (a === b || b === c || a === c) {
      out.push(t)
      continue
    }
    const n = crossOf(mesh, t)
    const twice = Math.hypot(n[0], n[1], n[2])
    let longest = 0
    for (const [u, v] of [[a, b], [b, c], [c, a]]) longest = Math.max(longest, Math.hypot(p[3 * u] - p[3 * v], p[3 * u + 1] - p[3 * v + 1], p[3 * u + 2] - p[3 * v + 2]))
    if (!(twice > limit * longest)) out.push(t)
  }
  return out
}

/** Triangles on the same three vertices as an earlier one, whichever way round. */
export function findDuplicates(mesh: TriMesh): number[] {
  const k = mesh.triangles
  const n = triangleCount(mesh)
  let capacity = 16
  while (capacity < 2 * n) capacity *= 2
  const table = new Int32Array(capacity).fill(-1)
  const sorted = new Uint32Array(3 * n)
  const out: number[] = []
  for (let t = 0; t < n; t++) {
    let a = k[3 * t], b = k[3 * t + 1], c = k[3 * t + 2]
    if (a > b) [a, b] = [b, a]
    if (b > c) [b, c] = [c, b]
    if (a > b) [a, b] = [b, a]
    sorted[3 * t] = a
    sorted[3 * t + 1] = b
    sorted[3 * t + 2] = c
    let slot = (Math.imul(a, 0x9e3779b1) ^ Math.imul(b, 0x85ebca77) ^ Math.imul(c, 0xc2b2ae3d)) >>> 0
    slot = (slot ^ (slot >>> 15)) & (capacity - 1)
    for (;;) {
      const s = table[slot]
      if (s < 0) {
        table[slot] = t
        break
      }
      if (sorted[3 * s] === a && sorted[3 * s + 1] === b && sorted[3 * s + 2] === c) {
        out.push(t)
        break
      }
      slot = (slot + 1) & (capacity - 1)
    }
  }
  return out
}

/** Folded triangles: of two neighbours that lie back to back, the smaller one. */
export function findFolded(mesh: TriMesh, topology: Topology): number[] {
  const normals = triangleNormals(mesh)
  const limit = -Math.cos((foldDegrees * Math.PI) / 180)
  const folded = new Uint8Array(triangleCount(mesh))
  const area = (t: number) => Math.hypot(...crossOf(mesh, t))
  for (let h = 0; h < topology.twin.length; h++) {
    const w = topology.twin[h]
    if (w <= h) continue
    const s = triangleOf(h), t = triangleOf(w)
    const d = normals[3 * s] * normals[3 * t] + normals[3 * s + 1] * normals[3 * t + 1] + normals[3 * s + 2] * normals[3 * t + 2]
    if ((topology.sameWay[h] ? -d : d) < limit) {
      // A thin sound wedge also meets at a small angle; a fold lies on the same side of the shared edge.
      if (sameSide(mesh, h, w)) folded[area(s) <= area(t) ? s : t] = 1
    }
  }
  const out: number[] = []
  for (let t = 0; t < folded.length; t++) if (folded[t]) out.push(t)
  return out
}

function sameSide(mesh: TriMesh, h: number, w: number): boolean {
  const { positions: p, triangles: k } = mesh
  const a = 3 * k[h], b = 3 * k[nextIn(h)], c = 3 * k[prevIn(h)], d = 3 * k[prevIn(w)]
  const e = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
  const l = e[0] ** 2 + e[1] ** 2 + e[2] ** 2 || 1
  const off = (o: number) => {
    const v = [p[o] - p[a], p[o + 1] - p[a + 1], p[o + 2] - p[a + 2]]
    const s = (v[0] * e[0] + v[1] * e[1] + v[2] * e[2]) / l
    return [v[0] - s * e[0], v[1] - s * e[1], v[2] - s * e[2]]
  }
  const u = off(c), v = off(d)
  return u[0] * v[0] + u[1] * v[1] + u[2] * v[2] > 0
}
