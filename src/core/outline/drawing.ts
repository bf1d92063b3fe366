/** A drawing in a plane: points, and the curves between them. Everything in mm in the plane's own two directions. */
import { z } from 'zod'
import { constraintSchema, dimensionSchema, type Constraint, type Dimension } from './constraint'
import { letteringSchema, type Lettering } from './lettering-schema'
import { add, cross, dot, normalize, perpendicular, scale, sub, type Vec3 } from '@/core/math/vec'

/** A place in a plane: along its first direction and along its second. */
export type Place = readonly [number, number]

/** Where a drawing lies: a place of the plane, its unit normal, and its unit first direction; the second is normal x first. */
export interface DrawingPlane {
  readonly at: Vec3
  readonly normal: Vec3
  readonly x: Vec3
}

const index = z.int().min(0)
/** A construction line guides others and encloses nothing. */
const common = { construction: z.boolean().optional() }
const lineSchema = z.object({ kind: z.literal('line'), from: index, to: index, ...common })
const arcSchema = z.object({
  kind: z.literal('arc'),
  from: index,
  to: index,
  centre: index,
  ccw: z.boolean(),
  ...common,
})
const circleSchema = z.object({ kind: z.literal('circle'), centre: index, radius: z.number().positive(), ...common })
const ellipseSchema = z.object({
  kind: z.literal('ellipse'),
  centre: index,
  /** Half the long and half the short width, mm. */
  long: z.number().positive(),
  short: z.number().positive(),
  /** Of the long way against the first direction, degrees. */
  turn: z.number(),
  ...common,
})
const splineSchema = z.object({
  kind: z.literal('spline'),
  /** Points the curve runs through; or control points of a cubic. */
  through: z.array(index).min(2).optional(),
  control: z.array(index).min(3).optional(),
  /** Of a cubic with control points: its knots. Left out for one that runs round smoothly with even knots. */
  knots: z.array(z.number()).optional(),
  closed: z.boolean().optional(),
  ...common,
})
export const curveSchema = z.discriminatedUnion('kind', [
  lineSchema,
  arcSchema,
  circleSchema,
  ellipseSchema,
  splineSchema.refine(
    (s) => !!s.through !== !!s.control,
    'a spline has either points it runs through or control points',
  ),
])
const place = z.tuple([z.number(), z.number()])
export const drawingSchema = z.object(
  {
    points: z.array(place),
    curves: z.array(curveSchema),
    constraints: z.array(constraintSchema).optional(),
    dimensions: z.array(dimensionSchema).optional(),
    lettering: z.array(letteringSchema).max(500).optional(),
  },
  { error: (issue) => (issue.input === undefined ? 'nothing is drawn yet' : undefined) },
)

export type Curve = z.output<typeof curveSchema>
export type CurveKind = Curve['kind']
export interface Drawing {
  readonly points: readonly Place[]
  readonly curves: readonly Curve[]
  readonly constraints?: readonly Constraint[]
  readonly dimensions?: readonly Dimension[]
  readonly lettering?: readonly Lettering[]
}

export const emptyDrawing: Drawing = { points: [], curves: [] }

/** A plane through a place with a normal; its first direction is as near to `x` as it can be, or level where nothing is asked for. */
export function drawingPlane(at: Vec3, normal: Vec3, x?: Vec3): DrawingPlane {
  const n = normalize(normal)
  const flat = (v: Vec3) => sub(v, scale(n, dot(v, n)))
  // Seen from above, the first direction is x; else it is level.
  const wanted: Vec3 = x ?? (Math.abs(n[2]) > 0.999 ? [1, 0, 0] : cross([0, 0, 1], n))
  const way = flat(wanted)
  return { at, normal: n, x: Math.hypot(...way) > 1e-9 ? normalize(way) : perpendicular(n) }
}

export function toSpace(plane: DrawingPlane, [u, v]: Place): Vec3 {
  return add(plane.at, add(scale(plane.x, u), scale(cross(plane.normal, plane.x), v)))
}

export function toPlane(plane: DrawingPlane, p: Vec3): Place {
  const d = sub(p, plane.at)
  return [dot(d, plane.x), dot(d, cross(plane.normal, plane.x))]
}

/** Numbers of the points a curve is made of. */
export function pointsOf(c: Curve): number[] {
  switch (c.kind) {
    case 'line':
      return [c.from, c.to]
    case 'arc':
      return [c.from, c.to, c.centre]
    case 'circle':
    case 'ellipse':
      return [c.centre]
    case 'spline':
      return [...(c.through ?? c.control ?? [])]
  }
}

/** Numbers of the two points a curve runs between; null for one that closes on itself. */
export function endsOf(c: Curve): [number, number] | null {
  if (c.kind === 'line' || c.kind === 'arc') return [c.from, c.to]
  if (c.kind === 'circle' || c.kind === 'ellipse' || c.closed) return null
  const list = c.through ?? c.control ?? []
  return [list[0], list[list.length - 1]]
}
