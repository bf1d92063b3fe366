/** Curves of a drawing as edges, wires and faces of the kernel. Ends that are one point of the drawing are one place to the last bit. */
import type { TopoDS_Edge, TopoDS_Face, TopoDS_Wire } from 'replicad-opencascadejs'
import { StepError } from '@/core/base/step-error'
import type { Vec3 } from '@/core/math/vec'
import { endsOf, toSpace, type Drawing, type DrawingPlane, type Place } from '@/core/outline/drawing'
import type { Fill, Loop } from '@/core/outline/fills'
import { alongOf } from '@/core/outline/parametric'
import { splineOf } from '@/core/outline/sample'
import { endOf, pieceOf, type Spline } from '@/core/outline/spline'
import type { Kernel } from './kernel'

/** An edge, and the number of the drawing's curve that it is of. */
export interface DrawnEdge {
  readonly edge: TopoDS_Edge
  readonly curve: number
}
export interface DrawnFace {
  readonly face: TopoDS_Face
  readonly edges: readonly DrawnEdge[]
}
export interface DrawnWire {
  readonly wire: TopoDS_Wire
  readonly edges: readonly DrawnEdge[]
}

export const pointOf = (oc: Kernel, p: Vec3) => new oc.gp_Pnt(...p)
export const planeOf = (oc: Kernel, { at, normal, x }: DrawingPlane) =>
  new oc.gp_Pln(new oc.gp_Ax3(new oc.gp_Pnt(...at), new oc.gp_Dir(...normal), new oc.gp_Dir(...x)))
const frameOf = (oc: Kernel, plane: DrawingPlane, centre: Vec3, x: Vec3) =>
  new oc.gp_Ax2(new oc.gp_Pnt(...centre), new oc.gp_Dir(...plane.normal), new oc.gp_Dir(...x))

/** A clamped cubic of the kernel. */
function cubic(oc: Kernel, s: Spline, space: (p: Place) => Vec3) {
  const poles = new oc.NCollection_Array1_gp_Pnt(1, s.control.length)
  s.control.forEach((p, i) => poles.SetValue(i + 1, pointOf(oc, space(p))))
  const values: number[] = [],
    times: number[] = []
  for (const k of s.knots)
    if (values.length && Math.abs(k - values[values.length - 1]) < 1e-14) times[times.length - 1]++
    else {
      values.push(k)
      times.push(1)
    }
  const knots = new oc.NCollection_Array1_double(1, values.length),
    mults = new oc.NCollection_Array1_int(1, values.length)
  values.forEach((v, i) => knots.SetValue(i + 1, v))
  times.forEach((v, i) => mults.SetValue(i + 1, v))
  return new oc.Geom_BSplineCurve(poles, knots, mults, 3, false)
}

/** A curve of a drawing as an edge, run from its start or from its end. Throws StepError `empty` for one without length. */
export function edgeOf(oc: Kernel, plane: DrawingPlane, d: Drawing, curve: number, forward: boolean): TopoDS_Edge {
  const c = d.curves[curve]
  const space = (p: Place) => toSpace(plane, p)
  const fail = () =>
    new StepError('empty', `Curve ${curve + 1} of the drawing has no length.`, {
      tryThis: 'Take it away, or draw it again.',
    })
  const ends = endsOf(c)
  const [from, to] = ends ? (forward ? ends : [ends[1], ends[0]]).map((i) => space(d.points[i])) : []
  const done = (make: { IsDone(): boolean; Edge(): TopoDS_Edge }) => {
    if (!make.IsDone()) throw fail()
    return make.Edge()
  }
  switch (c.kind) {
    case 'line':
      return done(new oc.BRepBuilderAPI_MakeEdge(pointOf(oc, from), pointOf(oc, to)))
    case 'arc': {
      const arc = new oc.GC_MakeArcOfCircle(pointOf(oc, from), pointOf(oc, space(alongOf(d, c)(0.5))), pointOf(oc, to))
      if (!arc.IsDone()) throw fail()
      return done(new oc.BRepBuilderAPI_MakeEdge(arc.Value()))
    }
    case 'circle': {
      const circle = new oc.gp_Circ(frameOf(oc, plane, space(d.points[c.centre]), plane.x), c.radius)
      const edge = done(new oc.BRepBuilderAPI_MakeEdge(circle))
      return forward ? edge : oc.TopoDS.Edge(edge.Reversed())
    }
    case 'ellipse': {
      const a = (c.turn * Math.PI) / 180
      const m = d.points[c.centre]
      // The kernel wants the longer radius first.
      const [long, short, turn] = c.long >= c.short ? [c.long, c.short, a] : [c.short, c.long, a + Math.PI / 2]
      const tip = space([m[0] + Math.cos(turn), m[1] + Math.sin(turn)])
      const o = space(m)
      const x: Vec3 = [tip[0] - o[0], tip[1] - o[1], tip[2] - o[2]]
      const edge = done(new oc.BRepBuilderAPI_MakeEdge(new oc.gp_Elips(frameOf(oc, plane, o, x), long, short)))
      return forward ? edge : oc.TopoDS.Edge(edge.Reversed())
    }
    case 'spline': {
      const s = splineOf(d, c)
      if (!s) throw fail()
      const open = s.closed ? pieceOf(s, 0, endOf(s)) : s
      const control = [...open.control]
      if (ends) {
        control[0] = d.points[ends[0]]
        control[control.length - 1] = d.points[ends[1]]
      } else control[control.length - 1] = control[0]
      const run: Spline = forward
        ? { ...open, control }
        : { control: control.reverse(), knots: open.knots.map((k) => 1 - k).reverse(), closed: false }
      return done(new oc.BRepBuilderAPI_MakeEdge(cubic(oc, run, space)))
    }
  }
}

/** Curves one after the other as a wire, with its edges as they are in it: joining their ends makes new ones. */
export function drawnWire(
  oc: Kernel,
  plane: DrawingPlane,
  d: Drawing,
  run: Loop['curves'],
  of: readonly number[] = d.curves.map((_, i) => i),
): DrawnWire {
  const make = new oc.BRepBuilderAPI_MakeWire()
  const edges = run.map(({ curve, forward }): DrawnEdge => {
    make.Add(edgeOf(oc, plane, d, curve, forward))
    if (!make.IsDone())
      throw new StepError('open', `The curves of the outline do not run on at curve ${of[curve] + 1}.`, {
        tryThis: 'Bring their ends together.',
      })
    return { edge: make.Edge(), curve: of[curve] }
  })
  return { wire: make.Wire(), edges }
}

/** An area of a drawing, its holes left out, as a face that looks along the plane's normal. */
export function drawnFace(
  oc: Kernel,
  plane: DrawingPlane,
  d: Drawing,
  fill: Pick<Fill, 'outer' | 'holes'>,
  of?: readonly number[],
): DrawnFace {
  const outer = drawnWire(oc, plane, d, fill.outer.curves, of)
  // Holes run clockwise as they come: reversed wires are what the kernel needs.
  const holes = fill.holes.map((h) => drawnWire(oc, plane, d, h.curves, of))
  const make = new oc.BRepBuilderAPI_MakeFace(planeOf(oc, plane), outer.wire, true)
  for (const h of holes) make.Add(h.wire)
  if (!make.IsDone())
    throw new StepError('open', 'An area of the outline does not make a face.', {
      tryThis: 'Look at its curves: they may cross or lie on each other.',
    })
  return { face: make.Face(), edges: [...outer.edges, ...holes.flatMap((h) => h.edges)] }
}
