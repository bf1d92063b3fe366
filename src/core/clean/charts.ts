/** What lies on no shape, divided into pieces that each face one way, so that each can be one fitted face. */
import { dot, normalize, type Vec3 } from '@/core/math/vec'
import { triangleOf, type Topology } from '@/core/mesh/topology'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf, triangleArea } from '@/core/mesh/triangle'

/** Triangles that turn more than this from one to the next are of two surfaces (cosine). */
const sharp = Math.cos((40 * Math.PI) / 180)
/** A piece faces its middle direction within this (cosine). */
const faces = Math.cos((62 * Math.PI) / 180)
/** Fewer triangles are no surface. */
const leastTriangles = 8
/** What is left beside a piece goes along when it faces so, in small numbers (cosine). */
const stillFaces = Math.cos((75 * Math.PI) / 180)

/**
 * @param shaped whether a triangle lies on a shape
 * @returns of each triangle the number of its piece; -1 where it is in none
 */
export function chartsOf(mesh: TriMesh, { twin }: Topology, shaped: (t: number) => boolean): Int32Array {
  const n = triangleCount(mesh)
  const of = new Int32Array(n).fill(-1)
  const normal = (t: number): Vec3 => normalize(crossOf(mesh, t))
  const free = [...Array(n).keys()].filter((t) => !shaped(t))
  const area = new Map(free.map((t) => [t, triangleArea(mesh, t)]))
  free.sort((a, b) => area.get(b)! - area.get(a)! || a - b)
  let count = 0
  const grow = (seed: number, toward: Vec3, cosine: number, number: number): number[] => {
    const list = [seed]
    of[seed] = number
    for (const t of list)
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const u = twin[h] < 0 ? -1 : triangleOf(twin[h])
        if (u < 0 || of[u] >= 0 || shaped(u)) continue
        const m = normal(u)
        if (dot(m, toward) < cosine || dot(m, normal(t)) < sharp) continue
        of[u] = number
        list.push(u)
      }
    return list
  }
  for (const seed of free) {
    if (of[seed] >= 0) continue
    // Once to learn which way the piece faces as a whole, then anew from there.
    const first = grow(seed, normal(seed), faces, count)
    for (const t of first) of[t] = -1
    const middle = first.reduce<[number, number, number]>(
      (s, t) => {
        const c = crossOf(mesh, t)
        return [s[0] + c[0], s[1] + c[1], s[2] + c[2]]
      },
      [0, 0, 0],
    )
    const toward = normalize(middle)
    const list = grow(seed, dot(toward, normal(seed)) > stillFaces ? toward : normal(seed), faces, count)
    if (list.length < leastTriangles) for (const t of list) of[t] = -2
    else count++
  }
  for (let t = 0; t < n; t++) if (of[t] === -2) of[t] = -1
  // Bits that were left over go to the piece beside that still faces their way.
  const sums = Array.from({ length: count }, () => [0, 0, 0])
  for (const t of free) if (of[t] >= 0) crossOf(mesh, t).forEach((v, k) => (sums[of[t]][k] += v))
  const ways = sums.map((s) => normalize(s as unknown as Vec3))
  for (let again = true; again;) {
    again = false
    for (const t of free) {
      if (of[t] >= 0) continue
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const u = twin[h] < 0 ? -1 : triangleOf(twin[h])
        const piece = u < 0 ? -1 : of[u]
        if (piece < 0 || dot(normal(t), normal(u)) < sharp || dot(normal(t), ways[piece]) < stillFaces) continue
        of[t] = piece
        again = true
        break
      }
    }
  }
  straighten(mesh, twin, of, ways)
  return of
}

const straighteningRounds = 4

/** Triangles with two sides at one other piece go to it where they face its way: borders run straighter. */
function straighten(mesh: TriMesh, twin: Int32Array, of: Int32Array, ways: readonly Vec3[]): void {
  for (let round = 0; round < straighteningRounds; round++) {
    let moved = 0
    for (let t = 0; t < of.length; t++) {
      if (of[t] < 0) continue
      const beside = [3 * t, 3 * t + 1, 3 * t + 2].map((h) => (twin[h] < 0 ? -1 : of[triangleOf(twin[h])]))
      const other = beside.find((c, i) => c >= 0 && c !== of[t] && beside.indexOf(c) !== i)
      if (other === undefined || dot(normalize(crossOf(mesh, t)), ways[other]) < stillFaces) continue
      of[t] = other
      moved++
    }
    if (!moved) return
  }
}
