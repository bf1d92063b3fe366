/** Finds triangles of one mesh that pass through each other. Signs come from exact predicates (Shewchuk 1997). */
import { orient2d, orient3d } from 'robust-predicates'
import { checkStop, quiet, type Work } from '@/core/recipe/work'
import { buildBoxTree, visitSelfPairs } from './box-tree'
import { crossOf, diagonal, meshBounds, type TriMesh } from './tri-mesh'

/** Crossings shallower than this share of the diagonal are contact within the precision of the coordinates, not crossings. */
export const contactShare = 2e-7

type Plain = ArrayLike<number>

const orient = (p: Plain, a: number, b: number, c: number, d: number) =>
  orient3d(p[a], p[a + 1], p[a + 2], p[b], p[b + 1], p[b + 2], p[c], p[c + 1], p[c + 2], p[d], p[d + 1], p[d + 2])

/** Does the open segment de properly pass through the triangle abc (touching its border counts, lying in its plane does not)? */
function segmentThrough(p: Plain, a: number, b: number, c: number, d: number, e: number): boolean {
  const sd = orient(p, a, b, c, d), se = orient(p, a, b, c, e)
  if ((sd > 0 && se > 0) || (sd < 0 && se < 0) || sd === 0 || se === 0) return false
  const s1 = orient(p, d, e, a, b), s2 = orient(p, d, e, b, c), s3 = orient(p, d, e, c, a)
  return (s1 >= 0 && s2 >= 0 && s3 >= 0) || (s1 <= 0 && s2 <= 0 && s3 <= 0)
}

/** Do two coplanar triangles overlap in an area? Tested in the projection that keeps most of their area. */
function coplanarOverlap(p: Plain, s: readonly number[], t: readonly number[], normal: readonly number[]): boolean {
  const ax = Math.abs(normal[0]), ay = Math.abs(normal[1]), az = Math.abs(normal[2])
  const [i, j] = ax >= ay && ax >= az ? [1, 2] : ay >= az ? [2, 0] : [0, 1]
  const side = (a: number, b: number, c: number) => orient2d(p[a + i], p[a + j], p[b + i], p[b + j], p[c + i], p[c + j])
  const separated = (u: readonly number[], v: readonly number[]) => {
    const turn = Math.sign(side(u[0], u[1], u[2]))
    if (turn === 0) return true
    for (let k = 0; k < 3; k++) {
      const a = u[k], b = u[(k + 1) % 3]
      if (v.every((c) => side(a, b, c) * turn <= 0)) return true
    }
    return false
  }
  return !separated(s, t) && !separated(t, s)
}

/** How far the shallower of two triangles pokes through the plane of the other. */
function depth(p: Plain, s: readonly number[], t: readonly number[], ns: readonly number[], nt: readonly number[]): number {
  const poke = (n: readonly number[], o: number, other: readonly number[]) => {
    const l = Math.hypot(n[0], n[1], n[2])
    if (l === 0) return 0
    let lo = 0, hi = 0
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
  const { positions: p, triangles: k } = mesh
  const a = [3 * k[3 * s], 3 * k[3 * s + 1], 3 * k[3 * s + 2]]
  const b = [3 * k[3 * t], 3 * k[3 * t + 1], 3 * k[3 * t + 2]]
  let common = 0, ia = 0, ib = 0
  for (let i = 0; i < 3; i++) for (let j = 0; j < 3; j++) if (a[i] === b[j]) { common++; ia = i; ib = j }
  if (common >= 2) return false // edge neighbours can only fold over, which is counted as a fold
  let hit = false
  if (common === 1) {
    const a1 = a[(ia + 1) % 3], a2 = a[(ia + 2) % 3], b1 = b[(ib + 1) % 3], b2 = b[(ib + 2) % 3]
    hit = segmentThrough(p, b[0], b[1], b[2], a1, a2) || segmentThrough(p, a[0], a[1], a[2], b1, b2)
  } else {
    const s0 = orient(p, b[0], b[1], b[2], a[0]), s1 = orient(p, b[0], b[1], b[2], a[1]), s2 = orient(p, b[0], b[1], b[2], a[2])
    if ((s0 > 0 && s1 > 0 && s2 > 0) || (s0 < 0 && s1 < 0 && s2 < 0)) return false
    if (s0 === 0 && s1 === 0 && s2 === 0) return coplanarOverlap(p, a, b, crossOf(mesh, s))
    for (let i = 0; i < 3 && !hit; i++) hit = segmentThrough(p, b[0], b[1], b[2], a[i], a[(i + 1) % 3]) || segmentThrough(p, a[0], a[1], a[2], b[i], b[(i + 1) % 3])
  }
  return hit && depth(p, a, b, crossOf(mesh, s), crossOf(mesh, t)) > contact
}

/**
 * All crossing pairs of a mesh, as triangle numbers one after the other (pairs[2 i], pairs[2 i + 1]).
 * @param limit stop after this many pairs
 */
export function findSelfCrossings(mesh: TriMesh, work: Work = quiet, limit = Infinity): Uint32Array {
  const contact = contactShare * diagonal(meshBounds(mesh))
  const pairs: number[] = []
  visitSelfPairs(mesh, buildBoxTree(mesh), (s, t) => {
    if (trianglesCross(mesh, s, t, contact)) {
      pairs.push(s, t)
      if (pairs.length >= 2 * limit) return true
    }
  }, (share) => {
    checkStop(work)
    work.progress(share, 'looking for crossings')
  })
  return Uint32Array.from(pairs)
}
