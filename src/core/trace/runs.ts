/**
 * Divides a row of places into the fewest lines and arcs that hold it within a tolerance, by dynamic programming over where pieces may
 * meet (Perez & Vidal 1994; for arcs Horng & Li 2001), with the reach of each kind found by galloping.
 */
import type { Place } from '@/core/outline/drawing'
import { checkStop, type Work } from '@/core/base/work'
import { Sums, type FittedCircle } from './fits'

/** A run of places from number `from` to number `to`, which on a closed row may go past its end. */
export interface Run {
  readonly kind: 'line' | 'arc'
  readonly from: number
  readonly to: number
}

export interface RunChoice {
  /** Greatest distance of a place from its line, mm; null when lines are switched off. */
  readonly line: number | null
  readonly arc: number | null
}

/** An edge of the row that spans more than this of an arc, degrees, is a side of its own and not a bit of the arc. */
export const mostSpan = 31
/** Fewest edges of an arc. */
const leastEdges = 3
const lineCost = 1,
  arcCost = 1.6
/** How closeness weighs between divisions of as many pieces: a piece costs as much as so many places at the tolerance. */
const closeness = 1 / 400

const turnOf = (a: Place, b: Place, c: Place): number => {
  const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], c[0] - b[0], c[1] - b[1]]
  return (Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy) * 180) / Math.PI
}

/** Turn at each place of a row, degrees, counter-clockwise above zero; 0 at open ends. */
export function turnsOf(places: readonly Place[], closed: boolean): number[] {
  const n = places.length
  return places.map((p, i) =>
    !closed && (i === 0 || i === n - 1) ? 0 : turnOf(places[(i + n - 1) % n], p, places[(i + 1) % n]),
  )
}

/** Whether places from..to lie within `tolerance` of a circle, run one way round it, and none of their edges spans much of it. */
export function onCircle(
  places: readonly Place[],
  from: number,
  to: number,
  { centre, radius }: FittedCircle,
  tolerance: number,
): boolean {
  const n = places.length
  let way = 0
  let a = places[from % n]
  if (Math.abs(Math.hypot(a[0] - centre[0], a[1] - centre[1]) - radius) > tolerance) return false
  let whole = 0
  for (let i = from + 1; i <= to; i++) {
    const b = places[i % n]
    if (Math.abs(Math.hypot(b[0] - centre[0], b[1] - centre[1]) - radius) > tolerance) return false
    const [ux, uy, vx, vy] = [a[0] - centre[0], a[1] - centre[1], b[0] - centre[0], b[1] - centre[1]]
    const span = (Math.atan2(ux * vy - uy * vx, ux * vx + uy * vy) * 180) / Math.PI
    if (Math.abs(span) > mostSpan) return false
    whole += span
    // Noise may run back by as much as it is wide.
    if (way && Math.sign(span) !== way && Math.abs(span) * radius > (3 * tolerance * 180) / Math.PI) return false
    if (!way && Math.abs(span) * radius > (3 * tolerance * 180) / Math.PI) way = Math.sign(span)
    a = b
  }
  return Math.abs(whole) < 361
}

/** Whether a line or an arc holds the places from i to j, counted from where the row is opened. */
function holdings(places: readonly Place[], start: number, sums: Sums, choice: RunChoice) {
  const n = places.length
  const at = (i: number) => places[(start + i) % n]
  const lineHolds = (i: number, j: number): boolean => {
    if (j - i < 2) return true
    const t = choice.line!
    if (sums.offLine(start + i, start + j) > t * t * (j - i + 1)) return false
    const line = sums.line(start + i, start + j)
    for (let k = i; k <= j; k++) {
      const p = at(k)
      if (Math.abs((p[0] - line.at[0]) * line.way[1] - (p[1] - line.at[1]) * line.way[0]) > t) return false
    }
    return true
  }
  const arcHolds = (i: number, j: number): boolean => {
    if (j - i < leastEdges) return true
    const t = choice.arc!
    if (sums.offCircle(start + i, start + j) > 4 * t * t * (j - i + 1)) return false
    const c = sums.circle(start + i, start + j)
    return !!c && onCircle(places, start + i, start + j, c, t)
  }
  return { lineHolds, arcHolds }
}

/** Furthest place that one piece from i can hold, if it holds all before it. */
function reach(i: number, end: number, holds: (i: number, j: number) => boolean, first: number): number {
  let good = i + first - 1,
    step = 1
  if (good > end) return end
  while (good < end && holds(i, Math.min(end, good + step))) {
    good = Math.min(end, good + step)
    step *= 2
  }
  let bad = Math.min(end + 1, good + step)
  while (bad - good > 1) {
    const mid = (good + bad) >> 1
    if (holds(i, mid)) good = mid
    else bad = mid
  }
  return good
}

/**
 * @param places without two equal ones in a row
 * @param start where a closed row is opened
 * @returns runs in order; null when a kind that would be needed is switched off
 */
export function divide(
  places: readonly Place[],
  closed: boolean,
  start: number,
  choice: RunChoice,
  work: Work,
): Run[] | null {
  const n = places.length
  const end = closed ? n : n - 1
  const sums = new Sums(places)
  const { lineHolds, arcHolds } = holdings(places, start, sums, choice)
  const cost = new Float64Array(end + 1).fill(Infinity)
  const before = new Int32Array(end + 1).fill(-1)
  const kind = new Uint8Array(end + 1)
  cost[0] = 0
  for (let i = 0; i < end; i++) {
    if ((i & 127) === 0) {
      checkStop(work)
      work.progress(i / end, 'dividing the outline')
    }
    if (cost[i] === Infinity) continue
    if (choice.line !== null) {
      const far = reach(i, end, lineHolds, 1)
      for (let j = i + 1; j <= far; j++) {
        const off = j - i < 2 ? 0 : sums.offLine(start + i, start + j) / choice.line ** 2
        const c = cost[i] + lineCost + closeness * off
        if (c < cost[j]) {
          cost[j] = c
          before[j] = i
          kind[j] = 0
        }
      }
    }
    if (choice.arc !== null) {
      const far = reach(i, end, arcHolds, leastEdges)
      for (let j = i + leastEdges; j <= far; j++) {
        const off = sums.offCircle(start + i, start + j)
        if (off === Infinity) continue
        // The shortest runs are held by themselves alone.
        if (
          j - i === leastEdges &&
          !onCircle(places, start + i, start + j, sums.circle(start + i, start + j)!, choice.arc)
        )
          continue
        const c = cost[i] + arcCost + (closeness * off) / choice.arc ** 2
        if (c < cost[j]) {
          cost[j] = c
          before[j] = i
          kind[j] = 1
        }
      }
    }
  }
  if (cost[end] === Infinity) return null
  const out: Run[] = []
  for (let j = end; j > 0; j = before[j])
    out.push({ kind: kind[j] ? 'arc' : 'line', from: start + before[j], to: start + j })
  return out.reverse()
}
