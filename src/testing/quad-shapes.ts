/** Shapes of quads for tests. */
import type { Vec3 } from '@/core/math/vec'
import type { QuadMesh } from '@/core/mesh/quad-mesh'

/** A block of n quads along each edge, of a size and from a corner, as a net. */
export const quadBlock = (size: Vec3, at: Vec3, n: number): QuadMesh => {
  const points = new Map<string, number>()
  const positions: number[] = []
  const quads: number[] = []
  const point = (i: number[]) => {
    const key = i.join()
    if (!points.has(key)) {
      points.set(key, positions.length / 3)
      positions.push(...i.map((v, k) => at[k] + (size[k] * v) / n))
    }
    return points.get(key)!
  }
  for (let axis = 0; axis < 3; axis++)
    for (const end of [0, n])
      for (let a = 0; a < n; a++)
        for (let b = 0; b < n; b++) {
          const ring = [
            [a, b],
            [a + 1, b],
            [a + 1, b + 1],
            [a, b + 1],
          ].map(([u, v]) => {
            const i = [0, 0, 0]
            i[axis] = end
            i[(axis + 1) % 3] = u
            i[(axis + 2) % 3] = v
            return point(i)
          })
          quads.push(...(end ? ring : ring.reverse()))
        }
  return { positions: Float32Array.from(positions), quads: Uint32Array.from(quads) }
}
