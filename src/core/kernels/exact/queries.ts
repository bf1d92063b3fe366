/** Small questions to shapes that several features ask. */
import type { TopoDS_Edge, TopoDS_Shape, TopoDS_Wire } from 'replicad-opencascadejs'
import type { ExactBody } from '@/core/bodies/body'
import { normalize, sub, type Vec3 } from '@/core/math/vec'
import type { Kernel } from './kernel'
import { pointOf } from './wires'

/** A place or direction of the kernel as three numbers. */
export const vec = (p: { X(): number; Y(): number; Z(): number }): Vec3 => [p.X(), p.Y(), p.Z()]

/** Shapes as a list of the kernel. */
export function listOf(oc: Kernel, shapes: readonly TopoDS_Shape[]) {
  const list = new oc.NCollection_List_TopoDS_Shape()
  for (const s of shapes) list.Append(s)
  return list
}

/** The wires of a shape in the explorer's order. */
export function wiresOf(oc: Kernel, shape: TopoDS_Shape): TopoDS_Wire[] {
  const out: TopoDS_Wire[] = []
  for (const e = new oc.TopExp_Explorer(shape, 'TopAbs_WIRE' as never); e.More(); e.Next())
    out.push(oc.TopoDS.Wire(e.Current()))
  return out
}

/** Places along an edge by their share from start to end, and the way it runs there (unit). */
export function curveOf(oc: Kernel, edge: TopoDS_Edge) {
  const c = new oc.BRepAdaptor_Curve(edge)
  const [a, b] = [c.FirstParameter(), c.LastParameter()]
  const at = (t: number) => vec(c.EvalD0(a + (b - a) * t))
  const way = (t: number) => {
    const h = 1e-5
    return normalize(sub(at(Math.min(1, t + h)), at(Math.max(0, t - h))))
  }
  return { at, way }
}

/** The place of a shape nearest to another, and how far away it is, mm; 0 inside of a solid. */
export function nearestOn(oc: Kernel, shape: TopoDS_Shape, p: Vec3): { at: Vec3; distance: number } {
  const d = new oc.BRepExtrema_DistShapeShape()
  d.LoadS1(shape)
  d.LoadS2(new oc.BRepBuilderAPI_MakeVertex(pointOf(oc, p)).Vertex())
  d.Perform(new oc.Message_ProgressRange())
  return { at: vec(d.PointOnShape1(1)), distance: d.Value() }
}

/** What a changed body keeps of the file it came from. */
export const keptOf = (body: ExactBody): Pick<ExactBody, 'label' | 'colour'> => ({
  ...(body.label ? { label: body.label } : {}),
  ...(body.colour ? { colour: body.colour } : {}),
})
