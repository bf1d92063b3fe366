/** Where endless lines and whole circles meet, each with each. */
import type { Place } from './drawing'

export interface Round {
  readonly centre: Place
  readonly radius: number
}
export type Straight = { readonly at: Place; readonly way: Place }

/** The places where two meet; none where they run side by side or apart. `way` is a unit direction. */
export function meets(a: Round | Straight, b: Round | Straight): Place[] {
  if ('way' in a && 'way' in b) {
    const det = a.way[0] * b.way[1] - a.way[1] * b.way[0]
    if (Math.abs(det) < 1e-12) return []
    const w: Place = [b.at[0] - a.at[0], b.at[1] - a.at[1]]
    const t = (w[0] * b.way[1] - w[1] * b.way[0]) / det
    return [[a.at[0] + t * a.way[0], a.at[1] + t * a.way[1]]]
  }
  if ('way' in b) return meets(b, a)
  if ('way' in a) {
    const w: Place = [b.centre[0] - a.at[0], b.centre[1] - a.at[1]]
    const t = w[0] * a.way[0] + w[1] * a.way[1]
    const off = w[0] * a.way[1] - w[1] * a.way[0]
    const h = b.radius * b.radius - off * off
    if (h < 0) return []
    return [t - Math.sqrt(h), t + Math.sqrt(h)].map((v): Place => [a.at[0] + v * a.way[0], a.at[1] + v * a.way[1]])
  }
  const w: Place = [b.centre[0] - a.centre[0], b.centre[1] - a.centre[1]]
  const l = Math.hypot(...w)
  if (l < 1e-12) return []
  const t = (a.radius * a.radius - b.radius * b.radius + l * l) / (2 * l)
  const h = a.radius * a.radius - t * t
  if (h < 0) return []
  const [x, y] = [w[0] / l, w[1] / l]
  return [-1, 1].map((s): Place => [
    a.centre[0] + t * x - s * Math.sqrt(h) * y,
    a.centre[1] + t * y + s * Math.sqrt(h) * x,
  ])
}
