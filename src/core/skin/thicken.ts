/** Gives a skin without thickness, or a picked part of one, a wall. */
import { crossOf } from '@/core/mesh/triangle'
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { buildTopology, nextIn } from '@/core/mesh/topology'
import { meshVolume } from '@/core/mesh/measures'
import { keepTriangles, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { vertexNormals } from '@/core/mesh/vertex-normals'
import { StepError } from '@/core/base/step-error'
import { quiet, span, type Work } from '@/core/base/work'
import { reskin } from './reskin'

export type ThickenSide = 'outward' | 'inward' | 'both'

export interface Thickened {
  readonly mesh: TriMesh
  /** Whether the plain wall crossed itself and a new skin was laid over it. */ readonly reskinned: boolean
}

/** Way each vertex goes so that its triangles, not it, move by one mm: the vertex normal, longer where the skin bends. */
export function miterDirections(part: TriMesh): Float32Array {
  const normals = vertexNormals(part)
  const n = part.positions.length / 3
  const reach = new Float64Array(n).fill(1)
  for (let i = 0; i < part.triangles.length; i += 3) {
    const [a, b, c] = [3 * part.triangles[i], 3 * part.triangles[i + 1], 3 * part.triangles[i + 2]]
    const m = crossOf(part, i / 3)
    const l = Math.hypot(...m)
    if (!(l > 0)) continue
    for (const o of [a, b, c]) {
      const cos = (m[0] * normals[o] + m[1] * normals[o + 1] + m[2] * normals[o + 2]) / l
      reach[o / 3] = Math.min(reach[o / 3], Math.max(0.35, cos))
    }
  }
  return normals.map((v, i) => v / reach[Math.floor(i / 3)])
}

/**
 * Wall of a thickness over the flagged triangles (all when null): the part, its copy shifted along the vertex normals, and a rim between
 * them. Where that would cross itself, a new skin is laid over it at `edge` mm.
 */
export function thicken(
  mesh: TriMesh,
  flags: Uint8Array | null,
  by: number,
  to: ThickenSide,
  edge: number,
  work: Work = quiet,
): Thickened {
  const part = flags ? keepTriangles(mesh, flags).mesh : mesh
  if (!triangleCount(part)) throw new StepError('empty', 'There is no triangle to thicken.')
  const t = buildTopology(part)
  if (t.nonManifoldEdges || t.flippedEdges)
    throw new StepError(
      'not-sound',
      `The skin to thicken has ${t.nonManifoldEdges} non-manifold and ${t.flippedEdges} flipped edges.`,
      { tryThis: 'Run Split non-manifold and Face outward, or Mend all.' },
    )
  if (!t.openEdges)
    throw new StepError('closed', 'This skin is closed: it has no rim to make a wall from.', {
      tryThis: 'Use Hollow for a closed body, or pick a part of it.',
    })
  const way = miterDirections(part)
  const n = part.positions.length / 3
  const [up, down] = to === 'outward' ? [by, 0] : to === 'inward' ? [0, -by] : [by / 2, -by / 2]
  const positions = new Float32Array(6 * n)
  for (let v = 0; v < n; v++)
    for (let k = 0; k < 3; k++) {
      const s = way[3 * v + k]
      positions[3 * v + k] = part.positions[3 * v + k] + up * s
      positions[3 * (n + v) + k] = part.positions[3 * v + k] + down * s
    }
  const triangles: number[] = Array.from(part.triangles)
  for (let i = 0; i < part.triangles.length; i += 3)
    triangles.push(n + part.triangles[i], n + part.triangles[i + 2], n + part.triangles[i + 1])
  for (let h = 0; h < t.twin.length; h++) {
    if (t.twin[h] >= 0) continue
    const a = part.triangles[h],
      b = part.triangles[nextIn(h)]
    triangles.push(a, n + a, n + b, a, n + b, b)
  }
  const wall = { positions, triangles: Uint32Array.from(triangles) }
  work.progress(0.2, 'checking the wall')
  if (!findSelfCrossings(wall, span(work, 0.2, 0.4), 1).length && meshVolume(wall) > 0)
    return { mesh: wall, reskinned: false }
  return { mesh: reskin(wall, { edge, gap: 0, holes: 'close' }, span(work, 0.4, 1)), reskinned: true }
}
