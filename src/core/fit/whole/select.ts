/**
 * Shapes chosen one after the other, each the one that wins most among what is not yet explained (greedy set cover with candidates kept and
 * judged again only when they come first; Minoux 1978; Schnabel, Wahl & Klein 2007).
 */
import { checkStop, type Work } from '@/core/base/work'
import { random } from '@/core/math/random'
import { candidatesAt, Walk, type Candidate } from './candidates'
import type { Evidence } from './evidence'
import { freeCost, shapeCost, type Model } from './model'

/** Triangles that candidates are looked for at, each round. */
const seedsAtOnce = 24
/** A shape has to win so much. */
export const leastGain = 4

/** Seeds that win less are vain; after so many in a row no more are looked at. */
const goodGain = 5
const mostVain = 60
/** Where the last so many shapes hold less than this share of the skin, and more than that is bare, it bends freely: no end would come. */
const lateShapes = 24
const lateShare = 0.04
const mostBare = 0.05
/** What is won by a triangle that lies well on a shape. */
const surely = freeCost - 2

/** Beyond these a search is given up. */
export interface Limits {
  /** Shapes. */
  readonly most?: number | undefined
  /** Round shapes, where they are more than few, have so many triangles on the mean: bits of a free surface are many and small. */
  readonly roundTriangles?: number
}
export const fewRounds = 12

interface Kept extends Candidate {
  /** What it wins now. */
  gain: number
  /** Number of chosen shapes when that was told. */
  at: number
}

/** Shapes on their way: those that were chosen, those that might be, and the triangles that none was looked for at yet. */
class Search {
  readonly of: Int32Array
  readonly models: Model[] = []
  private readonly walk: Walk
  private readonly tried: Uint8Array
  private readonly chance = random(3)
  /** Large triangles first. */
  private readonly order: number[]
  private largest = 0
  private pool: Kept[] = []
  private vain = 0
  private explained = 0
  private readonly whole: number
  /** Area that each chosen shape added, mm². */
  private readonly won: number[] = []
  /** Round shapes, and the triangles that they added. */
  private readonly round = { shapes: 0, triangles: 0 }

  constructor(
    private readonly e: Evidence,
    private readonly size: number,
    private readonly limits: Limits,
  ) {
    const { area } = e
    this.of = new Int32Array(area.length).fill(-1)
    this.tried = new Uint8Array(area.length)
    this.walk = new Walk(e)
    this.order = Array.from(area.keys()).sort((a, b) => area[b] - area[a])
    this.whole = area.reduce((a, b) => a + b, 0)
  }

  get waiting(): number {
    return this.pool.length
  }

  private gainOf(c: Candidate): number {
    let gain = -shapeCost[c.model.shape.kind]
    for (let i = 0; i < c.list.length; i++) if (this.of[c.list[i]] < 0) gain += c.wins[i]
    return gain
  }

  private fresh(t: number): boolean {
    return this.of[t] < 0 && !this.tried[t]
  }

  /** A triangle that is not explained and was not tried: the largest, or any; -1 where there is none. */
  private seed(any: boolean): number {
    const { of, order } = this
    for (let i = 0; any && i < chances; i++) {
      const t = Math.floor(this.chance.next() * of.length)
      if (this.fresh(t)) return t
    }
    while (this.largest < of.length && !this.fresh(order[this.largest])) this.largest++
    return this.largest < of.length ? order[this.largest] : -1
  }

  /** Looks for candidates at some triangles. @returns at how many */
  look(): number {
    const { e, walk, tried, size } = this
    for (let i = 0; i < seedsAtOnce; i++) {
      const t = this.vain < mostVain ? this.seed(i % 2 === 1) : -1
      if (t < 0) return i
      tried[t] = 1
      this.vain++
      for (const found of candidatesAt(e, walk, t, size)) {
        // Seeds on what is explained well already would tell the same once more.
        found.list.forEach((u, k) => {
          if (found.wins[k] > surely) tried[u] = 1
        })
        const gain = this.gainOf(found)
        if (gain > goodGain) this.vain = 0
        if (gain > leastGain) this.pool.push({ ...found, gain, at: this.models.length })
      }
    }
    return seedsAtOnce
  }

  /** What lay on shapes that have gone to others since is looked at by itself. @returns whether there is any */
  again(): boolean {
    const { of, tried } = this
    this.vain = 0
    this.largest = 0
    this.walk.free = (t) => of[t] < 0
    for (let t = 0; t < of.length; t++) tried[t] = of[t] < 0 ? 0 : 1
    return tried.includes(0)
  }

  /** Takes the best candidate as it stands now. @returns false where limits are passed */
  take(work: Work): boolean {
    const { of, models, pool } = this
    pool.sort((a, b) => a.gain - b.gain)
    const top = pool.pop()!
    if (top.at !== models.length) {
      top.gain = this.gainOf(top)
      top.at = models.length
      if (top.gain > leastGain) pool.push(top)
      return true
    }
    let net = 0
    const before = this.explained
    for (const t of top.list) {
      if (of[t] >= 0) continue
      net += this.e.area[t]
      of[t] = models.length
      this.explained++
    }
    models.push(top.model)
    this.won.push(net)
    if (top.model.shape.kind !== 'plane') {
      this.round.shapes++
      this.round.triangles += this.explained - before
    }
    work.progress((0.6 * this.explained) / of.length, `${models.length} shapes`)
    return this.within()
  }

  private within(): boolean {
    const { most = Infinity, roundTriangles = 0 } = this.limits
    const { round, models, won, whole } = this
    if (models.length > most || (round.shapes > fewRounds && round.triangles < roundTriangles * round.shapes))
      return false
    const late = won.slice(-lateShapes).reduce((s, a) => s + a, 0)
    if (models.length <= 1.5 * lateShapes || late >= lateShare * whole) return true
    return won.reduce((s, a) => s + a, 0) >= (1 - mostBare) * whole
  }
}

/** Random tries of a seed; and candidates taken before others are looked for. */
const chances = 40
const takenAtOnce = 8

/**
 * @param limits beyond them it is given up, as it is where the skin bends freely
 * @returns the chosen shapes, and which of them each triangle is of; -1 for none
 */
export function selectShapes(
  e: Evidence,
  size: number,
  work: Work,
  limits: Limits = {},
): { models: Model[]; of: Int32Array } | null {
  const search = new Search(e, size, limits)
  let passes = 0
  for (;;) {
    checkStop(work)
    const looked = search.look()
    if (!looked && !search.waiting && (++passes > 1 || !search.again())) return search
    const before = search.models.length
    while (search.waiting && (!looked || search.models.length < before + takenAtOnce))
      if (!search.take(work)) return null
  }
}
