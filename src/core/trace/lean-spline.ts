/** Splines of few control points along rows of places. */
import type { Place } from '@/core/outline/drawing'
import { fitSpline, type Spline } from '@/core/outline/spline'

/** Places between those of long edges, so that a spline has something to hold to there. */
function evened(row: readonly Place[], closed: boolean): Place[] {
  const n = row.length
  const many = closed ? n : n - 1
  const long = Array.from({ length: many }, (_, i) =>
    Math.hypot(row[(i + 1) % n][0] - row[i][0], row[(i + 1) % n][1] - row[i][1]),
  )
  const usual = [...long].sort((a, b) => a - b)[many >> 1]
  const out: Place[] = []
  for (let i = 0; i < n; i++) {
    out.push(row[i])
    if (i >= many) continue
    const [a, b] = [row[i], row[(i + 1) % n]]
    const parts = Math.min(40, Math.floor(long[i] / (2 * usual || 1)))
    for (let k = 1; k < parts; k++) out.push([a[0] + ((b[0] - a[0]) * k) / parts, a[1] + ((b[1] - a[1]) * k) / parts])
  }
  return out
}

/** The spline of fewest control points that holds places within a tolerance; the best one when none does. */
export function leanSpline(
  row: readonly Place[],
  closed: boolean,
  tolerance: number,
): { spline: Spline; most: number } | null {
  const places = evened(row, closed)
  // Within a lean count first; where the places bend more than that can hold, as many as they can determine.
  const limit = Math.floor((2 * places.length) / 3)
  let best: { spline: Spline; most: number } | null = null
  const tries: number[] = []
  const least = closed ? 6 : 4
  for (let c = least; c < limit; c = Math.ceil(c * 1.35)) tries.push(c)
  tries.push(Math.min(Math.max(limit, closed ? 6 : 4), places.length))
  for (const c of tries) {
    const f = fitSpline(places, c, closed)
    if (!f) continue
    if (!best || f.most < best.most) best = f
    if (f.most > tolerance) continue
    // Fewer than one that serves may serve as well, with knots in luckier places.
    for (let fewer = Math.max(least, Math.floor(c / 1.6)); fewer < c; fewer++) {
      const g = fitSpline(places, fewer, closed)
      if (g && g.most <= tolerance) return g
    }
    return f
  }
  return best
}
