/** Fewer triangles, with the deviation measured, not guessed. */
import { simplifyQuadric } from '@/core/kernels/simplifier'
import { findFolded } from '@/core/mesh/defects'
import { findSelfCrossings } from '@/core/mesh/self-crossing'
import { buildTopology, cornerFans, nextIn, triangleOf } from '@/core/mesh/topology'
import { diagonal, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleNormals } from '@/core/mesh/triangle'
import { deviation, plainReferenceOf, type Reference, type TwoSided } from '@/core/gauge/deviation'
import { StepError } from '@/core/base/step-error'
import { checkStop, quiet, span, type Work } from '@/core/base/work'
import { closeHoles } from './close-holes'
import { collapseEdges } from './collapse/collapse'
import { keepSound } from './keep-sound'
import { cleanUp } from './tidy'
import { untangle } from './untangle'

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

/** More triangles than this are always brought down roughly first. */
const mostWithCare = 400_000
/**
 * Quadrics bring a mesh down to this many times the count; the rest is collapsed by the skin as it is then, which is slower and keeps more.
 * Of a very fine mesh less is left to that: noise is most of what it holds.
 */
const roughlyTo = (triangles: number): number => (triangles > mostWithCare ? 2 : 3)
/** A count that gives faults is raised by this factor, so many times. */
const mostTries = 8,
  raise = 1.6
/** So is one where mending the faults takes most of the skin with it, or where the skin comes this share of the diagonal off. */
const leastShare = 0.7,
  farthest = 0.05

/** Faults a simplified skin must not have. */
function faultsMade(mesh: TriMesh): number {
  const t = buildTopology(mesh)
  return (
    t.nonManifoldEdges +
    cornerFans(mesh, t).manyFans.length +
    findFolded(mesh, t).length +
    findSelfCrossings(mesh).length / 2
  )
}

/** What is to be brought down, with what is told of it once. */
interface Start {
  readonly mesh: TriMesh
  readonly size: number
  readonly openEdges: number
}

async function toCount(
  { mesh, size, openEdges: open }: Start,
  target: number,
  keepEdges: number | undefined,
  lockRims: boolean,
  work: Work,
): Promise<TriMesh> {
  const n = triangleCount(mesh)
  const roughly = roughlyTo(n)
  let start = mesh
  if (n > 1.3 * roughly * target) {
    const locked = keepEdges === undefined ? undefined : sharpVertices(mesh, keepEdges)
    // Edges that hold more corners than the rough count has would leave nothing for the rest: then all is collapsed with care.
    const held = locked ? locked.reduce((s, v) => s + v, 0) : 0
    if (!locked || 4 * held < roughly * target || n > mostWithCare) {
      const { mesh: raw } = await simplifyQuadric(mesh, {
        triangles: roughly * target,
        error: 10 * size,
        locked: 4 * held < roughly * target ? locked : undefined,
        lockRims,
      })
      checkStop(work)
      start = cleanUp(raw)
      // What was torn on the way is brought down with care instead, or closed again where that would take too long.
      if (buildTopology(start).openEdges > open)
        start = n <= mostWithCare ? mesh : open ? start : closeHoles(start, { how: 'flat', accept: () => true }).mesh
    }
  }
  return collapseEdges(start, { triangles: target, lockRims, keepEdges }, work)
}

/**
 * Simplifies to a count, or as far as a measured two-sided deviation allows. Quadric error keeps triangles where the skin bends and
 * spends few where it is flat. A sound skin stays sound.
 */
export async function simplify(mesh: TriMesh, aim: SimplifyAim, work: Work = quiet): Promise<Simplified> {
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
  return aim.deviation === undefined
    ? simplifyToCount(mesh, aim, measure, work)
    : simplifyWithin(mesh, aim, aim.deviation, measure, work)
}

type Measure = (out: TriMesh, part: Work) => Simplified['deviation']

/** A skin brought down, with its few faults mended where they are; where there are many, all of it is untangled. `open`: its open edges before. */
function mendedInPlace(raw: TriMesh, open: number, work: Work): { mesh: TriMesh; faults: number } {
  const judged = (mesh: TriMesh) => ({
    mesh,
    faults: faultsMade(mesh) + Math.max(0, buildTopology(mesh).openEdges - open),
  })
  const kept = judged(keepSound(raw, span(work, 0, 0.5)))
  if (!kept.faults) return kept
  const free = judged(untangle(kept.mesh, { folds: true, rounds: 6 }, span(work, 0.5, 1)).mesh)
  return free.faults < kept.faults ? free : kept
}

