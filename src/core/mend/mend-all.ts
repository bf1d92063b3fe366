/** One click: what a mesh is made of is seen first, then every piece is mended as what it is, and the result is held to what was scanned. */
import { setApart } from './set-apart'
import { buildTopology, type Rim } from '@/core/mesh/topology'
import { meshArea } from '@/core/mesh/measures'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { weldMesh } from '@/core/mesh/weld'
import { StepError } from '@/core/base/step-error'
import { checkStop, span, quiet, type Work } from '@/core/base/work'
import { checkUp, inspect, faultCount, faultWords, type CheckUpFacts } from '@/core/mesh/check-up'
import { findDegenerate, findFolded } from '@/core/mesh/defects'
import { loyaltyOf, mostLost, type Loyalty } from '@/core/gauge/loyalty'
import type { Vec3 } from '@/core/math/vec'
import { bordersAt, openBorders, type Border } from './borders'
import { closeBorders } from './close-borders'
import { closeHoles } from './close-holes'
import { faceOutward } from '@/core/mesh/orient'
import { dropDoubled } from './doubled-skin'
import { smoothFolds } from './folds'
import { joinPlateSides } from './plate-sides'
import { dropBadCoordinates } from '@/core/mesh/bad-coordinates'
import { clearSpecks } from './specks'
import { resolveCrossings, withinPieces } from './resolve-crossings'
import { splitNonManifold } from './split-non-manifold'
import { survey, surveyWords, type Survey } from './survey'
import { cleanUp, tidy } from './tidy'

export interface MendChoice {
  /** Open pieces with less area than this share of the largest are specks; closed ones below a third of it. */
  readonly speckShare: number
  readonly fill: 'flat' | 'smooth'
  readonly weldWithin?: number
  /** Close the border of open sheets too. */
  readonly closeBorder?: boolean
  /** Places on borders that are to be closed though others stay open. */
  readonly closeAt?: readonly Vec3[]
  /** Pieces that cross stay apart, each mended by itself. */
  readonly keepApart?: boolean
}

export interface Mended {
  readonly mesh: TriMesh
  readonly before: CheckUpFacts
  readonly after: CheckUpFacts
  readonly welded: number
  readonly specks: number
  /** Share of the area that went as specks, 0 to 1. */
  readonly speckShare: number
  readonly holesClosed: number
  readonly longestRim: number
  /** What the mesh was seen to be: "an open sheet". */
  readonly seen: string
  /** Open pieces that lay on others and went, and pairs of sheets joined to plates. */
  readonly doubled: number
  readonly plates: number
  /** Triangles cut where shells crossed. */
  readonly cut: number
  /** Rims that are the border of an open sheet, at first and at the end, and the edges of those that stay open. */
  readonly bordersBefore: number
  readonly borders: number
  readonly borderEdges: number
  /** Those that stay open, one by one. */
  readonly left: readonly Border[]
  /** Borders that were to be closed and could not be. */
  readonly refused: number
  /** Crossings between pieces that were kept apart. */
  readonly between: number
  /** Against the input, specks cleared and its faults aside. */
  readonly loyalty: Loyalty
}

/** A border that was to be closed and is still there lies at the place that told it, as a share of its length. */
const veryPlace = 1e-4

/** Rims that are holes, told by their half-edges: those that are no border of an open sheet. */
function holesOf(s: Survey, closeBorder: boolean): (rim: Rim) => boolean {
  if (closeBorder) return () => true
  const border = new Set(s.rims.flatMap((rim, r) => (s.border[r] ? rim.halfEdges : [])))
  return (rim) => !border.has(rim.halfEdges[0])
}

/** Rims that are borders, and their edges. */
function bordersOf(s: Survey): { borders: number; borderEdges: number } {
  const rims = s.rims.filter((_, r) => s.border[r])
  return { borders: rims.length, borderEdges: rims.reduce((n, rim) => n + rim.halfEdges.length, 0) }
}

/** A mesh on the way, with what is wrong with it. */
interface Stage {
  readonly mesh: TriMesh
  readonly facts: CheckUpFacts
  readonly crossings: Uint32Array | null
  readonly borders: number
  readonly borderEdges: number
  /** Crossings between pieces that are to stay apart. */
  readonly between: number
  readonly united: boolean
}
/** Work that can be stopped and tells nothing. */
const quietOf = (work: Work): Work => ({ signal: work.signal, progress: () => {} })

