/**
 * Sections divided into places: evenly along them, or denser where they bend. All sections of a loft share one spacing, so that what lies
 * across from each other stays so, and it grows from gap to gap by no more than half: the smooth surface through places is a uniform spline,
 * which swings out where a wide gap follows a narrow one.
 */
import { sub, type Vec3 } from '@/core/math/vec'

export interface Section {
  readonly name: string
  readonly places: readonly Vec3[]
  readonly closed: boolean
}

/** A gap is at most so much wider than the one beside it, as a share of it. */
const growth = 0.5
/** Samples in the width of an even gap; closed sections may begin at any of them. */
export const samplesInGap = 8
const rounds = 60

/** The place of a section at each share of its length, 0 to 1. */
export function placesAt({ places: p, closed }: Section, shares: ArrayLike<number>): Vec3[] {
  const n = p.length
  const bits = closed ? n : n - 1
  const far = [0]
  for (let i = 0; i < bits; i++) far.push(far[i] + Math.hypot(...sub(p[(i + 1) % n], p[i])))
  return Array.from(shares, (share) => {
    const want = far[bits] * share
    let [low, high] = [0, bits - 1]
    while (low < high) {
      const mid = (low + high + 1) >> 1
      if (far[mid] <= want) low = mid
      else high = mid - 1
    }
    const length = far[low + 1] - far[low]
    const t = length > 0 ? Math.max(0, Math.min(1, (want - far[low]) / length)) : 0
    const [a, b] = [p[low], p[(low + 1) % n]]
    return [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]), a[2] + t * (b[2] - a[2])]
  })
}

/** Shares of `count` even gaps: as many places on what is closed, one more on what is open. */
export function evenShares(count: number, closed: boolean): number[] {
  return Array.from({ length: closed ? count : count + 1 }, (_, i) => i / count)
}

/** Turn at each of a row's samples, radians, seen over half the width of an even gap so that noise of a traced row is not taken for bend. */
function turns(p: readonly Vec3[], closed: boolean): number[] {
  const n = p.length
  const w = samplesInGap / 2
  return p.map((x, i) => {
    if (!closed && (i < w || i >= n - w)) return 0
    const [a, b] = [sub(x, p[(i - w + n) % n]), sub(p[(i + w) % n], x)]
    const cos = (a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / (Math.hypot(...a) * Math.hypot(...b) || 1)
    return Math.acos(Math.max(-1, Math.min(1, cos)))
  })
}

/** Widths held to grow along the row by no more than `growth` of the way gone (Persson 2006, mesh size functions by gradient limiting). */
function graded(widths: Float64Array, step: number, closed: boolean): Float64Array {
  const out = widths.slice()
  const n = out.length
  const most = growth * step
  const turnsRound = closed ? 2 : 1
  for (let k = 1; k < turnsRound * n; k++) out[k % n] = Math.min(out[k % n], out[(k - 1) % n] + most)
  for (let k = turnsRound * n - 2; k >= 0; k--) out[k % n] = Math.min(out[k % n], out[(k + 1) % n] + most)
  return out
}

/**
 * Shares of length that divide rows of samples into `count` gaps, denser where any of them bends.
 *
 * @param rows samples of each section, `samplesInGap` to an even gap, lined up
 * @param byBend 0 evenly, 1 by bend alone
 */
export function sharesByBend(rows: readonly (readonly Vec3[])[], closed: boolean, count: number, byBend: number) {
  const even = evenShares(count, closed)
  const samples = count * samplesInGap
  const bend = new Float64Array(closed ? samples : samples + 1)
  for (const row of rows) {
    const turn = turns(row, closed)
    const whole = turn.reduce((s, x) => s + x, 0)
    if (whole > 1e-9) turn.forEach((x, i) => (bend[i] = Math.max(bend[i], x / whole)))
  }
  const whole = bend.reduce((s, x) => s + x, 0)
  if (!byBend || !whole) return even
  const step = 1 / samples
  const density = bend.map((x) => 1 - byBend + (byBend * x * bend.length) / whole)
  /** Gaps up to each sample, where widths are so wide. */
  const gaps = (scale: number) => {
    const widths = graded(
      density.map((x) => scale / Math.max(x, 1e-6)),
      step,
      closed,
    )
    const sum = new Float64Array(samples + 1)
    for (let i = 0; i < samples; i++)
      sum[i + 1] = sum[i] + (step / 2) * (1 / widths[i] + 1 / widths[(i + 1) % widths.length])
    return sum
  }
  let [low, high] = [1e-6 / count, 1e3]
  for (let k = 0; k < rounds; k++) {
    const mid = Math.sqrt(low * high)
    if (gaps(mid)[samples] > count) low = mid
    else high = mid
  }
  const sum = gaps(high)
  let i = 0
  return even.map((_, k) => {
    const want = (sum[samples] * k) / count
    while (i < samples - 1 && sum[i + 1] < want) i++
    return Math.min(1, (i + (want - sum[i]) / (sum[i + 1] - sum[i])) * step)
  })
}
