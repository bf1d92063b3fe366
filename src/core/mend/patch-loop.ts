/** Spans one loop with triangles: flat, or refined to the edge length round it and faired so that it leaves its surroundings tangent. */
import type { Vec3 } from '@/core/math/vec'
import { edgeKey } from '@/core/mesh/edge-key'
import { vertex } from '@/core/mesh/tri-mesh'
import type { Loop, PatchGround } from './loop'
import { checkStop, quiet, span, type Work } from '@/core/base/work'
import { Patch } from './patch'
import { flatTriangulation, leastWeightTriangulation } from './triangulate-rim'

export type HoleFill = 'flat' | 'smooth' | 'curvature'

/** @param given a first triangulation of the loop's corners; found by least weight (or flat) when left out
 * @param spare what least weight gave already, for a rim that does not lie flat */
export function patchLoop(
  ground: PatchGround,
  loop: Loop,
  how: HoleFill,
  given?: readonly number[],
  work: Work = quiet,
  spare?: readonly number[],
): Patch {
  const { mesh, around, normals } = ground
  const n = loop.points.length
  const at = new Map<number, number>()
  loop.vertices.forEach((v, i) => {
    if (v >= 0 && !at.has(v)) at.set(v, i)
  })
  const linked = new Set<number>()
  // Neighbours of each corner in the mesh around, as x y z; corners of the loop itself are told apart.
  const outer = loop.vertices.map((v) => {
    if (v < 0) return []
    const seen = new Set<number>()
    for (let i = around.start[v]; i < around.start[v + 1]; i++)
      for (let c = 0; c < 3; c++) seen.add(mesh.triangles[3 * around.list[i] + c])
    seen.delete(v)
    for (const u of seen) if (at.has(u)) linked.add(at.get(v)! * n + at.get(u)!)
    return Array.from(seen)
      .filter((u) => !at.has(u))
      .flatMap((u) => vertex(mesh, u))
  })
  const first = loop.vertices.map((v, i) => (v < 0 ? i : at.get(v)!))
  const made = (i: number, j: number) =>
    ground.made.size > 0 &&
    loop.vertices[i] >= 0 &&
    loop.vertices[j] >= 0 &&
    ground.made.has(edgeKey(loop.vertices[i], loop.vertices[j]))
  const joined = (i: number, j: number) => i < n && j < n && (linked.has(first[i] * n + first[j]) || made(i, j))
  const cut = given ?? firstCut(loop, normals, how, joined, spare, span(work, 0, 0.4))
  const patch = new Patch(loop.points.flat(), n, cut, joined)
  if (how === 'flat') return patch
  // Edge length wanted at each corner: the mean of the edges that meet there.
  const wanted = loop.points.map((p, i) => {
    let sum = 0,
      count = 0
    const take = (x: number, y: number, z: number) => {
      sum += Math.hypot(p[0] - x, p[1] - y, p[2] - z)
      count++
    }
    take(...loop.points[(i + 1) % n])
    take(...loop.points[(i + n - 1) % n])
    for (let k = 0; k < outer[i].length; k += 3) take(outer[i][k], outer[i][k + 1], outer[i][k + 2])
    return sum / count
  })
  work.progress(0.4, 'fitting a patch')
  patch.relax(10)
  // Faired each time it has doubled, a patch is nearly done when it is fine; large ones then need few steps.
  let faired = n
  patch.refine(wanted, {
    after: () => {
      checkStop(work)
      work.progress(Math.min(0.8, 0.4 + (3 * patch.pointCount) / 90_000), 'fitting a patch')
      if (patch.pointCount < 2 * faired) return
      patch.fair(outer, 80)
      faired = patch.pointCount
    },
  })
  checkStop(work)
  work.progress(0.85, 'fairing the patch')
  patch.fair(outer, 3 * patch.pointCount < 9000 ? 300 : 60)
  if (3 * patch.pointCount < 9000 && patch.relax(6)) patch.fair(outer, 100)
  return patch
}

/** Triangles over a loop's corners: flat where it may be, else of least weight. */
function firstCut(
  loop: Loop,
  normals: Float32Array,
  how: HoleFill,
  joined: (i: number, j: number) => boolean,
  spare: readonly number[] | undefined,
  work: Work,
): readonly number[] {
  const outside = loop.against.map((h): Vec3 | null => {
    if (h < 0) return null
    const t = (h / 3) | 0
    return [normals[3 * t], normals[3 * t + 1], normals[3 * t + 2]]
  })
  const flat = how === 'flat' ? flatTriangulation(loop.points) : null
  if (flat && !crossesMesh(flat, loop.points.length, joined)) return flat
  return spare ?? leastWeightTriangulation(loop.points, { outside, joined }, work)
}

function crossesMesh(triangles: readonly number[], n: number, joined: (i: number, j: number) => boolean): boolean {
  for (let i = 0; i < triangles.length; i += 3)
    for (let c = 0; c < 3; c++) {
      const a = triangles[i + c],
        b = triangles[i + ((c + 1) % 3)]
      const gap = Math.abs(a - b)
      if (gap !== 1 && gap !== n - 1 && joined(a, b)) return true
    }
  return false
}
