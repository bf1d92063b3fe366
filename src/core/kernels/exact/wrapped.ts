/** Areas of a drawing laid round a cylinder and given a height: raised or sunken lettering on round walls. */
import type { TopoDS_Face, TopoDS_Wire } from 'replicad-opencascadejs'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { addScaled, dot, normalize, sub, type Vec3 } from '@/core/math/vec'
import { endsOf, type Place } from '@/core/outline/drawing'
import type { Loop } from '@/core/outline/fills'
import { alongOf } from '@/core/outline/parametric'
import type { Profile } from '@/core/outline/profile'
import { splineOf } from '@/core/outline/sample'
import { throughSpline, type Spline } from '@/core/outline/spline'
import { finish } from './build'
import { ShapeIndex } from './explore'
import { namesFor, together } from './extrude'
import type { Kernel } from './kernel'
import type { Named } from './names'
import { upright } from './upright'
import { withKernel } from './scope'

/** Where a drawing is laid: on the wall round an axis, its own origin at a place of that wall. */
export interface RoundWall {
  /** A place on the axis, and its direction (unit). */
  readonly centre: Vec3
  readonly axis: Vec3
  readonly radius: number
  /** Where the drawing's origin comes to lie; brought onto the wall. */
  readonly at: Vec3
  /** How far the drawing is turned on the wall, degrees: at 0 its y runs along the axis. */
  readonly turn?: number
  /** The wall is the inside of a bore: heights point to the axis, and it reads from there. */
  readonly inside?: boolean
}

/** A curve that is no line or cubic runs through so many of its places. */
const through = 24

/** A plane cubic of the kernel. */
function cubicOf(oc: Kernel, s: Spline) {
  const poles = new oc.NCollection_Array1_gp_Pnt2d(1, s.control.length)
  s.control.forEach((q, i) => poles.SetValue(i + 1, new oc.gp_Pnt2d(...(q as [number, number]))))
  const values = [...new Set(s.knots)]
  const knots = new oc.NCollection_Array1_double(1, values.length)
  const times = new oc.NCollection_Array1_int(1, values.length)
  values.forEach((v, i) => {
    knots.SetValue(i + 1, v)
    times.SetValue(i + 1, s.knots.filter((k) => k === v).length)
  })
  return new oc.Geom2d_BSplineCurve(poles, knots, times, 3, false)
}

/** A curve of the drawing, laid on the wall; null where it has no length. */
function laidCurve(p: Profile, curve: number, laid: (q: Place) => Place): Spline | null {
  const c = p.divided.curves[curve]
  const along = alongOf(p.divided, c)
  const ends = endsOf(c)
  let s: Spline | null
  const own = c.kind === 'spline' && ends ? splineOf(p.divided, c) : null
  if (own && !own.closed) s = { ...own, control: own.control.map(laid) }
  else if (c.kind === 'line' && ends) {
    const [a, b] = ends.map((i) => laid(p.divided.points[i]))
    const part = (t: number): Place => [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1])]
    s = { control: [a, part(1 / 3), part(2 / 3), b], knots: [0, 0, 0, 0, 1, 1, 1, 1], closed: false }
  } else
    s = throughSpline(
      Array.from({ length: through + 1 }, (_, i) => laid(along(i / through))),
      false,
    )
  return s
}

/**
 * Areas as solids between two heights over the wall; lengths round it are true on the wall itself.
 * @param from, to heights over the wall, mm, below zero toward the axis
 * Throws StepError `too-deep`, `too-long`, `wrap-failed`.
 */
export const makeWrapped = (p: Profile, wall: RoundWall, from: number, to: number, name: string): Promise<ExactBody> =>
  withKernel('Lettering', (oc) => {
    const [low, high] = wall.inside ? [wall.radius - to, wall.radius - from] : [wall.radius + from, wall.radius + to]
    if (!(low > 1e-3))
      throw new StepError('too-deep', 'The letters would reach to the axis of the round wall.', {
        tryThis: 'Make them lower or less deep.',
      })
    const up = dot(sub(wall.at, wall.centre), wall.axis)
    const foot = addScaled(wall.centre, wall.axis, up)
    const out = normalize(sub(wall.at, foot))
    const [cos, sin] = [Math.cos(((wall.turn ?? 0) * Math.PI) / 180), Math.sin(((wall.turn ?? 0) * Math.PI) / 180)]
    /** Angle round the axis and height along it. */
    const laid = ([x, y]: Place): Place => [
      ((wall.inside ? -1 : 1) * (cos * x - sin * y)) / wall.radius,
      sin * x + cos * y,
    ]
    const around = p.divided.points.map((q) => laid(q)[0])
    if (Math.max(...around) - Math.min(...around) > 2 * Math.PI)
      throw new StepError(
        'too-long',
        'The lettering is longer than the way round the wall: it would run into itself.',
        {
          tryThis: 'Make it smaller, or its words fewer.',
        },
      )
    const frame = new oc.gp_Ax3(new oc.gp_Pnt(...foot), new oc.gp_Dir(...wall.axis), new oc.gp_Dir(...out))
    const surface = new oc.Geom_CylindricalSurface(frame, low)
    /** A curve of the drawing on the wall, as a cubic in angle and height. */
    const edgeOf = (curve: number, forward: boolean) => {
      const s = laidCurve(p, curve, laid)
      if (!s) throw new StepError('empty', `Curve ${p.of[curve] + 1} of the drawing has no length.`)
      const run: Spline = forward
        ? s
        : { control: [...s.control].reverse(), knots: s.knots.map((k) => 1 - k).reverse(), closed: false }
      const edge = new oc.BRepBuilderAPI_MakeEdge(cubicOf(oc, run), surface).Edge()
      oc.BRepLib.BuildCurve3d(edge)
      return edge
    }
    const wireOf = (run: Loop['curves']): TopoDS_Wire => {
      const list = new oc.NCollection_List_TopoDS_Shape()
      for (const { curve, forward } of run) list.Append(edgeOf(curve, forward))
      const make = new oc.BRepBuilderAPI_MakeWire()
      make.Add(list)
      if (!make.IsDone()) throw failed()
      return make.Wire()
    }
    const failed = () =>
      new StepError('wrap-failed', 'The letters could not be laid round the wall.', {
        tryThis: 'Try another size or place.',
      })
    const solid = (face: TopoDS_Face): Named => {
      const op = new oc.BRepOffsetAPI_MakeThickSolid()
      op.MakeThickSolidBySimple(face, high - low)
      if (!op.IsDone()) throw failed()
      const shape = onlySolid(oc, op.Shape())
      return { shape, names: namesFor(oc, shape, []).map(() => `${name}/letter`) }
    }
    const parts = p.areas.map((area): Named => {
      const make = new oc.BRepBuilderAPI_MakeFace(surface, wireOf(area.outer.curves), true)
      for (const h of area.holes) make.Add(wireOf(h.curves))
      if (!make.IsDone()) throw failed()
      const fix = new oc.ShapeFix_Face(make.Face())
      fix.FixOrientation()
      return solid(fix.Face())
    })
    const all = together(oc, parts, false, 'Lettering')
    return finish(oc, all.shape, { what: 'Lettering', names: all.names, prefix: `${name}/`, outward: true })
  })

/** The solid of a thickened face, right side out. */
function onlySolid(oc: Kernel, shape: InstanceType<Kernel['TopoDS_Shape']>) {
  const [solid] = new ShapeIndex(oc, shape, 'TopAbs_SOLID').list
  if (!solid) return shape
  const turned = oc.TopoDS.Solid(solid)
  oc.BRepLib.OrientClosedSolid(turned)
  return upright(oc, turned)
}
