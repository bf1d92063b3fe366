/**
 * Regions found as a whole, at the noise by which they tell the mesh best: known beforehand, told by what the shapes themselves leave, or
 * the height of the chords where a drawn part was divided anew.
 */
import { span, type Work } from '@/core/base/work'
import type { SkinField } from '@/core/find/smooth-surface'
import { vertex, verticesOf, type TriMesh } from '@/core/mesh/tri-mesh'
import type { FaceNoise } from './face-noise'
import { shareFree, type Recognised, type Region } from './regions'
import { offsFrom } from './shape'
import { astray } from './whole/astray'
import { numbersOf } from './whole/fits'
import { mostSquare } from './whole/model'
import { fewRounds } from './whole/select'
import { regionsOf } from './whole/whole'

/** Whether what was drawn is told with fewer surfaces, or more of it. */
export const tellsMore = (drawn: Recognised, other: Recognised, whole: number): boolean =>
  shareFree(drawn.regions, whole) <= shareFree(other.regions, whole) + moreTold &&
  drawn.regions.length < fewerTimes * other.regions.length &&
  bare(drawn) <= bare(other)

/** Regions of no shape. */
const bare = (r: Pick<Recognised, 'regions'>) => r.regions.filter((x) => !x.shape).length

/** Corners of drawn parts lie on their surfaces to within this share of the size: files keep seven digits. */
export const cleanShare = 1e-6
/** Stretches of skin tell the noise where they hold more of it than this share. */
export const leastSeen = 0.2

/** How the noise is known: told or from faces, by trial where those are too few, or as the height of chords. */
export interface Noise {
  readonly by: 'known' | 'trial' | 'chords'
  /** Standard deviations that corners may be off by, mm, the first one to be tried first. */
  readonly sigmas: readonly number[]
}

/** Corners that are off by no more than a tolerance, mm. */
export const exactly = (within: number): Noise => ({ by: 'known', sigmas: [within / toleranceTimes] })

/** @param flattest what the flattest pairs of facets are off each other by, mm */
export function likelyNoise(
  tolerance: number | undefined,
  faces: FaceNoise,
  flattest: number,
  clean: boolean,
  size: number,
): Noise {
  if (tolerance) return exactly(tolerance)
  if (faces.share > leastSeen && faces.sigma > leastSigma * size)
    return { by: 'known', sigmas: [faces.sigma, 2.5 * faces.sigma] }
  // A drawn part that was refined lies off its round walls by the height of chords.
  if (clean) return { by: 'chords', sigmas: chordSigmas.map((s) => s * size) }
  // The flattest pairs of facets are off each other by less than corners are by noise.
  const from = Math.max(cleanShare * size, flattest / 3)
  return { by: 'trial', sigmas: [Math.min(trialSpan * from, mostSigma * size)] }
}

/** A shape's tolerance is so many standard deviations. */
const toleranceTimes = 4
/** In shares of the size: noise below this is none; what is tried where it is not known, or where chords are off. */
const leastSigma = 3e-6
const chordSigmas = [5e-5, 1.5e-4]
const mostSigma = 6e-4
const trialSpan = 30
/** What leaves no more than this of the skin without a shape is the drawn part itself. */
export const leastFree = 1e-3
/** Shapes that come in by less noise. */
const moreShapes = 4
/** More noise is taken for so many times fewer regions, or where so much more of the skin is told. */
const fewerTimes = 1.5
const moreTold = 0.05
/** Shapes that leave more than this of the skin are not what the part is made of. */
const mostLeft = 0.05
/** Nor are so many bits of this many triangles on the mean. */
const manyRegions = 60
const bitTriangles = 4

/**
 * What regions explain at a standard deviation, in units of information: each corner that a shape places, less what the shape is told by
 * (Rissanen 1978); and what corners are off by in truth, mm, as one standard deviation.
 */
function explained(
  mesh: TriMesh,
  regions: readonly Region[],
  sigma: number,
  size: number,
): { told: number; spread: number } {
  const each = Math.log(size / sigma)
  let [sum, free] = [0, 0]
  const squares: number[] = []
  for (const { shape, triangles } of regions) {
    if (!shape) continue
    const corners = verticesOf(mesh, triangles)
    const off = offsFrom(shape)
    const over = Math.max(0, corners.size - numbersOf[shape.kind])
    sum += over * each
    free += over
    for (const v of corners) {
      const square = off(vertex(mesh, v)) ** 2
      sum -= Math.min(mostSquare, square / sigma ** 2) / 2
      squares.push(square)
    }
  }
  const middle = Float64Array.from(squares).sort()[squares.length >> 1] ?? 0
  return { told: sum, spread: free ? Math.sqrt((middle / middleSquare) * (squares.length / free)) : 0 }
}

/** The median of the squares of normal numbers. */
const middleSquare = 0.455
/** Tries of the noise. */
const mostLevels = 4

/** Share of the skin in many small regions: a free surface told by bits of shapes. */
function bits(regions: readonly Region[], whole: number): number {
  const small = regions.filter((r) => r.shape && r.area < bitShare * whole)
  return small.length < manyBits ? 0 : small.reduce((s, r) => s + r.area, 0) / whole
}
const bitShare = 2e-3
const manyBits = 24

/** Whether round faces are of many triangles, as a refined part's are: bits of a free surface are small. */
function largeRounds(regions: readonly Region[]): boolean {
  const round = regions.filter((r) => r.shape && r.shape.kind !== 'plane')
  const each = round.length > fewRounds ? roundTriangles : fewTriangles
  return round.reduce((s, r) => s + r.triangles.length, 0) >= each * round.length
}
const roundTriangles = 150
const fewTriangles = 40

/** The regions by which the skin is told best; null where shapes do not tell it. */
export function labelled(
  field: SkinField,
  area: Float64Array,
  size: number,
  { sigmas, by }: Noise,
  work: Work,
): Recognised | null {
  const whole = area.reduce((a, b) => a + b, 0)
  const chords = by === 'chords'
  let best: Recognised | null = null
  let [left, most] = [1, -Infinity]
  const more = [...sigmas]
  for (let i = 0; more.length && i < mostLevels; i++) {
    const sigma = more.shift()!
    const part = span(work, (0.9 * i) / mostLevels, (0.9 * (i + 1)) / mostLevels)
    const limit = best && sigma < best.noise ? moreShapes * best.regions.length + 20 : undefined
    const found = regionsOf(field, area, sigma, size, part, {
      most: limit,
      ...(chords ? { roundTriangles } : {}),
    })
    // With less noise still it would be more.
    if (!found) break
    const regions = found.regions.map((r): Region => ({ ...r, area: r.triangles.reduce((s, t) => s + area[t], 0) }))
    const now = shareFree(regions, whole)
    const { told, spread } = explained(field.mesh, regions, sigma, size)
    const better = chords
      ? now < left - moreTold || (now < left + moreTold && best && regions.length * fewerTimes < best.regions.length)
      : told > most
    if (best && !better) continue
    most = told
    left = now
    best = { regions, of: found.of, tolerance: toleranceTimes * sigma, drawn: false, noise: sigma }
    if (by === 'trial') {
      // What is left over tells the noise.
      const next = Math.max(cleanShare * size, spread)
      if (next < sigma / 2) more.push(next)
    } else if (!bare(best)) break
  }
  if (!best || left + bits(best.regions, whole) > mostLeft || astray(best.regions)) return null
  if (chords && !largeRounds(best.regions)) return null
  return best.regions.length > manyRegions && area.length < bitTriangles * best.regions.length ? null : best
}