/** Faults that mending is to bring down: what is left open or crossing by choice is none. */
const faultsOf = (s: Stage): number => faultCount(s.facts) - Math.min(s.borderEdges, s.facts.openEdges) - s.between

/** What the first pass made of a mesh, and what it found on the way. */
interface FirstPass {
  readonly mesh: TriMesh
  /** Without specks, as it was scanned: what loyalty is measured to. */
  readonly scanned: TriMesh
  readonly welded: ReturnType<typeof weldMesh>
  readonly specks: ReturnType<typeof clearSpecks>
  readonly filled: ReturnType<typeof closeHoles>
  readonly seen: ReturnType<typeof surveyWords>
  readonly borders: number
  readonly borderEdges: number
  readonly doubled: number
  readonly plates: number
}

/** All mends but the resolving of crossings, one after the other. */
function firstPass(input: TriMesh, choice: MendChoice, work: Work): FirstPass {
  work.progress(0.12, 'welding')
  const welded = weldMesh(dropBadCoordinates(input).mesh, choice.weldWithin)
  if (!triangleCount(welded.mesh))
    throw new StepError('empty', 'Every triangle of this mesh is smaller than the welding distance.', {
      tryThis: 'Set a smaller welding distance, or scale the body up first.',
    })
  work.progress(0.16, 'clearing specks')
  const specks = clearSpecks(welded.mesh, { share: choice.speckShare, closedShare: choice.speckShare / 3 })
  const scanned = specks.mesh
  work.progress(0.2, 'facing outward')
  // Doubled skins are told while they still face as they were scanned: alone, a sheet's outside is a guess.
  const found = survey(cleanUp(scanned, false))
  const words = surveyWords(found)
  const first = choice.closeBorder ? { borders: 0, borderEdges: 0 } : bordersOf(found)
  const single = dropDoubled(found)
  let mesh = faceOutward(single.mesh, work).mesh
  mesh = smoothFolds(mesh, {}, span(work, 0.24, 0.3)).mesh
  let seen = survey(mesh)
  const plates = joinPlateSides(seen)
  if (plates.joined) seen = survey(plates.mesh)
  const filled = closeHoles(
    seen.mesh,
    { how: choice.fill, scraps: true, accept: holesOf(seen, false) },
    span(work, 0.3, 0.43),
  )
  mesh = filled.mesh
  if (choice.closeBorder) mesh = closeBorders(mesh, choice.fill, span(work, 0.43, 0.45))
  else if (choice.closeAt?.length) mesh = closeBorders(mesh, choice.fill, span(work, 0.43, 0.45), choice.closeAt)
  mesh = splitNonManifold(mesh).mesh
  return {
    ...{ mesh, scanned, welded, specks, filled, seen: words, ...first },
    ...{ doubled: single.dropped, plates: plates.joined },
  }
}

/** A mesh with what is wrong with it. */
function judged(mesh: TriMesh, united: boolean, choice: MendChoice, work: Work): Stage {
  const {
    checkUp: { facts },
    crossings,
  } = inspect(mesh, work)
  const apart = choice.keepApart ?? false
  return {
    ...{ mesh, facts, crossings, united },
    ...(facts.openEdges && !choice.closeBorder ? bordersOf(survey(mesh)) : { borders: 0, borderEdges: 0 }),
    between: apart && facts.selfCrossings ? facts.selfCrossings - withinPieces(mesh, crossings).length / 2 : 0,
  }
}

/** Rounds of resolving what crosses; gives the stages on the way, and how many triangles were cut. */
function resolved(start: TriMesh, choice: MendChoice, work: Work): { stages: Stage[]; cut: number } {
  const apart = choice.keepApart ?? false
  let mesh = start
  let stage = judged(mesh, false, choice, span(work, 0.45, 0.55))
  const stages = [stage]
  let cut = 0,
    united = false
  for (let round = 0; round < 3 && faultsOf(stage) > 0; round++) {
    const part = span(work, 0.55 + round * 0.13, 0.55 + (round + 1) * 0.13)
    checkStop(work)
    // Smoothing after the last look may have changed them.
    const known = stage.mesh === mesh ? stage.crossings : null
    const free = resolveCrossings(mesh, { apart, folds: true, known: known ?? undefined }, span(part, 0, 0.75))
    cut += free.cut
    united ||= free.united
    mesh = tidy(free.mesh, work)
    if (buildTopology(mesh).openEdges) {
      const accept = holesOf(survey(mesh), choice.closeBorder ?? false)
      mesh = closeHoles(mesh, { how: round < 2 ? choice.fill : 'flat', accept }, work).mesh
    }
    stage = judged(mesh, united, choice, span(part, 0.75, 1))
    stages.push(stage)
    // What a round could not free is loosened before the next one.
    if (stage.facts.folded) mesh = smoothFolds(mesh, { rings: 2, passes: 16 }, work).mesh
  }
  return { stages, cut }
}

