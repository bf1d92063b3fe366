/** Where planes meet that all move by the same distance, and what lies between two such places. */
import { symmetricEigen } from '@/core/math/eigen'
import { add, dot, length, scale, type Vec3 } from '@/core/math/vec'

export interface Meeting {
  /** From the old place, for a distance of 1. */
  readonly way: Vec3
  /** Directions in which a place may slide and still lie on all planes. */
  readonly free: readonly Vec3[]
}

/**
 * Where the planes of some triangles, all moved by 1, meet: the shortest way there that holds them best by their weights. Directions in which
 * the planes differ less than `flat` (sine squared of their spread) are free.
 */
export function meeting(normals: readonly Vec3[], weights: readonly number[], flat: number): Meeting {
  const m = [0, 0, 0, 0, 0, 0]
  const b = [0, 0, 0]
  normals.forEach(([x, y, z], i) => {
    const w = weights[i]
    const terms = [x * x, x * y, x * z, y * y, y * z, z * z]
    terms.forEach((v, k) => (m[k] += w * v))
    b[0] += w * x
    b[1] += w * y
    b[2] += w * z
  })
  const { values, vectors } = symmetricEigen(m)
  let way: Vec3 = [0, 0, 0]
  const free: Vec3[] = []
  for (let e = 0; e < 3; e++)
    if (values[e] < flat * (values[0] + values[1] + values[2])) free.push(vectors[e])
    else way = add(way, scale(vectors[e], dot(vectors[e], [b[0], b[1], b[2]]) / values[e]))
  return { way, free }
}

/** A way between two ways, turned evenly and its length changed evenly; `share` from 0 at the first to 1 at the second. */
export function between(a: Vec3, b: Vec3, share: number): Vec3 {
  const la = length(a),
    lb = length(b)
  const angle = Math.acos(Math.max(-1, Math.min(1, dot(a, b) / (la * lb || 1))))
  const sin = Math.sin(angle)
  if (sin < 1e-6) return add(scale(a, 1 - share), scale(b, share))
  const way = add(scale(a, Math.sin((1 - share) * angle) / (sin * la)), scale(b, Math.sin(share * angle) / (sin * lb)))
  return scale(way, la + share * (lb - la))
}
