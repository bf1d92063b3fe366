/**
 * Surfaces of a drawn part from its facets: corners of clean tessellations lie on the surfaces themselves, facets of one round wall are
 * alike and turn by like angles, and what is flat is one facet however many triangles it is cut into.
 */
import { StepError } from '@/core/base/step-error'
import { checkStop, type Work } from '@/core/base/work'
import type { SkinField } from '@/core/find/smooth-surface'
import { diagonal, meshBounds } from '@/core/mesh/tri-mesh'
import { fitKind, type Fitted } from '../fit-shape'
import { samplesOf } from '../samples'
import type { ShapeKind } from '../shape'
import { joinBands } from './bands'
import { facetsOf } from './facets'
import { asWall, bestOf, enoughFacets, triesFrom, wallsBeside, type Grown, type Search } from './grow'
import type { CleanRegion, RoundRegion } from './region'
import { joinRims } from './rims'
import { freeRuns, runOn } from './runs'

/** Corners that a shape has to explain: twice as many as it has freedoms. */
const leastCorners: Record<ShapeKind, number> = { plane: 3, cylinder: 8, cone: 12, sphere: 8, ring: 14 }
/** A ring so wide for its tube is nearly a cylinder, as which a wall that is none is taken by accident: it takes so many times more corners. */
const slowRing = (s: Fitted) => s.kind === 'ring' && s.radius! > 12 * s.thickness!
const slowTimes = 3
/** A shape that is off by more than so many times what the others are is none. */
const sureTimes = 8

/** Few facets alone tell a shape only as closely as numbers are kept: within this share of the size. */
const smallShare = 5e-7

/** Starts from one facet. */
const mostTries = 8

/** After so many starts that end nowhere it is asked whether this is a clean tessellation at all; after more no other is made. */
const manyFailures = 60
const mostFailures = 60
const moreFailures = 80
const fullTries = 30
/** So many facets round a start that ends nowhere, or one in 2^5 of all, are no starts at first. */
const leastVain = 40
const vainShift = 5
/** It is one when this share of its skin is told by then. */
const leastTold = 0.2

/** Where nothing comes of many starts, only those that tell most are made. */
function telling(tries: readonly number[][], failures: number): readonly number[][] {
  if (failures < fullTries) return tries.slice(0, mostTries)
  return tries.length > 2 ? [tries[0], tries[tries.length - 1]] : tries
}

/** Few corners lie on some ball or ring by accident, and smooth surfaces on one nearly: not as closely as on their own. `sure`: rms of the shapes that are no accident. */
function isAccident(
  { facets, within, size, step }: Search,
  { shape, region }: Grown,
  sure: readonly number[],
): boolean {
  const corners = new Set<number>()
  for (const k of region) for (const v of facets[k].corners) corners.add(v)
  if (corners.size < (slowRing(shape) ? slowTimes : 1) * leastCorners[shape.kind]) return true
  const small = region.length < enoughFacets ? Math.max(smallShare * size, step / 2) : within
  const usual = sure.length ? [...sure].sort((a, b) => a - b)[sure.length >> 1] : small / sureTimes
  return shape.rms > Math.max(sureTimes * usual, 1e-7 * size)
}

/** Round walls, from starts all over the part; null where it turns out to be no clean tessellation. */
function roundWalls(search: Search, work: Work, patience: number): RoundRegion[] | null {
  const { facets, taken } = search
  const out: RoundRegion[] = []
  const order = [...facets.keys()].sort((a, b) => facets[b].area - facets[a].area || a - b)
  const areaOf = (list: readonly number[]) => list.reduce((sum, k) => sum + facets[k].area, 0)
  const whole = areaOf([...facets.keys()])
  let done = 0
  let failures = 0
  let told = 0
  const sure: number[] = []
  /** Facets beside starts that ended nowhere: they would end there too. */
  const vain = new Uint8Array(facets.length)
  const hopelessly = () => failures >= patience && told < leastTold * whole
  /** Tries one facet; false when no more are to be tried. */
  const tryFrom = (seed: number, wide: boolean): boolean => {
    done++
    if (taken[seed] || vain[seed]) return true
    checkStop(work)
    work.progress(Math.min(0.9, (0.6 * done) / facets.length), `${out.length} regions`)
    const walls = wallsBeside(search, seed)
    const tries = triesFrom(search, seed, walls)
    const best = bestOf(search, telling(tries, failures))
    const found = best && asWall(search, best)
    if (!tries.length && wide) told += facets[seed].area
    if (!found || isAccident(search, found, sure)) {
      if (!tries.length) return true
      failures++
      if (failures > mostFailures + (wide ? 0 : moreFailures) || hopelessly()) return false
      const around = Math.max(leastVain, facets.length >> vainShift)
      for (const k of wide ? runOn(facets, taken, seed, around) : walls.map(([k]) => k)) vain[k] = 1
      return true
    }
    const { shape, region } = found
    if (region.length >= enoughFacets) sure.push(shape.rms)
    told += areaOf(region)
    for (const k of region) taken[k] = 1
    out.push({ shape, facets: region, triangles: region.flatMap((k) => facets[k].triangles) })
    return true
  }
  // Where a start ends nowhere its surroundings are left alone at first, so that the starts go round the whole part.
  for (const wide of [true, false]) {
    vain.fill(0)
    for (const seed of order) if (!tryFrom(seed, wide)) break
    if (hopelessly()) return null
  }
  return out
}

/** A flat facet as a region; none where it has no plane. */
function flatRegion(f: SkinField, triangles: number[]): CleanRegion[] {
  try {
    return [{ shape: fitKind('plane', samplesOf(f.mesh, triangles), {}, { lots: 0 }), triangles }]
  } catch (error) {
    if (!(error instanceof StepError)) throw error
    return []
  }
}

/**
 * Regions of a clean tessellation: round walls first, what is left is flat or bends on as a free surface. Null where it turns out to be none.
 * @param within mm: how far corners may lie off a shape
 * @param options.patience starts that may end nowhere before it is asked whether this is a clean tessellation
 * @param options.step mm: what coordinates were rounded to; 0 where they were not
 */
export function cleanRegions(
  f: SkinField,
  within: number,
  work: Work,
  { patience = manyFailures, step = 0 }: { patience?: number; step?: number } = {},
): CleanRegion[] | null {
  const size = diagonal(meshBounds(f.mesh)) || 1
  const { facets } = facetsOf(f, step)
  const taken = new Int8Array(facets.length)
  const walls = roundWalls({ field: f, facets, taken, within, size, step }, work, patience)
  if (!walls) return null
  const bands = joinBands(f, facets, walls, within, size)
  const flat = [...facets.keys()].filter((k) => !taken[k])
  const left = joinRims(f, facets, bands, flat, within)
  const free = freeRuns(facets, left.flat)
  const inFree = new Set(free.flat())
  return [
    ...left.round,
    ...left.flat.filter((k) => !inFree.has(k)).flatMap((k) => flatRegion(f, facets[k].triangles)),
    ...free.map((list): CleanRegion => ({ shape: null, triangles: list.flatMap((k) => facets[k].triangles) })),
  ]
}
