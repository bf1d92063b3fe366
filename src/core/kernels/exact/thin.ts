/** Faces for thin walls: a strip of even width beside the loops of an area, or along an open run of curves. */
import type { TopoDS_Face, TopoDS_Wire } from 'replicad-opencascadejs'
import { num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { distance, type Vec3 } from '@/core/math/vec'
import { toSpace, type DrawingPlane } from '@/core/outline/drawing'
import type { Loop } from '@/core/outline/fills'
import { alongOf } from '@/core/outline/parametric'
import type { Profile } from '@/core/outline/profile'
import { ShapeIndex } from './explore'
import type { Kernel } from './kernel'
import { wiresOf } from './queries'
import { drawnFace, drawnWire, planeOf, pointOf } from './wires'

export interface ThinWall {
  /** mm. */
  readonly width: number
  readonly side: 'in' | 'out' | 'middle'
}

const failed = ({ width }: ThinWall) =>
  new StepError('too-thick', `A wall of ${num(width)} mm does not follow this outline.`, {
    tryThis: 'Take a thinner wall, or put it on the other side.',
  })

/** How far the two edges of the wall lie from the outline: outward, and inward as below zero. */
const reach = ({ width, side }: ThinWall): [number, number] =>
  side === 'out' ? [width, 0] : side === 'in' ? [0, -width] : [width / 2, -width / 2]

/** The area grown by a distance, corners sharp; the area itself at 0. */
function grown(oc: Kernel, plane: DrawingPlane, face: TopoDS_Face, by: number, wall: ThinWall): TopoDS_Face {
  if (!by) return face
  const op = new oc.BRepOffsetAPI_MakeOffset(face, 'GeomAbs_Intersection' as never, false)
  op.Perform(by, 0)
  if (!op.IsDone()) throw failed(wall)
  const wires = wiresOf(oc, op.Shape())
  if (wires.length !== wiresOf(oc, face).length) throw failed(wall)
  const size = (w: TopoDS_Wire) => {
    const props = new oc.GProp_GProps()
    oc.BRepGProp.SurfaceProperties(
      new oc.BRepBuilderAPI_MakeFace(planeOf(oc, plane), w, true).Face(),
      props,
      false,
      false,
    )
    return props.Mass()
  }
  const [outer, ...holes] = wires.map((w) => ({ w, size: size(w) })).sort((a, b) => b.size - a.size)
  const make = new oc.BRepBuilderAPI_MakeFace(planeOf(oc, plane), outer.w, true)
  for (const h of holes) make.Add(h.w)
  const fix = new oc.ShapeFix_Face(make.Face())
  fix.FixOrientation()
  return fix.Face()
}

/** The larger and the smaller face between which the walls of an area lie. Throws StepError `too-thick`. */
export function thinArea(oc: Kernel, plane: DrawingPlane, p: Profile, area: Profile['areas'][number], wall: ThinWall) {
  const { face } = drawnFace(oc, plane, p.divided, area, p.of)
  const [out, inward] = reach(wall)
  return { large: grown(oc, plane, face, out, wall), small: grown(oc, plane, face, inward, wall) }
}

/** A strip along an open run of curves, its ends cut square. Throws StepError `too-thick`. */
export function thinRun(oc: Kernel, plane: DrawingPlane, p: Profile, run: Loop['curves'], wall: ThinWall): TopoDS_Face {
  const place = (k: number, t: number): Vec3 => {
    const { curve, forward } = run[k]
    return toSpace(plane, alongOf(p.divided, p.divided.curves[curve])(forward ? t : 1 - t))
  }
  const ends = [place(0, 0), place(run.length - 1, 1)]
  const beside = (by: number): TopoDS_Wire => {
    const { wire } = drawnWire(oc, plane, p.divided, run, p.of)
    if (!by) return wire
    const op = new oc.BRepOffsetAPI_MakeOffset()
    op.Init('GeomAbs_Intersection' as never, true)
    op.AddWire(wire)
    op.Perform(by, 0)
    const wires = op.IsDone() ? wiresOf(oc, op.Shape()) : []
    if (wires.length !== 1) throw failed(wall)
    return wires[0]
  }
  const [a, b] = reach(wall).map((by) => ({ by, wire: beside(by) }))
  const corner = ({ by, wire }: typeof a, end: Vec3): Vec3 => {
    const all = new ShapeIndex(oc, wire, 'TopAbs_VERTEX').list.map((v): Vec3 => {
      const q = oc.BRep_Tool.Pnt(oc.TopoDS.Vertex(v))
      return [q.X(), q.Y(), q.Z()]
    })
    const off = (q: Vec3) => Math.abs(distance(q, end) - Math.abs(by))
    const best = all.reduce((m, q) => (off(q) < off(m) ? q : m))
    if (off(best) > 1e-5) throw failed(wall)
    return best
  }
  const list = new oc.NCollection_List_TopoDS_Shape()
  for (const { wire } of [a, b]) for (const e of new ShapeIndex(oc, wire, 'TopAbs_EDGE').list) list.Append(e)
  for (const end of ends)
    list.Append(new oc.BRepBuilderAPI_MakeEdge(pointOf(oc, corner(a, end)), pointOf(oc, corner(b, end))).Edge())
  const wire = new oc.BRepBuilderAPI_MakeWire()
  wire.Add(list)
  if (!wire.IsDone()) throw failed(wall)
  const make = new oc.BRepBuilderAPI_MakeFace(planeOf(oc, plane), wire.Wire(), true)
  if (!make.IsDone()) throw failed(wall)
  return make.Face()
}
