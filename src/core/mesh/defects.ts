/** Bad single triangles: without area, doubled, or folded over. */
import { nextIn, prevIn, triangleOf, type Topology } from './topology'
import { diagonal, meshBounds, triangleCount, type TriMesh } from './tri-mesh'
import { crossInto } from './triangle'

/** A triangle lower than this share of the diagonal has no area worth the name. */
export const degenerateShare = 1e-7
/** Neighbours that meet back to back within this angle are a fold. */
export const foldDegrees = 20

/** Cross product of the triangle at hand; nothing is made for each. */
const across = new Float64Array(3)

/** Triangles with a corner used twice or without height. */
export function findDegenerate(mesh: TriMesh): number[] {
  const limit = degenerateShare * diagonal(meshBounds(mesh))
  const out: number[] = []
  const { positions: p, triangles: k } = mesh
  for (let t = 0; t < triangleCount(mesh); t++) {
    const i = k[3 * t],
      j = k[3 * t + 1],
      l = k[3 * t + 2]
    if (i === j || j === l || i === l) {
      out.push(t)
      continue
    }
    const a = 3 * i,
      b = 3 * j,
      c = 3 * l
    const ux = p[b] - p[a],
      uy = p[b + 1] - p[a + 1],
      uz = p[b + 2] - p[a + 2]
    const vx = p[c] - p[a],
      vy = p[c + 1] - p[a + 1],
      vz = p[c + 2] - p[a + 2]
    const wx = vx - ux,
      wy = vy - uy,
      wz = vz - uz
    const longest = Math.max(ux * ux + uy * uy + uz * uz, vx * vx + vy * vy + vz * vz, wx * wx + wy * wy + wz * wz)
    if (!(crossInto(p, k, t, across) > limit * Math.sqrt(longest))) out.push(t)
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
    let a = k[3 * t],
      b = k[3 * t + 1],
      c = k[3 * t + 2]
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

const foldLimit = -Math.cos((foldDegrees * Math.PI) / 180)

/**
 * Folded triangles: of two neighbours that lie back to back, the smaller one.
 * @param among only pairs with one of these triangles, which may be named more than once
 */
export function findFolded(mesh: TriMesh, topology: Topology, among?: ArrayLike<number>): number[] {
  const { positions: p, triangles: k } = mesh
  const half = topology.twin.length
  const n = half / 3
  // Cross products of all triangles, or of the asked ones as they come up.
  const normals = among ? null : new Float32Array(half)
  const at = (t: number, out: Float64Array) => crossInto(p, k, t, out)
  const x = new Float64Array(3),
    y = new Float64Array(3)
  if (normals)
    for (let t = 0; t < n; t++) {
      at(t, x)
      const l = 1 / (Math.sqrt(x[0] * x[0] + x[1] * x[1] + x[2] * x[2]) || Infinity)
      normals[3 * t] = x[0] * l
      normals[3 * t + 1] = x[1] * l
      normals[3 * t + 2] = x[2] * l
    }
  const folded = new Set<number>()
  const beside: number[] = []
  const test = (h: number, w: number) => {
    const s = triangleOf(h),
      t = triangleOf(w)
    let d: number
    if (normals)
      d =
        normals[3 * s] * normals[3 * t] +
        normals[3 * s + 1] * normals[3 * t + 1] +
        normals[3 * s + 2] * normals[3 * t + 2]
    else {
      at(s, x)
      at(t, y)
      d =
        (x[0] * y[0] + x[1] * y[1] + x[2] * y[2]) /
        (Math.hypot(x[0], x[1], x[2]) * Math.hypot(y[0], y[1], y[2]) || Infinity)
    }
    if ((topology.sameWay[h] ? -d : d) >= foldLimit || !sameSide(mesh, h, w)) return // a thin sound wedge lies on both sides of the shared edge
    at(s, x)
    at(t, y)
    const smaller = Math.hypot(x[0], x[1], x[2]) <= Math.hypot(y[0], y[1], y[2]) ? s : t
    if (folded.has(smaller)) return
    if (liesBack(mesh, topology, smaller) || liesBack(mesh, topology, smaller === s ? t : s)) folded.add(smaller)
    else beside.push(smaller)
  }
  if (among)
    for (let i = 0; i < among.length; i++)
      for (let h = 3 * among[i]; h < 3 * among[i] + 3; h++) {
        if (topology.twin[h] >= 0) test(Math.min(h, topology.twin[h]), Math.max(h, topology.twin[h]))
      }
  else for (let h = 0; h < half; h++) if (topology.twin[h] > h) test(h, topology.twin[h])
  if (folded.size && beside.length) {
    // The ends of a fold run out: what lies back to back right beside one belongs to it.
    const corners = new Set<number>()
    for (const t of folded) for (let c = 0; c < 3; c++) corners.add(k[3 * t + c])
    for (const t of beside)
      if (corners.has(k[3 * t]) || corners.has(k[3 * t + 1]) || corners.has(k[3 * t + 2])) folded.add(t)
  }
  return [...folded].sort((s, t) => s - t)
}

/** A part that lies back has at most this many triangles; more are a side of something sharp. */
const backMost = 40
/** Of its border, at least this share turns back (or, at a rim, is open). */
const backShare = 0.3,
  earShare = 0.9
/** Sides closer to flat against each other than this sine lie on either side. */
const flatSine = 0.01
/** The part goes on across edges that turn by less than this. */
const smoothLimit = Math.cos((60 * Math.PI) / 180)

/**
 * Tells a fold from a sharp thin place: the part about a triangle, as far as it does not turn back, is small and turns back both ways, as
 * the middle layer of a fold does. A blade turns back one way only, however thin it is; so does a slit.
 */
function liesBack(mesh: TriMesh, topology: Topology, start: number): boolean {
  const { positions: p, triangles: k } = mesh
  const { twin, sameWay } = topology
  const n = new Float64Array(3),
    m = new Float64Array(3)
  const part = new Set([start])
  let whole = 0,
    back = 0,
    open = 0,
    up = false,
    down = false
  for (const t of part) {
    const across = crossInto(p, k, t, n) || Infinity
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const a = 3 * k[h],
        b = 3 * k[nextIn(h)]
      const long = Math.hypot(p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2])
      const w = twin[h]
      if (w < 0) {
        whole += long
        open += long
        continue
      }
      const u = triangleOf(w)
      if (part.has(u)) continue
      const l = crossInto(p, k, u, m) || Infinity
      const turn = ((sameWay[h] ? -1 : 1) * (n[0] * m[0] + n[1] * m[1] + n[2] * m[2])) / (across * l)
      if (turn >= smoothLimit) {
        part.add(u)
        if (part.size > backMost) return false
        continue
      }
      whole += long
      if (turn >= foldLimit || !sameSide(mesh, h, w)) continue
      back += long
      // The far corner of the other, over this triangle's plane: the layers face each other, or turn their backs.
      const d = 3 * k[prevIn(w)]
      const v = [p[d] - p[a], p[d + 1] - p[a + 1], p[d + 2] - p[a + 2]]
      const sine = (v[0] * n[0] + v[1] * n[1] + v[2] * n[2]) / (across * (Math.hypot(v[0], v[1], v[2]) || Infinity))
      if (sine > -flatSine) up = true
      if (sine < flatSine) down = true
    }
  }
  if (open > 0 && back > 0 && open + back >= earShare * whole) return true
  return up && down && back >= backShare * whole
}

function sameSide(mesh: TriMesh, h: number, w: number): boolean {
  const { positions: p, triangles: k } = mesh
  const a = 3 * k[h],
    b = 3 * k[nextIn(h)],
    c = 3 * k[prevIn(h)],
    d = 3 * k[prevIn(w)]
  const e = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
  const l = e[0] ** 2 + e[1] ** 2 + e[2] ** 2 || 1
  const off = (o: number) => {
    const v = [p[o] - p[a], p[o + 1] - p[a + 1], p[o + 2] - p[a + 2]]
    const s = (v[0] * e[0] + v[1] * e[1] + v[2] * e[2]) / l
    return [v[0] - s * e[0], v[1] - s * e[1], v[2] - s * e[2]]
  }
  const u = off(c),
    v = off(d)
  return u[0] * v[0] + u[1] * v[1] + u[2] * v[2] > 0
}
