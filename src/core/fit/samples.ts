/** What shapes are fitted to: the corners of picked triangles, with normals and the area each stands for. */
import { length, normalize, type Vec3 } from '@/core/math/vec'
import { vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'

export interface Samples {
  readonly points: readonly Vec3[]
  /** Unit, by the picked triangles alone, so that an edge beside the region does not bend them. */
  readonly normals: readonly Vec3[]
  /** Area of a third of each triangle round a corner, mm². */
  readonly weights: readonly number[]
}

/**
 * Corners of triangles, not points on them: facets of round walls lie inside of the wall, and would make radii too small by
 * r (1 - cos(pi / n)).
 */
export function samplesOf(mesh: TriMesh, triangles: Iterable<number>): Samples {
  const sums = new Map<number, [number, number, number, number]>()
  for (const t of triangles) {
    const c = crossOf(mesh, t)
    for (let k = 0; k < 3; k++) {
      const v = mesh.triangles[3 * t + k]
      const s = sums.get(v) ?? [0, 0, 0, 0]
      s[0] += c[0]
      s[1] += c[1]
      s[2] += c[2]
      s[3] += length(c) / 6
      sums.set(v, s)
    }
  }
  const points: Vec3[] = [],
    normals: Vec3[] = [],
    weights: number[] = []
  for (const [v, [x, y, z, w]] of sums) {
    if (!(w > 0) || !(Math.hypot(x, y, z) > 0)) continue
    points.push(vertex(mesh, v))
    normals.push(normalize([x, y, z]))
    weights.push(w)
  }
  return { points, normals, weights }
}

/** Numbers of the triangles that a flag is set for. */
export const flagged = (flags: ArrayLike<number>): number[] => {
  const out: number[] = []
  for (let t = 0; t < flags.length; t++) if (flags[t]) out.push(t)
  return out
}

/** At most so many of a list, evenly taken. */
export const someOf = <T>(list: readonly T[], most: number): readonly T[] =>
  list.length <= most ? list : Array.from({ length: most }, (_, i) => list[Math.floor((i * list.length) / most)])

/** At most so many of the samples, evenly taken. */
export function thinned(s: Samples, most: number): Samples {
  if (s.points.length <= most) return s
  const step = s.points.length / most
  const pick = <T>(list: readonly T[]) => Array.from({ length: most }, (_, i) => list[Math.floor(i * step)])
  return { points: pick(s.points), normals: pick(s.normals), weights: pick(s.weights) }
}

/** Those samples for which `keep` holds. */
export function filtered(s: Samples, keep: (i: number) => boolean): Samples {
  const take = <T>(list: readonly T[]) => list.filter((_, i) => keep(i))
  return { points: take(s.points), normals: take(s.normals), weights: take(s.weights) }
}