/** To a count of triangles; one that cannot be had soundly is given up for a higher one. */
async function simplifyToCount(mesh: TriMesh, aim: SimplifyAim, measure: Measure, work: Work): Promise<Simplified> {
  const lockRims = aim.keepRims ?? true
  const n = triangleCount(mesh)
  let target = Math.max(4, aim.triangles ?? n)
  let best: (Simplified & { harm: number }) | null = null
  const size = diagonal(meshBounds(mesh))
  const open = buildTopology(mesh).openEdges
  const start: Start = { mesh, size, openEdges: open }
  for (let tries = 1; tries <= mostTries; tries++) {
    const each = span(work, tries === 1 ? 0.05 : 0.6 + 0.08 * (tries - 2), tries === 1 ? 0.6 : 0.6 + 0.08 * (tries - 1))
    const raw = await toCount(start, target, aim.keepEdges, lockRims, span(each, 0, 0.5))
    const { mesh: out, faults } = mendedInPlace(raw, open, span(each, 0.5, 0.7))
    const d = measure(out, span(each, 0.7, 1))
    const fits = triangleCount(out) >= leastShare * triangleCount(raw) && d.both.max <= farthest * size
    // One that fits is better than any that does not; of those the nearer one.
    const harm = fits ? faults : 1e6 + faults + 1e6 * (d.both.max / size)
    if (!best || harm < best.harm) best = { mesh: out, deviation: d, tries, harm }
    if ((!faults && fits) || raise * target > n) break
    target = Math.ceil(raise * target)
  }
  const { mesh: out, deviation: d, tries } = best!
  return { mesh: out, deviation: d, tries }
}

/** To as few triangles as a measured deviation allows. */
async function simplifyWithin(
  mesh: TriMesh,
  aim: SimplifyAim,
  bound: number,
  measure: Measure,
  work: Work,
): Promise<Simplified> {
  const locked = aim.keepEdges !== undefined ? sharpVertices(mesh, aim.keepEdges) : undefined
  const lockRims = aim.keepRims ?? true
  // The quadrics' error is no distance, so the bound on it is sought by halving until the measured one fits.
  let low = 0,
    high = 4 * bound
  let best: Simplified | null = null
  for (let tries = 1; tries <= 8; tries++) {
    const error = tries === 1 ? bound : (low + high) / 2
    const { mesh: raw } = await simplifyQuadric(mesh, { triangles: aim.triangles ?? 4, error, locked, lockRims })
    checkStop(work)
    const out = keepSound(raw, span(work, (tries - 0.5) / 9, tries / 9))
    const d = measure(out, span(work, tries / 9, (tries + 1) / 9))
    if (d.both.max <= bound) {
      if (!best || triangleCount(out) < triangleCount(best.mesh)) best = { mesh: out, deviation: d, tries }
      low = error
      // Flat areas cost no distance at all: the bound may go up by far more.
      if (d.both.max < 0.3 * bound) high = Math.max(high, 8 * error)
    } else high = error
    if (best && d.both.max <= bound && d.both.max > 0.85 * bound) break
  }
  return best ?? byCount(mesh, aim, bound, measure, work)
}

/** Counts that are tried, as shares, where no bound on the quadrics keeps the distance. */
const shares = [0.5, 0.75, 0.9, 0.97]

/**
 * Where one bad place spoils every bound on the quadrics: edges are collapsed with care, shortest first, to the fewest triangles whose
 * measured distance still fits; the mesh itself where none does.
 */
function byCount(mesh: TriMesh, aim: SimplifyAim, bound: number, measure: Measure, work: Work): Simplified {
  const lockRims = aim.keepRims ?? true
  const n = triangleCount(mesh)
  let tries = 8
  for (const share of shares) {
    tries++
    const each = span(work, 0.9 + 0.02 * (tries - 9), 0.9 + 0.02 * (tries - 8))
    const out = collapseEdges(mesh, { triangles: Math.round(share * n), lockRims, keepEdges: aim.keepEdges }, each)
    const d = measure(out, each)
    if (d.both.max <= bound && !faultsMade(out)) return { mesh: out, deviation: d, tries }
  }
  return { mesh, deviation: measure(mesh, span(work, 0.99, 1)), tries }
}
