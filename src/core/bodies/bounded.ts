/** An exact body as its parts: surfaces, the curves they end at, the corners these end at, and who meets whom (as in ISO 10303-42). */
import type { Vec3 } from '@/core/math/vec'

/** One of the five elementary surfaces, without borders. */
export interface BoundSurface {
  readonly kind: 'plane' | 'cylinder' | 'cone' | 'sphere' | 'ring'
  /** A place of a plane, on a cylinder's axis, a cone's tip, the middle of a sphere or ring, mm. */
  readonly at: Vec3
  /** Normal of a plane, axis of a cylinder or ring, of a cone from its tip into it (unit). */
  readonly axis?: Vec3
  /** Of a cylinder, sphere, or a ring's circle, mm. */
  readonly radius?: number
  /** Radius of a ring's tube, mm. */
  readonly thickness?: number
  /** Between a cone's axis and its wall, degrees. */
  readonly halfAngle?: number
}

/** A B-spline surface (ISO 10303-42, b_spline_surface_with_knots), of one degree both ways. */
export interface BoundSpline {
  readonly kind: 'spline'
  readonly degree: number
  /** Rows of control points along the first parameter, mm. */
  readonly poles: readonly (readonly Vec3[])[]
  readonly knots: readonly [readonly number[], readonly number[]]
  readonly multiplicities: readonly [readonly number[], readonly number[]]
}

export type BoundCurve =
  | { readonly kind: 'line' }
  /** Runs anticlockwise about its axis. */
  | { readonly kind: 'circle'; readonly centre: Vec3; readonly axis: Vec3; readonly radius: number }
  | {
      readonly kind: 'ellipse'
      readonly centre: Vec3
      readonly axis: Vec3
      /** Direction of the larger half axis. */
      readonly long: Vec3
      readonly radius: number
      readonly minor: number
    }
  | {
      readonly kind: 'spline'
      readonly degree: number
      readonly poles: readonly Vec3[]
      readonly knots: readonly number[]
      readonly multiplicities: readonly number[]
    }

export interface BoundEdge {
  readonly from: number
  /** The same as `from` where the curve is closed. */
  readonly to: number
  readonly curve: BoundCurve
}

export interface BoundFace {
  readonly surface: BoundSurface | BoundSpline
  /** Where angles begin: square to the axis. */
  readonly x: Vec3
  /** The body lies on the side to which the surface's own normal points. */
  readonly flip: boolean
  /** Material to the left, seen from outside. None: the whole surface. */
  readonly loops: readonly (readonly { readonly edge: number; readonly forward: boolean }[])[]
}

export interface BoundBody {
  readonly corners: readonly Vec3[]
  readonly edges: readonly BoundEdge[]
  readonly faces: readonly BoundFace[]
  /** Numbers of the faces of each connected shell; hollows within a closed one stand with it. */
  readonly shells: readonly { readonly outer: readonly number[]; readonly hollows: readonly (readonly number[])[] }[]
  readonly closed: boolean
}
