/** How equal shapes stand to each other: a row, a grid or a circle of them. */
import { num } from '@/core/base/say'
import { cross, dot, perpendicular, sub, type Vec3 } from '@/core/math/vec'
import { circleThrough } from '@/core/math/through'

export interface Pattern {
  /** "on a 40 × 30 mm pattern" */
  readonly words: string
  /** Steps of a row or grid, mm; the diameter of a circle. */
  readonly steps?: readonly number[]
  readonly diameter?: number
  /** Greatest distance of a centre from where the pattern has it, mm. */
  readonly off: number
}

type Place = readonly [number, number]

/** Centres seen along their common axis. */
export function centresAlong(places: readonly Vec3[], axis: Vec3): Place[] {
  const x = perpendicular(axis)
  const y = cross(axis, x)
  return places.map((p) => [dot(sub(p, places[0]), x), dot(sub(p, places[0]), y)])
}

/** Rows and grids: every centre stands at whole steps of two square directions, and each place of the grid is taken. */
function gridOf(places: readonly Place[], within: number): Pattern | null {
  let best: Pattern | null = null
  // One of the directions runs from the first centre to another one.
  for (let k = 1; k < places.length; k++) {
    const [dx, dy] = [places[k][0] - places[0][0], places[k][1] - places[0][1]]
    const l = Math.hypot(dx, dy)
    if (l <= within) continue
    const [c, s] = [dx / l, dy / l]
    const turned = places.map(([x, y]): Place => [c * x + s * y, c * y - s * x])
    const lines = [0, 1].map((i) =>
      levels(
        turned.map((p) => p[i]),
        within,
      ),
    )
    if (lines.some((v) => v === null)) continue
    const [a, b] = lines as Levels[]
    if (a.count * b.count !== places.length) continue
    const off = Math.max(a.off, b.off)
    if (!best || off < best.off) {
      const steps = [a, b].filter((v) => v.count > 1).map((v) => v.step)
      const words =
        steps.length === 1
          ? `${places.length > 2 ? 'in a row, ' : ''}${num(steps[0], 3)} mm apart`
          : `on a ${steps
              .sort((p, q) => q - p)
              .map((v) => num(v, 3))
              .join(' × ')} mm pattern`
      best = { words, steps, off }
    }
  }
  return best
}

interface Levels {
  readonly count: number
  readonly step: number
  readonly off: number
}

/** Numbers that stand on evenly spaced levels, each level as often; null when they do not. */
function levels(values: readonly number[], within: number): Levels | null {
  const sorted = [...values].sort((a, b) => a - b)
  const groups: number[][] = []
  for (const v of sorted) {
    const last = groups.at(-1)
    if (last && v - last[0] <= 2 * within) last.push(v)
    else groups.push([v])
  }
  if (groups.some((g) => g.length !== groups[0].length)) return null
  const middles = groups.map((g) => g.reduce((s, v) => s + v, 0) / g.length)
  const step = groups.length > 1 ? (middles.at(-1)! - middles[0]) / (groups.length - 1) : 0
  let off = 0
  groups.forEach((g, i) => {
    for (const v of g) off = Math.max(off, Math.abs(v - middles[0] - i * step))
  })
  return off <= within ? { count: groups.length, step, off } : null
}

/** Three centres or more, evenly round a circle. */
function circleOf(places: readonly Place[], within: number): Pattern | null {
  if (places.length < 3) return null
  const c = circleThrough(places)
  if (!c) return null
  const angles = places.map(([x, y]) => Math.atan2(y - c.y, x - c.x)).sort((a, b) => a - b)
  const even = (2 * Math.PI) / places.length
  let off = Math.max(...places.map(([x, y]) => Math.abs(Math.hypot(x - c.x, y - c.y) - c.r)))
  const start = angles.reduce((s, a, i) => s + a - i * even, 0) / places.length
  angles.forEach((a, i) => (off = Math.max(off, c.r * Math.abs(a - start - i * even))))
  if (off > within) return null
  return { words: `evenly on a circle of Ø ${num(2 * c.r, 3)} mm`, diameter: 2 * c.r, off }
}

/**
 * The pattern that centres stand on, seen along their common axis; null when they stand on none.
 * @param places a place of each axis, mm
 * @param within how far a centre may be from where the pattern has it, mm
 */
export function patternOf(places: readonly Vec3[], axis: Vec3, within: number): Pattern | null {
  if (places.length < 2) return null
  const flat = centresAlong(places, axis)
  return gridOf(flat, within) ?? circleOf(flat, within)
}
