/** Holds patches to what is there: one that passes through the mesh or another patch is laid another way, or with the least harm. */
import { boxOf, flagInBoxes } from '@/core/mesh/in-box'
import { crossingsFrom } from '@/core/mesh/self-crossing'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { checkStop, quiet, type Work } from '@/core/base/work'
import { fairVertices } from './fair'
import { joinPatches, type Loop, type PatchGround } from './loop'
import { Patch } from './patch'
import { patchLoop, type HoleFill } from './patch-loop'

export interface Fill {
  readonly loop: Loop
  /** Patches in the order they were tried; the last one is the latest. */
  readonly tried: Patch[]
}

/** Other ways to lay a patch, best first. */
const others: Record<HoleFill, readonly HoleFill[]> = {
  curvature: ['smooth', 'flat'],
  smooth: ['flat'],
  flat: ['smooth'],
}

/** Gives all patches curvature that continues that round them; the tangent ones stay as a way back. */
export function continueCurvature(mesh: TriMesh, fills: readonly Fill[], work: Work = quiet): void {
  if (!fills.length) return
  const joined = joinPatches(
    mesh,
    fills.map(({ loop, tried }) => ({ loop, patch: tried[0] })),
  )
  const first = mesh.positions.length / 3
  const free = joined.positions.length / 3 - first
  const fair = fairVertices(
    joined,
    Array.from({ length: free }, (_, i) => first + i),
    3,
    work,
    // It starts from the tangent patch; on very large ones the last of its bending is not worth the wait.
    Math.max(200, Math.min(1500, Math.round(6e6 / Math.max(1, free)))),
  )
  let at = mesh.positions.length
  for (const { loop, tried } of fills) {
    const points = Float64Array.from(tried[0].points.subarray(0, 3 * tried[0].pointCount))
    for (let v = 0; v < tried[0].pointCount; v++) {
      if (v < loop.points.length && loop.vertices[v] >= 0) continue
      points.set(fair.positions.subarray(at, at + 3), 3 * v)
      at += 3
    }
    const faired = new Patch(points, loop.points.length, Array.from(tried[0].triangles), () => false)
    tried.unshift(faired)
  }
}

/** How often each patch crosses the mesh or another one. Only triangles within the patches' boxes are looked at. */
function crossingsOf(mesh: TriMesh, joined: TriMesh, counts: readonly number[]): number[] {
  const p = joined.positions,
    k = joined.triangles
  const old = triangleCount(mesh)
  const flags = new Uint8Array(triangleCount(joined))
  let first = old
  const boxes = counts.map((n) => {
    const own = Array.from({ length: n }, (_, i) => first + i)
    first += n
    return boxOf(joined, own)
  })
  flagInBoxes(joined, boxes, 0, flags, old)
  const near: number[] = []
  for (let t = 0; t < old; t++) if (flags[t]) near.push(t)
  const made = triangleCount(joined) - old
  const triangles = new Uint32Array(3 * (near.length + made))
  near.forEach((s, i) => triangles.set(k.subarray(3 * s, 3 * s + 3), 3 * i))
  triangles.set(k.subarray(3 * old), 3 * near.length)
  const of: number[] = []
  counts.forEach((n, i) => {
    for (let j = 0; j < n; j++) of.push(i)
  })
  const out = counts.map(() => 0)
  const pairs = crossingsFrom({ positions: p, triangles }, near.length)
  for (let i = 0; i < pairs.length; i += 2) {
    const s = pairs[i] - near.length,
      u = pairs[i + 1] - near.length
    if (s >= 0) out[of[s]]++
    if (u >= 0 && (s < 0 || of[u] !== of[s])) out[of[u]]++
  }
  return out
}

/** The mesh with its holes filled, each by the first way of laying its patch that crosses nothing, or by the one that crosses least. */
export function fitPatches(
  ground: PatchGround,
  fills: readonly Fill[],
  how: HoleFill,
  work: Work = quiet,
): { mesh: TriMesh; crossing: number } {
  if (!fills.length) return { mesh: ground.mesh, crossing: 0 }
  const now = fills.map(({ tried }) => tried[0])
  const join = () =>
    joinPatches(
      ground.mesh,
      fills.map(({ loop }, i) => ({ loop, patch: now[i] })),
    )
  let mesh = join()
  const count = () =>
    crossingsOf(
      ground.mesh,
      mesh,
      now.map((p) => p.triangles.length / 3),
    )
  let crosses = count()
  if (crosses.every((n) => !n)) return { mesh, crossing: 0 }
  const best = now.map((patch, i) => ({ patch, crosses: crosses[i] }))
  others[how].forEach((way, round) => {
    const bad = best.flatMap((b, i) => (b.crosses ? [i] : []))
    if (!bad.length) return
    checkStop(work)
    work.progress(round / others[how].length, 'fitting patches')
    for (const i of bad) {
      const { loop, tried } = fills[i]
      now[i] =
        way === 'smooth' && how === 'curvature'
          ? tried[1]
          : patchLoop(ground, loop, way, undefined, work, tried[tried.length - 1].start)
    }
    mesh = join()
    crosses = count()
    for (const i of bad) if (crosses[i] < best[i].crosses) best[i] = { patch: now[i], crosses: crosses[i] }
    best.forEach((b, i) => {
      now[i] = b.patch
    })
  })
  mesh = join()
  return { mesh, crossing: best.filter((b) => b.crosses).length }
}
