/** Shapes that may be there: fitted to patches about a triangle, small and large, and grown as far as the skin lies on them. */
import { random } from '@/core/math/random'
import { triangleOf } from '@/core/mesh/topology'
import type { Samples } from '../samples'
import type { ShapeKind } from '../shape'
import { amid, doubtful, leastAmid } from './amid'
import { mostTurn, type Evidence } from './evidence'
import { facing, fitOf, insideOf, kinds, rmsOf, samplesFor, trimmed, usable, worthKind } from './fits'
import { startOf } from '../starts'
import { costOf, freeCost, modelOf, shapeCost, type Model } from './model'

export interface Candidate {
  readonly model: Model
  readonly list: readonly number[]
  /** What is won by each of them. */
  readonly wins: readonly number[]
  /** What is won by it beside leaving its triangles without a shape. */
  readonly gain: number
}

/** Triangles of patches. */
const patchSizes = [12, 40, 130, 400]
/** Where those tell nothing a face may have no more triangles than this. */
const smallSizes = [5, 2]
const fewTriangles = 12
/** Fewer tell no ring by themselves. */
const ringTriangles = 30
/** Growing by so many times tells that a shape is there. */
const grownWell = 6
/** A fit whose corners lie off by more than so many standard deviations is no start. */
const mostOff = 2.5
/** Growing stops when a round brings less than this. */
const worthGrowing = 1.02
const growRounds = 4
/** Noise of less than this share of the size is none. */
const exact = 1e-5
/** Patches that lie off a first fit by more are of no such shape. */
const hopeless = 8
/** Corners that are fitted to. */
const enough = 160
/** Edges turn by noise no more than so many of its standard deviations. */
const blurTimes = 3

interface Heap {
  readonly key: number[]
  readonly value: number[]
}

function push(h: Heap, key: number, value: number): void {
  let i = h.key.length
  h.key.push(key)
  h.value.push(value)
  while (i > 0) {
    const up = (i - 1) >> 1
    if (h.key[up] <= h.key[i]) return
    swap(h, i, up)
    i = up
  }
}

function swap({ key, value }: Heap, i: number, k: number): void {
  const [a, b] = [key[i], value[i]]
  key[i] = key[k]
  value[i] = value[k]
  key[k] = a
  value[k] = b
}

function pop(h: Heap): [number, number] {
  const top: [number, number] = [h.key[0], h.value[0]]
  const [key, value] = [h.key.pop()!, h.value.pop()!]
  if (!h.key.length) return top
  h.key[0] = key
  h.value[0] = value
  let i = 0
  for (;;) {
    let least = i
    for (const k of [2 * i + 1, 2 * i + 2]) if (k < h.key.length && h.key[k] < h.key[least]) least = k
    if (least === i) return top
    swap(h, i, least)
    i = least
  }
}

/** Whether a triangle may be looked at. */
export type Free = (t: number) => boolean

/** Triangles about one, those first that are reached over the least bend. */
export function patchAbout(e: Evidence, seed: number, most: number, free?: Free): number[] {
  const { twin } = e.topology
  const far = new Map<number, number>([[seed, 0]])
  const done = new Set<number>()
  const heap: Heap = { key: [], value: [] }
  push(heap, 0, seed)
  const out: number[] = []
  while (heap.key.length && out.length < most) {
    const [d, t] = pop(heap)
    if (done.has(t)) continue
    done.add(t)
    out.push(t)
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      if (twin[h] < 0 || e.topology.sameWay[h]) continue
      const u = triangleOf(twin[h])
      if (done.has(u) || (free && !free(u))) continue
      const bend = Math.max(0, e.turn[h] - blurTimes * e.blur[h])
      if (bend > mostTurn) continue
      // A step costs a little, so that flat places are met ring by ring; of two that noise may bend the flatter is met first.
      const next = d + bend + 0.2 * e.turn[h] + 0.01
      if (next < (far.get(u) ?? Infinity)) {
        far.set(u, next)
        push(heap, next, u)
      }
    }
  }
  return out
}

