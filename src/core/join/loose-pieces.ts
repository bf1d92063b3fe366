/** Pieces that a cut parts from a body: how many, in words, and a body without them. */
import { plural } from '@/core/base/say'
import { boxOf } from '@/core/mesh/in-box'
import { pieceFacts } from '@/core/mesh/orient'
import { keepTriangles, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import type { CsgResult } from './csg'

/** What is said of them. */
export const looseWords = (count: number, dropped: boolean): string =>
  dropped
    ? `${plural(count, 'loose piece')} left out.`
    : `The cut leaves ${plural(count, 'loose piece')} that nothing holds. Tick "Leave out loose pieces" to drop ${count === 1 ? 'it' : 'them'}.`

/** Pieces of a closed mesh that are solids; hollows in them are none. */
export const solidsOf = (mesh: TriMesh): number => pieceFacts(mesh).volume.filter((v) => v > 0).length

/** The `count` largest solids of a result, with the hollows in their boxes. */
export function largestPieces(result: CsgResult, count: number): CsgResult {
  const { triangles, volume } = pieceFacts(result.mesh)
  const order = volume.map((_, i) => i).sort((i, k) => volume[k] - volume[i])
  const kept = order.slice(0, count)
  const boxes = kept.map((i) => boxOf(result.mesh, triangles[i]))
  const within = (i: number) => {
    const own = boxOf(result.mesh, triangles[i])
    return boxes.some((b) => [0, 1, 2].every((k) => own[k] >= b[k] && own[3 + k] <= b[3 + k]))
  }
  const keep = new Uint8Array(triangleCount(result.mesh))
  for (const i of [...kept, ...order.filter((i) => volume[i] < 0 && within(i))])
    for (const t of triangles[i]) keep[t] = 1
  const { mesh, triangleFrom } = keepTriangles(result.mesh, keep)
  return {
    ...result,
    mesh,
    source: triangleFrom.map((t) => result.source[t]),
    triangle: triangleFrom.map((t) => result.triangle[t]),
  }
}
