/** The round shape that explains most round a facet: from tries of a few facets, grown over all that lie on it. */
import type { SkinField } from '@/core/find/smooth-surface'
import type { Fitted } from '../fit-shape'
import { alike, liesOn, wallTurn, type Facet } from './facets'
import { runOn } from './runs'
import { through } from './through'

/** A search for round walls; lengths in mm. */
export interface Search {
  readonly field: SkinField
  readonly facets: readonly Facet[]
  /** 1 for each facet that has its region. */
  readonly taken: Int8Array
  readonly within: number
  /** Diagonal of the part. */
  readonly size: number
  /** What coordinates were rounded to; 0 where they were not. */
  readonly step: number
}
export interface Grown {
  readonly shape: Fitted
  readonly region: readonly number[]
}

/** With so many facets on it a shape is no accident: no other start is tried. */
export const enoughFacets = 10
/** Facets that a round wall has at least. */
const leastFacets = 3
/** Shapes of rounded corners grow in so many rounds. */
const roundedRounds = 6
/** So many facets of a strip are tried. */
const stripFacets = [8, 14]
/** At most so many facets take part in a fit. */
const fitFacets = 400
/** At most so many facets are a try. */
const mostNear = 40

/** Facets beside one that may be of one wall with it, with their turn. */
export const wallsBeside = ({ facets, taken }: Search, seed: number): [number, number][] =>
  [...facets[seed].beside].filter(
    ([k, turn]) => !taken[k] && turn < wallTurn && facets[seed].area < alike * facets[k].area,
  )

/** Sets of facets round one that may tell a wall, the most telling first. */
export function triesFrom({ facets, taken }: Search, seed: number, walls: readonly [number, number][]): number[][] {
  // The seed with one neighbour and that one's next: three facets in a row tell a wall; then with all neighbours.
  const tries: number[][] = []
  for (const [k, turn] of walls) {
    const next = [...facets[k].beside].find(
      ([j, t]) =>
        j !== seed &&
        !taken[j] &&
        Math.abs(t - turn) < 0.25 * turn + 1e-3 &&
        facets[k].area < alike * facets[j].area &&
        facets[j].area < alike * facets[k].area,
    )
    if (next) tries.push([seed, k, next[0]])
  }
  // All neighbours first: a ball or ring is told by them at once.
  if (walls.length > 1) tries.unshift([seed, ...walls.map(([k]) => k)])
  if (walls.length > 2) {
    // With those beyond as well: inner corners have whole normals, which a ring's start needs.
    const near = new Set([seed, ...walls.map(([k]) => k)])
    for (const [k] of walls)
      for (const [j, turn] of facets[k].beside)
        if (!taken[j] && turn < wallTurn && facets[k].area < alike * facets[j].area) near.add(j)
    tries.unshift([...near].slice(0, mostNear))
  }
  // Walls whose corners stand aslant fall into single triangles, and take more of them to be told.
  if (walls.length && walls.length < 3) for (const many of stripFacets) tries.push(runOn(facets, taken, seed, many))
  return tries
}

/** All facets reached from some that lie on a shape. */
function spread({ field, facets, taken, within }: Search, from: readonly number[], shape: Fitted): number[] {
  const seen = new Set(from)
  for (const k of seen)
    for (const [j, turn] of facets[k].beside)
      if (!seen.has(j) && !taken[j] && turn < wallTurn && liesOn(field, facets[j], shape, within)) seen.add(j)
  return [...seen]
}

const fitsOf = ({ field, facets, within, size }: Search, list: readonly number[], kind: Fitted['kind']): Fitted[] =>
  through(
    field,
    list.slice(0, fitFacets).map((k) => facets[k]),
    within,
    size,
    [kind],
  )

/** A shape with all that lies on it: what has grown tells it better, once more from there; where corners were rounded, step by step. */
function grown(search: Search, some: readonly number[], first: Fitted): Grown {
  let shape = first
  let region = spread(search, some, shape)
  for (let round = 0; round < (search.step ? roundedRounds : 1); round++) {
    const before = region.length
    const [better] = before > some.length ? fitsOf(search, region, shape.kind) : []
    const more = better ? spread(search, some, better) : []
    if (!better || (search.step && more.length < before)) break
    shape = better
    region = more
    if (region.length === before) break
  }
  return { shape, region }
}

/** What explains most skin of all that some tries tell. */
export function bestOf(search: Search, tries: readonly (readonly number[])[]): Grown | null {
  const { field, facets, within, size } = search
  let best: Grown | null = null
  let most = 0
  for (const some of tries) {
    if (best && best.region.length >= enoughFacets) break
    const chosen = some.map((k) => facets[k])
    for (const first of through(field, chosen, within, size)) {
      const now = grown(search, some, first)
      const area = now.region.reduce((sum, k) => sum + facets[k].area, 0)
      // The simpler of two that explain as much: kinds come in that order.
      if (now.region.length < leastFacets || area <= most * 1.001) continue
      most = area
      best = now
    }
  }
  return best
}

/** Few facets may tell a ball where all of the region tells the wall that was meant: two equal circles lie on both. */
export function asWall(search: Search, found: Grown): Grown {
  if (found.shape.kind === 'cylinder') return found
  const { field, facets, within } = search
  const [wall] = fitsOf(search, found.region, 'cylinder')
  if (!wall || !found.region.every((k) => liesOn(field, facets[k], wall, within))) return found
  return { shape: wall, region: spread(search, found.region, wall) }
}