/** Walks over one mesh, each with marks of its own. */
export class Walk {
  private readonly met: Int32Array
  private run = 0
  /** Where only what is left over is to be explained: that. */
  free: Free | undefined
  constructor(private readonly e: Evidence) {
    this.met = new Int32Array(e.area.length)
  }
  /** Triangles that lie on a shape and hang together with some of a start; and what is won by them. */
  grow(model: Model, start: readonly number[]): { list: number[]; wins: number[]; gain: number } {
    const { met, e, free } = this
    const { twin, sameWay } = e.topology
    const run = ++this.run
    const list: number[] = []
    const wins: number[] = []
    let gain = -shapeCost[model.shape.kind]
    const ask = (t: number) => {
      met[t] = run
      const cost = costOf(e, t, model)
      if (cost >= freeCost) return
      gain += freeCost - cost
      list.push(t)
      wins.push(freeCost - cost)
    }
    for (const t of start) if (met[t] !== run) ask(t)
    for (let i = 0; i < list.length; i++)
      for (let h = 3 * list[i]; h < 3 * list[i] + 3; h++) {
        if (twin[h] < 0 || sameWay[h]) continue
        const u = triangleOf(twin[h])
        if (met[u] !== run && (!free || free(u))) ask(u)
      }
    return { list, wins, gain }
  }
}

/** One kind started on a patch and grown; null where it does not hold there. */
function grown(
  e: Evidence,
  walk: Walk,
  kind: ShapeKind,
  patch: readonly number[],
  s: Samples,
  size: number,
): Candidate | null {
  // Where there is no noise, only what has come to rest lies on anything.
  const care = e.sigma < exact * size ? 'some' : false
  const within = Math.max(hopeless * e.sigma, exact * size)
  let shape = fitOf(kind, s, size)
  let samples = s
  if (!shape) return null
  if (rmsOf(shape, s) > within) {
    // It may still hold for most of the patch.
    samples = trimmed(s, shape, e.sigma)
    if (samples.points.length < 0.5 * s.points.length) return null
    shape = fitOf(kind, samples, size)
    if (!shape || rmsOf(shape, samples) > within) return null
  }
  if (care) shape = fitOf(kind, samples, size, { care }) ?? shape
  if (rmsOf(shape, samples) > mostOff * e.sigma) {
    samples = trimmed(samples, shape, e.sigma)
    if (samples.points.length < 0.5 * s.points.length) return null
    shape = fitOf(kind, samples, size, { care })
    if (!shape || rmsOf(shape, samples) > mostOff * e.sigma) return null
  }
  shape = facing(shape, samples)
  return grownFrom(e, walk, modelOf(shape, insideOf(shape, samples)), patch, size)
}

/** A shape grown from a start and fitted anew as long as that wins more. */
function grownFrom(e: Evidence, walk: Walk, first: Model, start: readonly number[], size: number): Candidate | null {
  const { kind } = first.shape
  const care = e.sigma < exact * size ? 'some' : false
  let model = first
  let now = walk.grow(model, start)
  for (let round = 0; round < growRounds; round++) {
    if (now.list.length < 2) return null
    const more = samplesFor(e.mesh, now.list, round ? 2 * enough : enough)
    const better = fitOf(kind, more, size, { from: model.shape, care: care || (round ? 'some' : false) })
    if (!better) break
    const turned = facing(better, more)
    const next = modelOf(turned, insideOf(turned, more))
    const then = walk.grow(next, now.list)
    if (then.gain <= now.gain) break
    const small = then.list.length < worthGrowing * now.list.length
    model = next
    now = then
    if (small) break
  }
  return doubtful.has(kind) && amid(e, now.list) < leastAmid * now.list.length ? null : { model, ...now }
}