/** The stage of fewest faults that has not lost more of the sound skin than it may; the start when all have. */
function bestOf(
  stages: readonly Stage[],
  start: Stage,
  scanned: TriMesh,
  work: Work,
): { best: Stage; loyalty: Loyalty } {
  const unsound = new Uint8Array(triangleCount(scanned))
  for (const t of [...findDegenerate(scanned), ...findFolded(scanned, buildTopology(scanned))]) unsound[t] = 1
  const measure = (s: Stage) =>
    loyaltyOf(scanned, s.mesh, { unsound, united: s.united, quick: true, work: quietOf(work) })
  // Fewest faults first; the input closes the row, and none with more than it has.
  const row = [...stages.filter((s) => faultsOf(s) <= faultsOf(start)).sort((a, b) => faultsOf(a) - faultsOf(b)), start]
  let best = row[0],
    loyalty = measure(best)
  for (const other of row.slice(1)) {
    if (loyalty.lost <= mostLost) break
    const l = measure(other)
    if (l.lost >= loyalty.lost) continue
    best = other
    loyalty = l
  }
  return { best, loyalty }
}

/**
 * Mends everything: welds, clears specks, takes out triangles without area, splits, faces outward, smooths folds, drops doubled skins, joins
 * the sides of plates, closes holes, unites what crosses. Open sheets stay open at their border unless asked otherwise. Of the stages on the
 * way the one with the fewest faults wins that has not lost more of the sound skin than it may; the input itself when all have.
 */
export function mendAll(input: TriMesh, choice: MendChoice, work: Work = quiet): Mended {
  if (!triangleCount(input))
    throw new StepError('empty', 'There is no triangle to mend.', { tryThis: 'Bring in a file that holds a skin.' })
  const before = checkUp(input, span(work, 0, 0.12)).facts
  if (faultCount(before) === 0)
    return {
      ...{
        mesh: setApart(input).mesh,
        before,
        after: before,
        welded: 0,
        specks: 0,
        speckShare: 0,
        holesClosed: 0,
        longestRim: 0,
      },
      ...{
        doubled: 0,
        plates: 0,
        cut: 0,
        bordersBefore: 0,
        borders: 0,
        borderEdges: 0,
        left: [],
        refused: 0,
        between: 0,
      },
      seen: surveyWords(survey(input)),
      loyalty: loyaltyOf(input, input),
    }
  const first = firstPass(input, choice, work)
  const { borders, borderEdges, specks, welded, filled } = first
  const { stages, cut } = resolved(first.mesh, choice, work)
  const start: Stage = { mesh: input, facts: before, crossings: null, borders, borderEdges, between: 0, united: false }
  const { best, loyalty } = bestOf(stages, start, first.scanned, work)
  work.progress(1, faultsOf(best) ? `left: ${faultWords(best.facts)}` : 'sound')
  const kept = best.mesh !== input
  // What is told is told of the coordinates that files hold.
  const written = setApart(best.mesh)
  const found = best.borders ? survey(written.mesh) : null
  const after = { ...best.facts, nonManifoldEdges: best.facts.nonManifoldEdges + written.left }
  return {
    ...{ mesh: written.mesh, before, after, loyalty, seen: first.seen },
    ...{ bordersBefore: borders, borders: best.borders, borderEdges: best.borderEdges },
    left: found ? openBorders(found) : [],
    refused: found ? bordersAt(found, choice.closeAt ?? [], veryPlace).size : 0,
    between: best.between,
    welded: welded.joined,
    specks: kept ? specks.removed : 0,
    speckShare: kept ? specks.area / (meshArea(welded.mesh) || 1) : 0,
    holesClosed: kept ? filled.closed : 0,
    longestRim: kept ? filled.longest : 0,
    doubled: kept ? first.doubled : 0,
    plates: kept ? first.plates : 0,
    cut: best.united ? cut : 0,
  }
}
