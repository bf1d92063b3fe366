/** The one way from a kernel shape, or from a builder, to a body: built? done? names by history, merged, validated, measured, faceted. */
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import { StepError } from '@/core/base/step-error'
import type { ExactBody, SolidFacts } from '@/core/bodies/body'
import { boundsOf, roughBounds } from './bounds'
import { ShapeIndex } from './explore'
import { facet } from './facet'
import type { Kernel } from './kernel'
import { massOf, roughVolume } from './mass'
import { measure, partsOf, sizeOf } from './measure'
import { carryNames, type Historical, type Named } from './names'
import { upright } from './upright'

const defaultTolerance = (facts: Pick<SolidFacts, 'size'>) =>
  Math.min(0.05, Math.max(0.002, 2e-4 * Math.hypot(...facts.size)))

const empty = (what: string) =>
  new StepError('empty-result', `${what} leaves nothing.`, { tryThis: 'Check that the bodies overlap.' })

export interface Finish {
  /** Begins the sentence of a failure. */
  readonly what: string
  /** Names of the faces in the explorer's order, as far as they are known; a function sees the finished shape. */
  readonly names?: readonly string[] | ((oc: Kernel, shape: TopoDS_Shape) => readonly string[])
  /** Begins the names of faces that have none yet: "pin/". */
  readonly prefix?: string
  /** A body that came inside out is turned. */
  readonly outward?: boolean
  /** Open shapes are welcome and become sheets. */
  readonly sheet?: boolean
  readonly label?: string
  readonly colour?: string
}

/** The only solid of a compound, or the shape itself. */
function onlySolid(oc: Kernel, shape: TopoDS_Shape): TopoDS_Shape {
  if (String(shape.ShapeType()) !== 'TopAbs_COMPOUND') return shape
  const solids = new ShapeIndex(oc, shape, 'TopAbs_SOLID').list
  return solids.length === 1 ? solids[0] : shape
}

/** Validates a shape and makes it a body: closed, valid, volume above zero; or a valid sheet where one is welcome. */
export function finish(
  oc: Kernel,
  shape: TopoDS_Shape,
  { what, names, prefix = '', sheet, outward, label, colour }: Finish,
): ExactBody {
  if (shape.IsNull()) throw empty(what)
  const one = onlySolid(oc, shape)
  const whole = upright(oc, outward && roughVolume(oc, one) < 0 ? one.Reversed() : one)
  const faces = new ShapeIndex(oc, whole, 'TopAbs_FACE'),
    edges = new ShapeIndex(oc, whole, 'TopAbs_EDGE')
  if (!faces.list.length) throw empty(what)
  const mass = massOf(oc, whole, faces, edges)
  const facts = measure(oc, whole, faces, edges, mass)
  if (!facts.pieces && !sheet) throw empty(what)
  const kind = facts.pieces ? 'solid' : 'sheet'
  if (!facts.valid || (kind === 'solid' && !(facts.volume > 0)))
    throw new StepError(
      'not-valid',
      `${what} gives a body that is not sound (volume ${facts.volume.toFixed(3)} mm³).`,
      { tryThis: 'Change a size or the place a little and try again.' },
    )
  const tolerance = defaultTolerance(sizeOf(roughBounds(oc, whole)))
  const display = facet(oc, whole, tolerance, edges)
  const { size, min } = sizeOf(boundsOf(oc, whole, faces, edges, display, tolerance))
  const given = typeof names === 'function' ? names(oc, whole) : (names ?? [])
  const { centre, area, volume, ...rest } = facts
  const parts = partsOf(oc, faces, edges, display, mass.faces, given, prefix)
  oc.BRepTools.Clean(whole, true) // facets are kept beside the shape, not in its text
  return {
    kind,
    brep: oc.BRepToolsWrapper.Write(whole),
    // In the order in which they are read back, so that the same body gives the same bytes.
    facts: { ...rest, size, min, volume: kind === 'solid' ? volume : 0, area, ...(centre ? { centre } : {}) },
    display,
    tolerance,
    parts,
    ...(label ? { label } : {}),
    ...(colour ? { colour } : {}),
  }
}

interface Builder extends Historical {
  IsDone(): boolean
  Shape(): TopoDS_Shape
  HasErrors?(): boolean
  SimplifyResult?(edges: boolean, faces: boolean, angle: number): void
}

export interface Run {
  readonly failed: StepError
  readonly inputs: readonly Named[]
  /** Merge faces and edges that lie on one surface or curve (booleans only). */
  readonly unify?: boolean
  /** Name of a face made from a face or edge of an input. */
  readonly made?: (source: string) => string
}

/** Runs a builder: done?, merged?, and the names its history tells of. */
export function runBuilder(oc: Kernel, op: Builder, { failed, inputs, unify, made }: Run): Named {
  if (!op.IsDone() || op.HasErrors?.()) throw failed
  if (unify) op.SimplifyResult?.(true, true, 1e-6)
  const shape = op.Shape()
  return { shape, names: carryNames(oc, op, inputs, shape, made) }
}
