/**
 * A shape fitted to picked triangles: a robust start among guesses from all and from few of the samples (least median of squares:
 * Rousseeuw 1984), then geometric least squares on the samples that are sound, twice.
 */
import { StepError } from '@/core/base/step-error'
import { random } from '@/core/math/random'
import { dot, scale, type Vec3 } from '@/core/math/vec'
import { refine, radiusSigma, type Known } from './refine'
import { filtered, thinned, type Samples } from './samples'
import { normalOf, offsFrom, type Shape, type ShapeKind } from './shape'
import { cylinderAlong, startOf } from './starts'

export interface Fitted extends Shape {
  /** Root mean square and greatest distance of the sound samples, mm. */
  readonly rms: number
  readonly max: number
  /** Share of the samples that are sound, 0 to 1. */
  readonly inliers: number
  /** What noise leaves free in the radius, mm, or in a cone's half angle, degrees: one standard deviation. */
  readonly sigma?: number
  /** The wall looks to its axis or middle, as a bore's does. */
  readonly inside: boolean
}

/** How much care is taken with a fit. */
export interface Care {
  /** Guesses are made of all samples, and of so many small lots of them: some of those are free of what does not belong; 0 trusts all. */
  readonly lots?: number
  /** Without patience, or with some, small patches of little noise come out less sharp. */
  readonly patient?: boolean | 'some'
  /** Least squares need no more samples than this. */
  readonly most?: number
  /** Of so many of the best guesses the one is taken that ends best: a start may lead least squares astray. */
  readonly starts?: number
  /** A kind is chosen on so many samples; the one that is taken is fitted to all. */
  readonly trial?: number
}
const usual: Required<Care> = { lots: 40, patient: true, most: 1500, starts: 3, trial: 300 }
/** While a region is being painted: some tens of milliseconds. */
export const brisk: Care = { lots: 8, patient: false, most: 400, starts: 2, trial: 120 }
/** Samples of the sound part are told anew so many times at most. */
const rounds = 6
/** Samples farther off than this many times the spread of the middle half are not of the shape. */
const soundTimes = 4.5
/** Noise below this share of the region's size is none. */
const leastNoise = 1e-6

const middleOf = (values: readonly number[]): number => {
  const v = Float64Array.from(values).sort()
  return v[v.length >> 1]
}

/** Fewer corners than this tell no shape of a kind. */
const least: Record<ShapeKind, number> = { plane: 3, cylinder: 6, cone: 6, sphere: 4, ring: 8 }

/** Guesses with the axis that is known, or with their own. */
function guessesOf(kind: ShapeKind, s: Samples, known: Known, lots: number): Shape[] {
  const { next } = random(7)
  const one = (some: Samples): Shape | null => {
    if (kind === 'cylinder' && known.axis) return cylinderAlong(some, known.axis)
    const g = startOf(kind, some)
    return g && known.axis && g.axis
      ? { ...g, axis: dot(g.axis, known.axis) < 0 ? scale(known.axis, -1) : known.axis }
      : g
  }
  const out = [one(s)]
  const n = s.points.length
  const lotSize = least[kind] + 2
  for (let l = 0; l < lots && n > 2 * lotSize; l++) {
    // Half of the lots lie together, so that a border that was painted over does not spoil all of them.
    const from = Math.floor(next() * n)
    const together = l % 2 === 0
    const near = together ? nearest(s.points, from, Math.max(4 * lotSize, Math.floor(n / 4))) : null
    const chosen = new Set(
      Array.from({ length: lotSize }, () => (near ? near[Math.floor(next() * near.length)] : Math.floor(next() * n))),
    )
    out.push(one(filtered(s, (i) => chosen.has(i))))
  }
  return out.filter((g) => g !== null)
}

