/** What a drawing holds to: constraints and dimensions, each naming points and curves by their numbers. */
import { z } from 'zod'

const index = z.int().min(0)

/** Kinds of constraint, with the word that stands for each. */
export const constraintWords = {
  coincident: 'coincident',
  onCurve: 'on curve',
  midpoint: 'midpoint',
  horizontal: 'horizontal',
  vertical: 'vertical',
  parallel: 'parallel',
  perpendicular: 'perpendicular',
  tangent: 'tangent',
  equal: 'equal',
  concentric: 'concentric',
  collinear: 'collinear',
  symmetric: 'symmetric',
  fixed: 'fixed',
} as const
export type ConstraintKind = keyof typeof constraintWords
export const constraintKinds = Object.keys(constraintWords) as [ConstraintKind, ...ConstraintKind[]]

/** Kinds of dimension, with the word that stands for each. */
export const dimensionWords = {
  length: 'length',
  distance: 'distance',
  radius: 'radius',
  diameter: 'diameter',
  angle: 'angle',
  arcLength: 'arc length',
  longRadius: 'long radius',
  shortRadius: 'short radius',
} as const
export type DimensionKind = keyof typeof dimensionWords
export const dimensionKinds = Object.keys(dimensionWords) as [DimensionKind, ...DimensionKind[]]

const parts = { points: z.array(index).max(50).default([]), curves: z.array(index).max(50).default([]) }

export const constraintSchema = z.object({ kind: z.enum(constraintKinds), ...parts }).strict()

export const dimensionSchema = z
  .object({
    kind: z.enum(dimensionKinds),
    ...parts,
    /** mm or degrees, or arithmetic with named values; left out: what is measured. */
    value: z.union([z.number().finite(), z.string().trim().min(1).max(200)]).optional(),
    /** By which other dimensions and steps speak of it. */
    name: z.string().max(40).optional(),
    /** Of a distance between two points: only across or only up. */
    along: z.enum(['x', 'y']).optional(),
    /** Only measured, not held to. */
    driven: z.boolean().optional(),
    /** Where its figure stands, mm in the plane. */
    place: z.tuple([z.number(), z.number()]).optional(),
  })
  .strict()

export type Constraint = z.output<typeof constraintSchema>
export type Dimension = z.output<typeof dimensionSchema>
