/** Solids that the kernel has marked as turned, made of turned faces. */
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import { ShapeIndex } from './explore'
import type { Kernel } from './kernel'

/**
 * The shape with no solid in it turned as a whole: the kernel measures such a solid rightly, but its fillets forget the turn and come out
 * inside out, and booleans lose it beside others. Its faces are turned instead.
 */
export function upright(oc: Kernel, shape: TopoDS_Shape): TopoDS_Shape {
  const turned = (solid: TopoDS_Shape) => String(solid.Orientation()) === 'TopAbs_REVERSED'
  const builder = new oc.TopoDS_Builder()
  const anew = (old: TopoDS_Shape) => {
    const solid = new oc.TopoDS_Solid()
    builder.MakeSolid(solid)
    for (const shell of new ShapeIndex(oc, old, 'TopAbs_SHELL').list) builder.Add(solid, shell)
    return solid
  }
  const type = String(shape.ShapeType())
  if (type === 'TopAbs_SOLID') return turned(shape) ? anew(shape) : shape
  const solids = type === 'TopAbs_COMPOUND' ? new ShapeIndex(oc, shape, 'TopAbs_SOLID').list : []
  if (!solids.some(turned)) return shape
  const all = new oc.TopoDS_Compound()
  builder.MakeCompound(all)
  for (const s of solids) builder.Add(all, turned(s) ? anew(s) : s)
  return all
}