const dist2 = (a: Vec3, b: Vec3) => (a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2 + (a[2] - b[2]) ** 2

/** Numbers of the places nearest to one of them. */
function nearest(points: readonly Vec3[], from: number, most: number): number[] {
  const off = Float64Array.from(points, (p) => dist2(p, points[from]))
  const limit = off.slice().sort()[Math.min(most, off.length) - 1]
  const out: number[] = []
  off.forEach((d, i) => d <= limit && out.length < most && out.push(i))
  return out
}

/** How badly a guess serves: the median of its distances, where normals agree too. */
function badness(g: Shape, s: Samples): number {
  const off = offsFrom(g)
  const size = sizeOf(s)
  return middleOf(
    s.points.map((p, i) => Math.abs(off(p)) + 0.02 * (1 - Math.abs(dot(normalOf(g, p), s.normals[i]))) * size),
  )
}

const sizes = new WeakMap<Samples, number>()
function sizeOf(s: Samples): number {
  let size = sizes.get(s)
  if (size === undefined) {
    const low = [Infinity, Infinity, Infinity],
      high = [-Infinity, -Infinity, -Infinity]
    for (const p of s.points)
      for (let k = 0; k < 3; k++) {
        low[k] = Math.min(low[k], p[k])
        high[k] = Math.max(high[k], p[k])
      }
    sizes.set(s, (size = Math.hypot(...high.map((h, k) => h - low[k]))))
  }
  return size
}

/** The shape of a kind that the samples lie on. Throws StepError `too-few`, `no-shape`. */
export function fitKind(kind: ShapeKind, all: Samples, known: Known = {}, care: Care = {}): Fitted {
  const { lots, patient, most, starts } = { ...usual, ...care }
  if (all.points.length < least[kind])
    throw new StepError('too-few', `The region has ${all.points.length} corners; a ${kind} needs ${least[kind]}.`, {
      tryThis: 'Pick a larger region.',
    })
  const s = thinned(all, most)
  const few = thinned(all, 300)
  // Made only where it is thrown: a search asks for thousands of fits.
  const none = () =>
    new StepError('no-shape', `The region does not tell a ${kind}.`, { tryThis: 'Pick more of it, or another shape.' })
  const guesses = guessesOf(kind, s, known, lots).map((g) => ({ g, bad: badness(g, few) }))
  if (!guesses.length) throw none()
  guesses.sort((a, b) => a.bad - b.bad)
  const floor = leastNoise * sizeOf(s)
  let best: Shape | null = null
  let sound = s
  let bestMiddle = Infinity
  for (const { g } of guesses.slice(0, starts)) {
    let now = g
    let kept = s
    for (let round = 0; round < rounds; round++) {
      const from = offsFrom(now)
      const off = s.points.map((p) => Math.abs(from(p)))
      const limit = Math.max(floor, soundTimes * 1.4826 * middleOf(off))
      const next = filtered(s, (i) => off[i] <= limit)
      if (next.points.length < least[kind] || (round > 1 && next.points.length === kept.points.length)) break
      kept = next
      now = refine(now, kept.points, known, patient)
    }
    const last = offsFrom(now)
    const middle = middleOf(s.points.map((p) => Math.abs(last(p))))
    if (middle < bestMiddle * 0.999 - floor * 1e-3 || !best) {
      best = now
      sound = kept
      bestMiddle = middle
    }
  }
  if (!best || !Number.isFinite(bestMiddle)) throw none()
  const offBest = offsFrom(best)
  const limit = Math.max(floor, soundTimes * 1.4826 * middleOf(sound.points.map((p) => Math.abs(offBest(p)))))
  let sum = 0,
    max = 0,
    count = 0,
    facing = 0
  all.points.forEach((p, i) => {
    const off = Math.abs(offBest(p))
    facing += all.weights[i] * dot(normalOf(best, p), all.normals[i])
    if (off > limit) return
    count++
    sum += off * off
    max = Math.max(max, off)
  })
  if (!count) throw none()
  const rms = Math.sqrt(sum / count)
  const inside = facing < 0
  // A plane looks where its triangles look.
  const facingPlane = best.kind === 'plane' && inside ? { ...best, axis: scale(best.axis!, -1) } : best
  const sigma = radiusSigma(best, sound.points, Math.max(rms, floor), known)
  return {
    ...facingPlane,
    rms,
    max,
    inliers: count / all.points.length,
    inside: best.kind !== 'plane' && inside,
    ...(sigma === undefined ? {} : { sigma }),
  }
}

/** Kinds from the simplest on; a later one has to be this much better to be taken. */
const order: readonly ShapeKind[] = ['plane', 'cylinder', 'cone', 'sphere', 'ring']
const worth = 0.5
/** A radius this much larger than the region tells nothing: it is flat. */
const flatTimes = 50

/** The simplest shape that serves as well as any. Throws StepError `no-shape`. */
export function fitBest(all: Samples, known: Known = {}, care: Care = {}): Fitted {
  const size = sizeOf(all)
  const floor = Math.max(leastNoise * size, 1e-6)
  let best: Fitted | null = null
  const few = thinned(all, care.trial ?? usual.trial)
  for (const kind of order) {
    let f: Fitted
    try {
      f = fitKind(kind, few, known, care)
    } catch (error) {
      if (!(error instanceof StepError)) throw error
      continue
    }
    if ((f.radius ?? 0) > flatTimes * size) continue
    if (f.kind === 'cone' && (f.halfAngle! < 0.5 || f.halfAngle! > 89.5)) continue
    // How well a shape serves: its noise, made worse by what it leaves out.
    const cost = (x: Fitted) => Math.max(floor, x.rms) / Math.max(0.01, x.inliers) ** 2
    if (!best || cost(f) < worth * cost(best)) best = f
    // A clean region that lies on a simple shape needs no other.
    if (f.rms <= floor && f.inliers > 0.999) break
  }
  if (!best) throw new StepError('no-shape', 'The region tells no shape.', { tryThis: 'Pick a larger region.' })
  return few === all ? best : fitKind(best.kind, all, known, care)
}

/** Radii are brought to these steps, where they are wanted: mm. */
export const snapSteps = { none: 0, tenth: 0.1, twentieth: 0.05, sixtyfourth: 25.4 / 64 } as const
export type Snap = keyof typeof snapSteps

/** A diameter brought to a step; and the shape fitted once more with that radius. */
export function snapped(f: Fitted, all: Samples, snap: Snap, known: Known = {}, care: Care = {}): Fitted {
  const by = snapSteps[snap]
  const r = f.kind === 'ring' ? f.thickness : f.radius
  if (!by || !r || f.kind === 'cone') return f
  const radius = Math.max(by, Math.round((2 * r) / by) * by) / 2
  return fitKind(f.kind, all, { ...known, radius }, care)
}
