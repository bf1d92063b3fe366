/** Fewer triangles, with the deviation measured, not guessed. */
import { simplifyQuadric } from '@/core/kernels/simplifier'
import { buildTopology, nextIn, triangleOf } from '@/core/mesh/topology'
import { diagonal, meshBounds, triangleCount, triangleNormals, type TriMesh } from '@/core/mesh/tri-mesh'
import { deviation, plainReferenceOf, type Reference, type TwoSided } from '@/core/prove/deviation'
import { StepError } from '@/core/base/step-error'
import { checkStop, quiet, span, type Work } from '@/core/base/work'
import { keepSound } from './keep-sound'

export interface SimplifyAim {
  /** Triangles to end with. */
  readonly triangles?: number
  /** Greatest distance between before and after, mm, both ways. */
  readonly deviation?: number
  /** Edges that bend by more than this stay, degrees. */
  readonly keepEdges?: number
  readonly keepRims?: boolean
}

export interface Simplified {
  readonly mesh: TriMesh
  readonly deviation: TwoSided
  readonly tries: number
}

/** 1 for each end of an edge that bends by more than `degrees`. */
export function sharpVertices(mesh: TriMesh, degrees: number): Uint8Array {
  const t = buildTopology(mesh)
  const normals = triangleNormals(mesh)
  const limit = Math.cos((degrees * Math.PI) / 180)
  const out = new Uint8Array(mesh.positions.length / 3)
  for (let h = 0; h < t.twin.length; h++) {
    const w = t.twin[h]
    if (w <= h) continue
    const a = 3 * triangleOf(h),
      b = 3 * triangleOf(w)
    if (normals[a] * normals[b] + normals[a + 1] * normals[b + 1] + normals[a + 2] * normals[b + 2] >= limit) continue
    out[mesh.triangles[h]] = out[mesh.triangles[nextIn(h)]] = 1
  }
  return out
}

/**
 * Simplifies to a count, or as far as a measured two-sided deviation allows. Quadric error keeps triangles where the skin bends and
 * spends few where it is flat. A sound skin stays sound.
 */
export async function simplify(mesh: TriMesh, aim: SimplifyAim, work: Work = quiet): Promise<Simplified> {
  const locked = aim.keepEdges !== undefined ? sharpVertices(mesh, aim.keepEdges) : undefined
  const lockRims = aim.keepRims ?? true
  const n = triangleCount(mesh)
  if (!n) throw new StepError('empty', 'There is no triangle to simplify.')
  work.progress(0.05, 'simplifying')
  const samples = Math.min(60_000, Math.max(10_000, n >> 5))
  let original: Reference | undefined
  const measure = (out: TriMesh, part: Work) =>
    deviation(
      out,
      mesh,
      { samples, toFirst: plainReferenceOf(out), toSecond: (original ??= plainReferenceOf(mesh)) },
      part,
    )
  if (n < 8) return { mesh, deviation: measure(mesh, work), tries: 0 }
  if (aim.deviation === undefined) {
    const { mesh: raw } = await simplifyQuadric(mesh, {
      triangles: aim.triangles ?? n,
      error: 10 * diagonal(meshBounds(mesh)),
      locked,
      lockRims,
    })
    checkStop(work)
    const out = keepSound(raw, span(work, 0.3, 0.5))
    return { mesh: out, deviation: measure(out, span(work, 0.5, 1)), tries: 1 }
  }
  // The quadrics' error is no distance, so the bound on it is sought by halving until the measured one fits.
  let low = 0,
    high = 4 * aim.deviation
  let best: Simplified | null = null
  for (let tries = 1; tries <= 8; tries++) {
    const error = tries === 1 ? aim.deviation : (low + high) / 2
    const { mesh: raw } = await simplifyQuadric(mesh, { triangles: aim.triangles ?? 4, error, locked, lockRims })
    checkStop(work)
    const out = keepSound(raw, span(work, (tries - 0.5) / 9, tries / 9))
    const d = measure(out, span(work, tries / 9, (tries + 1) / 9))
    if (d.both.max <= aim.deviation) {
      if (!best || triangleCount(out) < triangleCount(best.mesh)) best = { mesh: out, deviation: d, tries }
      low = error
      // Flat areas cost no distance at all: the bound may go up by far more.
      if (d.both.max < 0.3 * aim.deviation) high = Math.max(high, 8 * error)
    } else high = error
    if (best && d.both.max <= aim.deviation && d.both.max > 0.85 * aim.deviation) break
  }
  return best ?? { mesh, deviation: measure(mesh, span(work, 0.9, 1)), tries: 8 }
}
