/**
 * Moved corners change the shape of a flat face, and its triangles with it: where one came out the wrong way round, the diagonal it shares
 * with a neighbour in the same plane is turned, if both are right after that.
 */
import { cross, dot, sub, type Vec3 } from '@/core/math/vec'
import { nextIn, prevIn, triangleOf } from '@/core/mesh/topology'

/**
 * @param triangles changed in place
 * @param twin the half-edge beyond each; changed in place
 * @param normals how each triangle should face
 * @param least cosine of the turn up to which two planes are one
 */
export function turnDiagonals(
  triangles: number[],
  twin: Int32Array,
  positions: readonly number[],
  normals: readonly Vec3[],
  least: number,
): void {
  const at = (v: number): Vec3 => [positions[3 * v], positions[3 * v + 1], positions[3 * v + 2]]
  const right = (a: number, b: number, c: number, n: Vec3) => {
    const u = sub(at(b), at(a)),
      v = sub(at(c), at(a))
    return dot(cross(u, v), n) > 1e-9 * (dot(u, u) + dot(v, v))
  }
  const wrong = (t: number) => !right(triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2], normals[t])
  const queue: number[] = []
  for (let t = 0; t < normals.length; t++) if (wrong(t)) queue.push(t)
  const link = (h: number, g: number) => {
    twin[h] = g
    if (g >= 0) twin[g] = h
  }
  for (let turns = 0; queue.length && turns < 20 * normals.length; turns++) {
    const t = queue.pop()!
    if (!wrong(t)) continue
    const n = normals[t]
    for (const h of [3 * t, 3 * t + 1, 3 * t + 2]) {
      const g = twin[h]
      if (g < 0 || dot(n, normals[triangleOf(g)]) < least) continue
      const a = triangles[h],
        b = triangles[nextIn(h)],
        c = triangles[prevIn(h)],
        d = triangles[prevIn(g)]
      // A parted edge has other numbers on its other side.
      if (triangles[g] !== b || triangles[nextIn(g)] !== a || c === d) continue
      if (!right(a, d, c, n) || !right(d, b, c, n)) continue
      const [bc, ca, ad, db] = [twin[nextIn(h)], twin[prevIn(h)], twin[nextIn(g)], twin[prevIn(g)]]
      const u = triangleOf(g)
      triangles.splice(3 * t, 3, a, d, c)
      triangles.splice(3 * u, 3, d, b, c)
      link(3 * t, ad)
      link(3 * t + 1, 3 * u + 2)
      link(3 * t + 2, ca)
      link(3 * u, db)
      link(3 * u + 1, bc)
      break
    }
  }
}
