import type { Vec3 } from '@/core/math/vec'
import type { ShapeKind } from '@/core/fit/shape'

/** A face of a clean solid, and how far the corners of the mesh that it stands for lie off it. */
export interface CleanFace {
  /** `spline`: a wall of a profile's spline. */
  readonly shape: ShapeKind | 'spline'
  /** Radius in mm, of a ring its tube's; of a cone its half angle in degrees. */
  readonly size?: number
  /** It rounds an edge or a corner, and runs on smoothly into the faces beside. */
  readonly fillet?: true
  readonly corners: number
  /** mm. */
  readonly rms: number
  readonly max: number
  readonly at: Vec3
}
