/** Shapes fitted to triangles, judged by the noise: the simplest that leaves no more than it. */
import { dot, type Vec3 } from '@/core/math/vec'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { refine } from '../refine'
import { filtered, samplesOf, someOf, thinned, type Samples } from '../samples'
import { normalOf, offsFrom, type Shape, type ShapeKind } from '../shape'
import { startOf } from '../starts'
import type { Evidence } from './evidence'
import { amid, doubtful, leastAmid } from './amid'
import { costOf, freeCost, modelOf, mostSquare, shapeCost, type Model } from './model'

/** From the simplest on. */
export const kinds: readonly ShapeKind[] = ['plane', 'cylinder', 'cone', 'sphere', 'ring']
/** Fewer corners tell no shape of a kind. */
const least: Record<ShapeKind, number> = { plane: 3, sphere: 5, cylinder: 6, cone: 7, ring: 9 }
/** Radii of more than so many times the size are flat. */
const mostRadius = 3
/** Cones this slender or blunt are none, degrees. */
const bluntCone = 1e-3

/** Whether a shape is one that a part of a size may have. */
export const usable = (s: Shape, size: number) =>
  Math.max(s.radius ?? 0, s.thickness ?? 0) <= mostRadius * size &&
  (s.kind !== 'cone' || (s.halfAngle! > bluntCone && s.halfAngle! < 90 - bluntCone)) &&
  (s.kind !== 'ring' || s.thickness! > 0) &&
  s.at.every(Number.isFinite) &&
  (s.axis ?? s.at).every(Number.isFinite)

/** Whether most of the samples see a shape from its inside. */
export function insideOf(s: Shape, { points, normals }: Samples): boolean {
  let sum = 0
  points.forEach((p, i) => (sum += Math.sign(dot(normalOf(s, p), normals[i]))))
  return sum < 0
}

/** A shape of a kind through samples by least squares, or null. */
export function fitOf(
  kind: ShapeKind,
  s: Samples,
  size: number,
  { care = false, from }: { care?: boolean | 'some'; from?: Shape } = {},
): Shape | null {
  if (s.points.length < least[kind]) return null
  const start = from?.kind === kind ? from : startOf(kind, s)
  if (!start || !start.at.every(Number.isFinite)) return null
  const made = kind === 'plane' && !from ? start : refine(start, s.points, {}, care)
  return usable(made, size) ? made : null
}

/** Root mean square of what samples lie off a shape, mm. */
export function rmsOf(shape: Shape, { points }: Samples): number {
  const off = offsFrom(shape)
  let sum = 0
  for (const p of points) sum += off(p) ** 2
  return Math.sqrt(sum / (points.length || 1))
}

/** Samples of some triangles without those that lie far off a first shape: beyond an edge that the patch was laid over. */
export function trimmed(s: Samples, shape: Shape, sigma: number): Samples {
  const off = offsFrom(shape)
  const offs = Float64Array.from(s.points, (p) => Math.abs(off(p)))
  const middle = offs.slice().sort()[offs.length >> 1]
  const limit = Math.max(3 * sigma, 3.5 * middle)
  return filtered(s, (i) => offs[i] <= limit)
}

const enough = 400
const judges = 2000
/** A kind of more numbers has to explain so much better. */
export const worthKind = 4
/** Sums of squares of noise lie within so many of their own standard deviations. */
const chi = 2.5
/** And leave no more than this share of the squares. */
const worthSquares = 0.92

/**
 * The kind that explains a region's corners with the fewest numbers: squares over the noise, with what each number costs
 * (Schwarz 1978, Estimating the dimension of a model).
 */
export function bestOf(
  e: Evidence,
  list: readonly number[],
  size: number,
  from: Model,
  some: readonly ShapeKind[] = kinds,
): Model {
  const all = samplesOf(e.mesh, someOf(list, 6000))
  const few = thinned(all, enough)
  const asked = someOf(list, enough)
  // Where there are more corners than are fitted to, others judge: a fit flatters its own.
  const fitted = new Set(few.points)
  const others = all.points.filter((p) => !fitted.has(p))
  const judged = others.length > few.points.length ? someOf(others, judges) : few.points
  let best: Shape | null = null
  let least = Infinity
  let now = Infinity
  for (const kind of some) {
    const made = fitOf(kind, few, size, { care: 'some', ...(from.shape.kind === kind ? { from: from.shape } : {}) })
    if (!made) continue
    if (doubtful.has(kind) && amid(e, list) < leastAmid * list.length) continue
    const shape = facing(made, few)
    const model = modelOf(shape, insideOf(shape, few))
    let sum = 0
    for (const t of asked) if (costOf(e, t, model) > freeCost) sum += freeCost
    let squares = 0
    for (const p of judged) squares += Math.min(mostSquare, (model.off(p) / e.sigma) ** 2) / 2
    const cost =
      (sum * list.length) / asked.length + squares + shapeCost[kind] + 0.5 * numbersOf[kind] * Math.log(judged.length)
    if (cost < least - (best ? worthKind : 0) && (!best || squares < worthSquares * now)) {
      least = cost
      now = squares
      best = shape
    }
    // What leaves no more than the noise was meant (chi-squared test).
    const n = judged.length
    if (
      best === shape &&
      n > 3 * numbersOf[kind] &&
      sum < 0.02 * freeCost * asked.length &&
      2 * squares < n + chi * Math.sqrt(2 * n)
    )
      break
  }
  if (!best) return from
  const fine =
    all.points.length > enough ? fitOf(best.kind, thinned(all, 3000), size, { care: 'some', from: best }) : best
  const shape = facing(fine ?? best, all)
  return modelOf(shape, insideOf(shape, all))
}

/** Numbers that each kind is told by. */
export const numbersOf: Record<ShapeKind, number> = { plane: 3, sphere: 4, cylinder: 5, cone: 6, ring: 7 }

/** A plane looks the way its triangles do. */
export function facing(shape: Shape, s: Samples): Shape {
  if (shape.kind !== 'plane' || !insideOf(shape, s)) return shape
  return { ...shape, axis: shape.axis!.map((v) => -v) as unknown as Vec3 }
}

export const samplesFor = (mesh: TriMesh, list: readonly number[], most: number): Samples =>
  thinned(samplesOf(mesh, someOf(list, most)), most)
