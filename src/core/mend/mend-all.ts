/** One click: weld, split, face outward, clear specks, take out degenerate triangles and folds, close holes, untangle; then a check-up of the result. */
import { buildTopology } from '@/core/mesh/topology'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { weldMesh } from '@/core/mesh/weld'
import { StepError } from '@/core/base/step-error'
import { checkStop, span, quiet, type Work } from '@/core/base/work'
import { checkUp, faultCount, faultWords, type CheckUpFacts } from '@/core/mesh/check-up'
import { findDegenerate, findFolded } from '@/core/mesh/defects'
import { loyaltyOf, type Loyalty } from '@/core/prove/loyalty'
import { closeHoles } from './close-holes'
import { smoothFolds } from './folds'
import { faceOutward } from '@/core/mesh/orient'
import { removeDegenerate } from './slivers'
import { clearSpecks } from './specks'
import { splitNonManifold } from './split-non-manifold'
import { untangle } from './untangle'

export interface MendChoice {
  /** Pieces with less area than this share of the largest are specks. */
  readonly speckShare: number
  readonly fill: 'flat' | 'smooth'
  readonly weldWithin?: number
}

export interface Mended {
  readonly mesh: TriMesh
  readonly before: CheckUpFacts
  readonly after: CheckUpFacts
  readonly welded: number
  readonly specks: number
  readonly holesClosed: number
  readonly longestRim: number
  /** Against the input, specks cleared and its faults aside. */
  readonly loyalty: Loyalty
}

/** Coordinates that are no numbers make their triangles unusable: they go first. */
export function dropBadCoordinates(mesh: TriMesh): { mesh: TriMesh; dropped: number } {
  const { positions: p, triangles: k } = mesh
  const bad = new Uint8Array(p.length / 3)
  let any = false
  for (let v = 0; v < bad.length; v++)
    if (!(Number.isFinite(p[3 * v]) && Number.isFinite(p[3 * v + 1]) && Number.isFinite(p[3 * v + 2]))) {
      bad[v] = 1
      any = true
    }
  if (!any) return { mesh, dropped: 0 }
  const kept: number[] = []
  for (let t = 0; t < k.length; t += 3)
    if (!bad[k[t]] && !bad[k[t + 1]] && !bad[k[t + 2]]) kept.push(k[t], k[t + 1], k[t + 2])
  const positions = p.slice()
  for (let v = 0; v < bad.length; v++) if (bad[v]) positions.fill(0, 3 * v, 3 * v + 3)
  return { mesh: { positions, triangles: Uint32Array.from(kept) }, dropped: (k.length - kept.length) / 3 }
}

/** Local clean-up that never opens anything: degenerate triangles out, split, facing. */
function tidy(mesh: TriMesh, work: Work): TriMesh {
  const cleared = removeDegenerate(mesh)
  checkStop(work)
  return faceOutward(splitNonManifold(cleared.mesh).mesh, work).mesh
}

/**
 * Mends everything. The result is closed, outward, manifold and free of crossings, or `after` says what is left; the candidate with the
 * fewest faults wins, so the result never has more faults than the input.
 */
export function mendAll(input: TriMesh, choice: MendChoice, work: Work = quiet): Mended {
  if (!triangleCount(input))
    throw new StepError('empty', 'There is no triangle to mend.', { tryThis: 'Bring in a file that holds a skin.' })
  const before = checkUp(input, span(work, 0, 0.12)).facts
  if (faultCount(before) === 0)
    return {
      ...{ mesh: input, before, after: before, welded: 0, specks: 0, holesClosed: 0, longestRim: 0 },
      loyalty: loyaltyOf(input, input),
    }
  let best: { mesh: TriMesh; facts: CheckUpFacts } = { mesh: input, facts: before }
  let judged = false
  const judge = (mesh: TriMesh, part: Work): CheckUpFacts => {
    const facts = checkUp(mesh, part).facts
    if (!judged || faultCount(facts) < faultCount(best.facts)) {
      if (faultCount(facts) <= faultCount(before)) {
        best = { mesh, facts }
        judged = true
      }
    }
    return facts
  }
  work.progress(0.12, 'welding')
  const sound = dropBadCoordinates(input).mesh
  const welded = weldMesh(sound, choice.weldWithin)
  let mesh = welded.mesh
  if (!triangleCount(mesh))
    throw new StepError('empty', 'Every triangle of this mesh is smaller than the welding distance.', {
      tryThis: 'Set a smaller welding distance, or scale the body up first.',
    })
  work.progress(0.16, 'clearing specks')
  const specks = clearSpecks(mesh, { share: choice.speckShare })
  mesh = specks.mesh
  const scanned = mesh
  work.progress(0.2, 'facing outward')
  mesh = tidy(mesh, work)
  mesh = smoothFolds(mesh, {}, span(work, 0.24, 0.3)).mesh
  const filled = closeHoles(mesh, { how: choice.fill, scraps: true }, span(work, 0.3, 0.45))
  mesh = filled.mesh
  let facts = judge(mesh, span(work, 0.45, 0.55))
  if (faultCount(facts)) {
    for (let round = 0; round < 3 && faultCount(facts); round++) {
      const part = span(work, 0.55 + round * 0.15, 0.55 + (round + 1) * 0.15)
      checkStop(work)
      mesh = untangle(mesh, { folds: true, rounds: 8 }, span(part, 0, 0.75)).mesh
      mesh = tidy(mesh, work)
      if (buildTopology(mesh).openEdges) mesh = closeHoles(mesh, { how: round < 2 ? choice.fill : 'flat' }, work).mesh
      facts = judge(mesh, span(part, 0.75, 1))
      // What a round could not free is loosened before the next one.
      if (facts.folded) mesh = smoothFolds(mesh, { rings: 2, passes: 16 }, work).mesh
    }
  }
  const unsound = new Uint8Array(triangleCount(scanned))
  for (const t of [...findDegenerate(scanned), ...findFolded(scanned, buildTopology(scanned))]) unsound[t] = 1
  const loyalty = loyaltyOf(scanned, best.mesh, unsound, { signal: work.signal, progress: () => {} })
  work.progress(1, faultCount(best.facts) ? `left: ${faultWords(best.facts)}` : 'closed and sound')
  return {
    mesh: best.mesh,
    before,
    after: best.facts,
    welded: welded.joined,
    specks: specks.removed,
    holesClosed: filled.closed,
    longestRim: filled.longest,
    loyalty,
  }
}
