/** All constraints and dimensions: a new one is a file beside these, its line here, and its word in `constraint.ts`. */
import type { ConstraintKind, DimensionKind } from '../constraint'
import type { ConstraintLaw } from './constraint-law'
import { coincident } from './constraints/coincident'
import { collinear } from './constraints/collinear'
import { concentric } from './constraints/concentric'
import { equal } from './constraints/equal'
import { fixed } from './constraints/fixed'
import { horizontal, vertical } from './constraints/level'
import { midpoint } from './constraints/midpoint'
import { onCurve } from './constraints/on-curve'
import { parallel } from './constraints/parallel'
import { perpendicular } from './constraints/perpendicular'
import { symmetric } from './constraints/symmetric'
import { tangent } from './constraints/tangent'
import type { DimensionLaw } from './dimension-law'
import { angle } from './dimensions/angle'
import { distance } from './dimensions/distance'
import { arcLength, length } from './dimensions/length'
import { diameter, longRadius, radius, shortRadius } from './dimensions/radius'

export const constraintLaws: Readonly<Record<ConstraintKind, ConstraintLaw>> = {
  coincident,
  onCurve,
  midpoint,
  horizontal,
  vertical,
  parallel,
  perpendicular,
  tangent,
  equal,
  concentric,
  collinear,
  symmetric,
  fixed,
}

export const dimensionLaws: Readonly<Record<DimensionKind, DimensionLaw>> = {
  length,
  distance,
  radius,
  diameter,
  angle,
  arcLength,
  longRadius,
  shortRadius,
}
