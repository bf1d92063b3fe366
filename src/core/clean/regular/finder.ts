/** What looks for regularities: the shapes as they are now, what each was fitted to, and what was found. */
import { num, plural } from '@/core/base/say'
import type { Fitted } from '@/core/fit/fit-shape'
import { offShape, type Shape } from '@/core/fit/shape'
import { cross, length, scale, type Vec3 } from '@/core/math/vec'

export type RegularKind = 'parallel' | 'square' | 'along' | 'coaxial' | 'equal' | 'round' | 'touching' | 'mirrored'

export interface Regular {
  readonly kind: RegularKind
  /** What it says; the same finding says the same again. */
  readonly text: string
  /** Numbers of the shapes. */
  readonly of: readonly number[]
  /** How much the shapes were moved at most, mm. */
  readonly moved: number
  /** Whether the shapes were changed to hold it. */
  readonly taken: boolean
}

/** A shape with the places that it was fitted to. */
export interface Given {
  readonly shape: Fitted
  readonly points: readonly Vec3[]
  /** Share of the skin, for weights, mm². */
  readonly area: number
}

export interface Looks {
  /** mm: how much more than now the mesh may be off a shape. */
  readonly close: number
  /** Corners of the mesh lie on the shapes themselves, as a drawn part's do. */
  readonly drawn: boolean
  /** Texts of findings that are not to be taken. */
  readonly loose?: readonly string[]
  /** Whether two of the shapes lie beside each other on the mesh. */
  beside(i: number, k: number): boolean
}

/** Numbers are brought to the first of these steps that the mesh allows, mm. */
export const roundSteps = [1, 0.5, 0.25, 0.1, 0.05, 0.02, 0.01, 0.005, 0.001]
/** Files keep about seven digits: nearer than this nothing is told apart, mm. */
const leastNear = 1e-5

export const shapeNames = {
  plane: 'plane',
  cylinder: 'cylinder',
  cone: 'cone',
  sphere: 'sphere',
  ring: 'ring',
} as const

/** "2 planes and 3 cylinders" */
export function listed(shapes: readonly Shape[]): string {
  const parts = Object.entries(shapeNames).flatMap(([kind, word]) => {
    const n = shapes.filter((s) => s.kind === kind).length
    return n ? [plural(n, word)] : []
  })
  return parts.length > 1 ? `${parts.slice(0, -1).join(', ')} and ${parts[parts.length - 1]}` : (parts[0] ?? '')
}

export class Regularities {
  readonly shapes: Shape[]
  /** Round walls that touch flat ones: where these are. */
  readonly touched = new Map<number, readonly number[]>()
  readonly found: Regular[] = []
  readonly close: number
  readonly drawn: boolean
  private readonly loose: ReadonlySet<string>
  readonly beside: Looks['beside']
  constructor(
    private readonly given: readonly Given[],
    looks: Looks,
  ) {
    this.close = looks.close
    this.drawn = looks.drawn
    this.loose = new Set(looks.loose)
    this.beside = (i, k) => looks.beside(i, k)
    this.shapes = given.map((g) => g.shape)
  }

  /** How far a shape's places lie off a shape: root mean square and most, mm. */
  off(i: number, s: Shape): { rms: number; max: number } {
    const { points } = this.given[i]
    const step = Math.max(1, Math.floor(points.length / 200))
    let sum = 0,
      n = 0,
      max = 0
    for (let k = 0; k < points.length; k += step) {
      const off = Math.abs(offShape(s, points[k]))
      sum += off * off
      max = Math.max(max, off)
      n++
    }
    return { rms: Math.sqrt(sum / Math.max(1, n)), max }
  }

  /** Whether the mesh holds a shape in place of what it is now. */
  holds(i: number, s: Shape): boolean {
    const [now, was] = [this.off(i, s), this.off(i, this.given[i].shape)]
    // The bulk has to hold; single places of a scan may stick out as they did before.
    return now.rms <= was.rms + this.close / 2 && now.max <= was.max + this.close
  }

  /** Takes changed shapes where the mesh holds them, or it is sure that it does, and notes it. Shapes that it does not hold stay out. */
  take(
    kind: RegularKind,
    text: (n: readonly number[]) => string,
    changes: ReadonlyMap<number, Shape>,
    least = 1,
    sure: (i: number) => boolean = () => false,
  ): boolean {
    const held = [...changes].filter(([i, s]) => sure(i) || this.holds(i, s))
    if (held.length < least) return false
    const of = held.map(([i]) => i)
    const said = text(of)
    const taken = !this.loose.has(said)
    let moved = 0
    for (const [i, s] of held) {
      moved = Math.max(moved, Math.abs(this.off(i, s).max - this.off(i, this.shapes[i]).max))
      if (taken) this.shapes[i] = s
    }
    this.found.push({ kind, text: said, of, moved, taken })
    return taken
  }

  /** What noise leaves free in where a shape lies, mm: a round number that near is meant. */
  near(i: number): number {
    const { shape, points } = this.given[i]
    const free = Math.max(
      shape.sigma && shape.kind !== 'cone' ? shape.sigma : 0,
      shape.rms / Math.sqrt(Math.max(1, points.length)),
    )
    return Math.min(this.close, Math.max(5 * free, leastNear))
  }

  weight(i: number) {
    return this.given[i].area
  }
  points(i: number) {
    return this.given[i].points
  }
}

/** A direction so that both its ways give the same. */
export const unsigned = (d: Vec3): Vec3 => {
  const k = [0, 1, 2].reduce((best, i) => (Math.abs(d[i]) > Math.abs(d[best]) + 1e-9 ? i : best), 0)
  return d[k] < 0 ? scale(d, -1) : d
}
/** Between two directions, either way, degrees. */
export const angle = (a: Vec3, b: Vec3) => (Math.asin(Math.min(1, length(cross(a, b)))) * 180) / Math.PI
/** A direction or place in words. */
export const said = (d: Vec3) => d.map((v) => num(Math.abs(v) < 5e-5 ? 0 : v, 3)).join(', ')

/** Groups of numbers that lie within a width of their neighbours in order. */
export function groupsOf(values: readonly { i: number; v: number }[], width: number): { i: number; v: number }[][] {
  const out: { i: number; v: number }[][] = []
  for (const x of [...values].sort((a, b) => a.v - b.v)) {
    const last = out[out.length - 1]
    if (last && x.v - last[0].v <= width) last.push(x)
    else out.push([x])
  }
  return out
}

/** The first round number that lies within `near` of a value, or null. */
export function roundOf(v: number, near: number, steps: readonly number[]): number | null {
  for (const s of steps) {
    const r = Math.round(v / s) * s
    const tidy = Number(r.toFixed(6))
    if (Math.abs(tidy - v) <= near && s >= 10 * near) return tidy
  }
  return null
}

/** The size that a shape's radius is: of a ring its tube's. */
export const radiusOf = (s: Shape) => (s.kind === 'ring' ? s.thickness : s.radius)
export const withRadius = (s: Shape, v: number): Shape =>
  s.kind === 'ring' ? { ...s, thickness: v } : { ...s, radius: v }
