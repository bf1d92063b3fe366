/**
 * Colours of a deviation: purple below, paper within the tolerance, green above; safe for the colour-blind. What lies beyond a bound that was
 * to be held is brick. Red green blue, 0 to 1.
 */
export const rampStops = Array.from({ length: 21 }, (_, i) => i)

const below: [number, number, number] = [0.42, 0.18, 0.53],
  paper: [number, number, number] = [0.93, 0.91, 0.86],
  above: [number, number, number] = [0.07, 0.43, 0.25],
  brick: [number, number, number] = [0.69, 0.23, 0.18]

export function colourAt(d: number, reach: number, tolerance: number, bound = Infinity): [number, number, number] {
  const far = Math.abs(d)
  if (far > bound) return brick
  if (!(far > tolerance)) return paper
  const s = Math.min(1, (far - tolerance) / Math.max(1e-12, reach - tolerance))
  const t = 0.18 + 0.82 * s
  const to = d < 0 ? below : above
  return [paper[0] + t * (to[0] - paper[0]), paper[1] + t * (to[1] - paper[1]), paper[2] + t * (to[2] - paper[2])]
}
