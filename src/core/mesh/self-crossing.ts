/** Finds triangles of one mesh that pass through each other. Signs come from exact predicates (Shewchuk 1997). */
import { orient2d, orient3d } from 'robust-predicates'
import { checkStop, quiet, type Work } from '@/core/base/work'
import { buildBoxTree, visitPairsFrom, visitSelfPairs } from './box-tree'
import { diagonal, meshBounds, type TriMesh } from './tri-mesh'
import { crossOf } from './triangle'

/** Crossings shallower than this share of the diagonal are contact within the precision of the coordinates, not crossings. */
export const contactShare = 2e-7

type Plain = ArrayLike<number>

const orient = (p: Plain, a: number, b: number, c: number, d: number) =>
  orient3d(p[a], p[a + 1], p[a + 2], p[b], p[b + 1], p[b + 2], p[c], p[c + 1], p[c + 2], p[d], p[d + 1], p[d + 2])

/** Does the open segment de properly pass through the triangle abc (touching its border counts, lying in its plane does not)? */
function segmentThrough(p: Plain, a: number, b: number, c: number, d: number, e: number): boolean {
  const sd = orient(p, a, b, c, d),
    se = orient(p, a, b, c, e)
  if ((sd > 0 && se > 0) || (sd < 0 && se < 0) || sd === 0 || se === 0) return false
  const s1 = orient(p, d, e, a, b),
    s2 = orient(p, d, e, b, c),
    s3 = orient(p, d, e, c, a)
  return (s1 >= 0 && s2 >= 0 && s3 >= 0) || (s1 <= 0 && s2 <= 0 && s3 <= 0)
}

/** Do two coplanar triangles overlap in an area? Tested in the projection that keeps most of their area. */
export function coplanarOverlap(
  p: Plain,
  s: readonly number[],
  t: readonly number[],
  normal: readonly number[],
): boolean {
  const ax = Math.abs(normal[0]),
    ay = Math.abs(normal[1]),
    az = Math.abs(normal[2])
  const [i, j] = ax >= ay && ax >= az ? [1, 2] : ay >= az ? [2, 0] : [0, 1]
  const side = (a: number, b: number, c: number) => orient2d(p[a + i], p[a + j], p[b + i], p[b + j], p[c + i], p[c + j])
  const separated = (u: readonly number[], v: readonly number[]) => {
    const turn = Math.sign(side(u[0], u[1], u[2]))
    if (turn === 0) return true
    for (let k = 0; k < 3; k++) {
      const a = u[k],
        b = u[(k + 1) % 3]
      if (v.every((c) => side(a, b, c) * turn <= 0)) return true
    }
    return false
  }
  return !separated(s, t) && !separated(t, s)
}

/** How far the shallower of two triangles pokes through the plane of the other. */
function depth(
  p: Plain,
  s: readonly number[],
  t: readonly number[],
  ns: readonly number[],
  nt: readonly number[],
): number {
  const poke = (n: readonly number[], o: number, other: readonly number[]) => {
    const l = Math.hypot(n[0], n[1], n[2])
    if (l === 0) return 0
    let lo = 0,
      hi = 0
    for (const v of other) {
      const d = ((p[v] - p[o]) * n[0] + (p[v + 1] - p[o + 1]) * n[1] + (p[v + 2] - p[o + 2]) * n[2]) / l
      if (d < lo) lo = d
      if (d > hi) hi = d
    }
    return Math.min(-lo, hi)
  }
  return Math.min(poke(ns, s[0], t), poke(nt, t[0], s))
}

/** Whether triangles s and t of a mesh cross. Neighbours cross when they overlap in more than what they share. */
export function trianglesCross(mesh: TriMesh, s: number, t: number, contact: number): boolean {
  const k = mesh.triangles
  // Plain variables: nearly all calls end early, and lists for each would cost more than the tests.
  const a0 = k[3 * s],
    a1 = k[3 * s + 1],
    a2 = k[3 * s + 2],
    b0 = k[3 * t],
    b1 = k[3 * t + 1],
    b2 = k[3 * t + 2]
  const in0 = a0 === b0 || a0 === b1 || a0 === b2,
    in1 = a1 === b0 || a1 === b1 || a1 === b2,
    in2 = a2 === b0 || a2 === b1 || a2 === b2
  if ((in0 && in1) || (in0 && in2) || (in1 && in2)) return false // edge neighbours can only fold over, which is counted as a fold
  if (!in0 && !in1 && !in2) return strangersCross(mesh, s, t, contact)
  // Both turned so that the shared vertex comes first.
  const shared = in0 ? a0 : in1 ? a1 : a2
  const one = turnedTo(k, s, shared),
    other = turnedTo(k, t, shared)
  return (
    cornersCross(mesh, one, other) && depth(mesh.positions, one, other, crossOf(mesh, s), crossOf(mesh, t)) > contact
  )
}

/** Where the coordinates of a triangle's corners begin, one of them first. */
function turnedTo(k: Uint32Array, t: number, first: number): number[] {
  const [a, b, c] = [k[3 * t], k[3 * t + 1], k[3 * t + 2]]
  return a === first ? [3 * a, 3 * b, 3 * c] : b === first ? [3 * b, 3 * c, 3 * a] : [3 * c, 3 * a, 3 * b]
}

/** Triangles with their first corner in common: only the sides across from it can pass through. */
function cornersCross({ positions: p }: TriMesh, s: readonly number[], t: readonly number[]): boolean {
  return segmentThrough(p, t[0], t[1], t[2], s[1], s[2]) || segmentThrough(p, s[0], s[1], s[2], t[1], t[2])
}

