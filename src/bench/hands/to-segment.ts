/** Pixels between a place on the screen and a line between two others. */
import type { Screen } from './hand'

export const toSegment = (p: Screen, a: Screen, b: Screen): number => {
  const u = [b[0] - a[0], b[1] - a[1]],
    w = [p[0] - a[0], p[1] - a[1]]
  const t = Math.max(0, Math.min(1, (u[0] * w[0] + u[1] * w[1]) / (u[0] * u[0] + u[1] * u[1] || 1)))
  return Math.hypot(w[0] - t * u[0], w[1] - t * u[1])
}
