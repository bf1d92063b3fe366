/** Constraints and dimensions for what is picked: which fit, and how they are taken on. */
import {
  constraintKinds,
  type Constraint,
  type ConstraintKind,
  type Dimension,
  type DimensionKind,
} from '@/core/outline/constraint'
import type { Drawing } from '@/core/outline/drawing'
import type { Picked } from '@/core/outline/edit'
import { canHold, measuresOf } from '@/core/outline/laws/laws'
import { drawingNow, hold, outline } from './state'

/** The constraint of a kind that what is picked can be held to; null where it does not fit. */
export function constraintFor(d: Drawing, kind: ConstraintKind, { points, curves }: Picked): Constraint | null {
  if (!points.length && !curves.length) return null
  // A line to be symmetric about may have been picked first.
  const orders = kind === 'symmetric' ? curves.map((k) => [...curves.filter((j) => j !== k), k]) : [curves]
  for (const list of orders.length ? orders : [curves]) {
    const c: Constraint = { kind, points: [...points], curves: [...list] }
    if (canHold(d, c)) return c
  }
  return null
}

export const fittingConstraints = (d: Drawing, picked: Picked): ConstraintKind[] =>
  constraintKinds.filter((k) => constraintFor(d, k, picked))

export interface DimensionChoice {
  readonly key: string
  readonly word: string
  readonly kind: DimensionKind
  readonly along?: 'x' | 'y'
}
export const dimensionChoices: readonly DimensionChoice[] = [
  { key: 'length', word: 'Length', kind: 'length' },
  { key: 'distance', word: 'Distance', kind: 'distance' },
  { key: 'across', word: 'Distance across', kind: 'distance', along: 'x' },
  { key: 'up', word: 'Distance up', kind: 'distance', along: 'y' },
  { key: 'diameter', word: 'Diameter', kind: 'diameter' },
  { key: 'radius', word: 'Radius', kind: 'radius' },
  { key: 'angle', word: 'Angle', kind: 'angle' },
  { key: 'arc-length', word: 'Arc length', kind: 'arcLength' },
  { key: 'long', word: 'Long radius', kind: 'longRadius' },
  { key: 'short', word: 'Short radius', kind: 'shortRadius' },
]

export function dimensionFor(d: Drawing, c: DimensionChoice, { points, curves }: Picked): Dimension | null {
  if (!points.length && !curves.length) return null
  const dim: Dimension = {
    kind: c.kind,
    points: [...points],
    curves: [...curves],
    ...(c.along ? { along: c.along } : {}),
  }
  if (!canHold(d, dim)) return null
  // Across or up: only between points, or along a line.
  if (c.along && !(points.length === 2 || (curves.length === 1 && !points.length))) return null
  const value = measuresOf({ ...d, dimensions: [dim] })[0]
  return Number.isFinite(value) ? { ...dim, value: Number(value.toFixed(6)) } : null
}

/** Holds what is picked to a dimension and opens its figure. */
export async function addDimension(dim: Dimension): Promise<void> {
  const before = drawingNow().dimensions?.length ?? 0
  await hold({ dimensions: [dim] })
  if ((drawingNow().dimensions?.length ?? 0) > before) outline.setState({ writing: before })
}