/** Triangles without a corner in common. */
function strangersCross(mesh: TriMesh, s: number, t: number, contact: number): boolean {
  const { positions: p, triangles: k } = mesh
  const a0 = 3 * k[3 * s],
    a1 = 3 * k[3 * s + 1],
    a2 = 3 * k[3 * s + 2],
    b0 = 3 * k[3 * t],
    b1 = 3 * k[3 * t + 1],
    b2 = 3 * k[3 * t + 2]
  const s0 = orient(p, b0, b1, b2, a0),
    s1 = orient(p, b0, b1, b2, a1),
    s2 = orient(p, b0, b1, b2, a2)
  if ((s0 > 0 && s1 > 0 && s2 > 0) || (s0 < 0 && s1 < 0 && s2 < 0)) return false
  if (s0 === 0 && s1 === 0 && s2 === 0) return coplanarOverlap(p, [a0, a1, a2], [b0, b1, b2], crossOf(mesh, s))
  const through =
    segmentThrough(p, b0, b1, b2, a0, a1) ||
    segmentThrough(p, a0, a1, a2, b0, b1) ||
    segmentThrough(p, b0, b1, b2, a1, a2) ||
    segmentThrough(p, a0, a1, a2, b1, b2) ||
    segmentThrough(p, b0, b1, b2, a2, a0) ||
    segmentThrough(p, a0, a1, a2, b2, b0)
  return through && depth(p, [a0, a1, a2], [b0, b1, b2], crossOf(mesh, s), crossOf(mesh, t)) > contact
}
/**
 * A quick look that tells most pairs apart: all corners of one triangle, but a shared one, lie clearly on one side of the other's plane.
 * "Clearly" is beyond a bound on the rounding of the plane (Higham 2002, chapter 3: a dozen roundings of a product of two sides).
 */
export function apartTest({ positions: p, triangles: k }: TriMesh): (s: number, t: number) => boolean {
  const n = k.length / 3
  const plane = new Float64Array(4 * n)
  for (let t = 0; t < n; t++) {
    const a = 3 * k[3 * t],
      b = 3 * k[3 * t + 1],
      c = 3 * k[3 * t + 2]
    const ux = p[b] - p[a],
      uy = p[b + 1] - p[a + 1],
      uz = p[b + 2] - p[a + 2],
      vx = p[c] - p[a],
      vy = p[c + 1] - p[a + 1],
      vz = p[c + 2] - p[a + 2]
    plane[4 * t] = uy * vz - uz * vy
    plane[4 * t + 1] = uz * vx - ux * vz
    plane[4 * t + 2] = ux * vy - uy * vx
    plane[4 * t + 3] =
      4e-15 * (Math.abs(ux) + Math.abs(uy) + Math.abs(uz)) * (Math.abs(vx) + Math.abs(vy) + Math.abs(vz))
  }
  /** -1 or 1 when the corners of s that t does not have lie on one side of t's plane, else 0. */
  const side = (s: number, t: number) => {
    const k0 = k[3 * t],
      k1 = k[3 * t + 1],
      k2 = k[3 * t + 2]
    const nx = plane[4 * t],
      ny = plane[4 * t + 1],
      nz = plane[4 * t + 2],
      bound = plane[4 * t + 3]
    const o = 3 * k0
    let all = 0
    for (let c = 0; c < 3; c++) {
      const v = k[3 * s + c]
      if (v === k0 || v === k1 || v === k2) continue
      const x = p[3 * v] - p[o],
        y = p[3 * v + 1] - p[o + 1],
        z = p[3 * v + 2] - p[o + 2]
      const d = x * nx + y * ny + z * nz,
        slack = bound * (Math.abs(x) + Math.abs(y) + Math.abs(z))
      const now = d > slack ? 1 : d < -slack ? -1 : 0
      if (!now || now === -all) return 0
      all = now
    }
    return all
  }
  // With a shared vertex both planes must part them; without one, either does.
  return (s, t) => {
    if (!side(s, t)) return false
    const a = k[3 * s],
      b = k[3 * s + 1],
      c = k[3 * s + 2]
    const touch = (v: number) => v === a || v === b || v === c
    return !(touch(k[3 * t]) || touch(k[3 * t + 1]) || touch(k[3 * t + 2])) || side(t, s) !== 0
  }
}

/**
 * All crossing pairs of a mesh, as triangle numbers one after the other (pairs[2 i], pairs[2 i + 1]).
 * @param limit stop after this many pairs
 */
export function findSelfCrossings(mesh: TriMesh, work: Work = quiet, limit = Infinity): Uint32Array {
  const contact = contactShare * diagonal(meshBounds(mesh))
  const pairs: number[] = []
  const apart = apartTest(mesh)
  visitSelfPairs(
    mesh,
    buildBoxTree(mesh),
    (s, t) => {
      if (apart(s, t)) return
      if (trianglesCross(mesh, s, t, contact)) {
        pairs.push(s, t)
        if (pairs.length >= 2 * limit) return true
      }
    },
    (share) => {
      checkStop(work)
      work.progress(share, 'looking for crossings')
    },
  )
  return Uint32Array.from(pairs)
}

/** The crossing pairs of which one triangle at least is from number `first` on: all there are when those before it are known not to cross. */
export function crossingsFrom(mesh: TriMesh, first: number): Uint32Array {
  const contact = contactShare * diagonal(meshBounds(mesh))
  const pairs: number[] = []
  const apart = apartTest(mesh)
  visitPairsFrom(mesh, buildBoxTree(mesh), first, (s, t) => {
    if (!apart(s, t) && trianglesCross(mesh, s, t, contact)) pairs.push(s, t)
  })
  return Uint32Array.from(pairs)
}