/** Facets that a shape of a kind is told by, and how many sets of them are tried. */
const facetsFor: readonly (readonly [ShapeKind, number])[] = [
  ['cylinder', 2],
  ['sphere', 3],
  ['cone', 3],
  ['ring', 5],
]
const trials = 30

/**
 * Shapes started on few facets each, by chance: a narrow face between others that it runs on to has no patch of its own (Schnabel, Wahl &
 * Klein 2007). Of each kind the one on which most of the patch lies.
 */
function byChance(e: Evidence, walk: Walk, seed: number, patch: readonly number[], size: number): Candidate[] {
  const { next } = random(seed + 1)
  return facetsFor.flatMap(([kind, facets]): Candidate[] => {
    let best: Model | null = null
    let most = 0
    for (let i = 0; i < trials; i++) {
      // Half of the sets lie close by.
      const reach = i % 2 ? patch.length : Math.min(patch.length, 4 * facets)
      const set = new Set([seed])
      for (let k = 0; set.size < facets && k < 3 * facets; k++) set.add(patch[Math.floor(next() * reach)])
      const s = samplesFor(e.mesh, [...set], enough)
      const shape = startOf(kind, s)
      if (!shape || !usable(shape, size)) continue
      const model = modelOf(shape, insideOf(shape, s))
      if (costOf(e, seed, model) >= freeCost) continue
      const gain = patch.reduce((sum, t) => sum + Math.max(0, freeCost - costOf(e, t, model)), 0)
      if (gain > most) {
        most = gain
        best = model
      }
    }
    const c = best && most > leastByChance * freeCost ? grownFrom(e, walk, best, [seed], size) : null
    return c ? [c] : []
  })
}
/** So many triangles of the patch have to lie on a shape that was met by chance. */
const leastByChance = 3.5

/** Whether an area ends at sharp edges all round: nothing runs on that another shape might explain better. */
function fenced({ topology, turn, blur }: Evidence, list: readonly number[]): boolean {
  const inside = new Set(list)
  return list.every((t) =>
    [3 * t, 3 * t + 1, 3 * t + 2].every((h) => {
      const w = topology.twin[h]
      return w < 0 || inside.has(triangleOf(w)) || turn[h] - blurTimes * blur[h] > mostTurn
    }),
  )
}

/** Shapes that win most about a triangle: the best, and where that is of few triangles the best plane of fewer. */
export function candidatesAt(e: Evidence, walk: Walk, seed: number, size: number): Candidate[] {
  const holds = (c: Candidate | null) => c !== null && costOf(e, seed, c.model) < freeCost
  const better = (a: Candidate | null, b: Candidate | null) =>
    holds(b) && b!.gain > (a ? a.gain + worthKind : 0) ? b : a
  const look = (patch: readonly number[], some: readonly ShapeKind[], from: Candidate | null) => {
    const samples = samplesFor(e.mesh, patch, enough)
    return some.reduce(
      (best, kind) =>
        kind === 'ring' && patch.length < ringTriangles
          ? best
          : better(best, grown(e, walk, kind, patch, samples, size)),
      from,
    )
  }
  let best: Candidate | null = null
  let before = 0
  for (const most of patchSizes) {
    const patch = patchAbout(e, seed, most, walk.free)
    if (patch.length <= before) break
    before = patch.length
    best = look(patch, kinds, best)
    // What has grown far beyond its patch is what was meant.
    if (best && (best.list.length > grownWell * patch.length || fenced(e, best.list))) return [best]
  }
  if (!best)
    for (const most of patchSizes.slice(0, 2))
      best = byChance(e, walk, seed, patchAbout(e, seed, most, walk.free), size).reduce(better, best)
  if (best && best.list.length > fewTriangles) return [best]
  const small = smallSizes.map((most) => look(patchAbout(e, seed, most, walk.free), ['plane'], null))
  return [best, ...small].filter((c) => c !== null)
}
