/** What hangs together on a mesh. */
import { triangleOf } from './topology'

/**
 * Triangles reached from one over edges, the nearest first.
 * @param seen marks of triangles that are not taken any more; what is reached is marked
 * @param may whether a triangle belongs, asked once for each edge that leads to it
 */
export function flood(twin: Int32Array, first: number, seen: Uint8Array, may: (triangle: number) => boolean): number[] {
  const part = [first]
  seen[first] = 1
  for (const t of part)
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const u = twin[h] < 0 ? -1 : triangleOf(twin[h])
      if (u < 0 || seen[u] || !may(u)) continue
      seen[u] = 1
      part.push(u)
    }
  return part
}
