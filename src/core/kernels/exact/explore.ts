/** Faces and edges of a shape in the explorer's order, which survives the shape's text form. */
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import type { Kernel } from './kernel'

export type SubShape = 'TopAbs_FACE' | 'TopAbs_EDGE' | 'TopAbs_SOLID' | 'TopAbs_SHELL' | 'TopAbs_VERTEX'

export const hashOf = (oc: Kernel, shape: TopoDS_Shape): number => oc.ReplicadShapeHasher.HashCode(shape, 2147483647)

/** Distinct sub-shapes of one kind, each once, found again by identity. */
export class ShapeIndex {
  readonly list: TopoDS_Shape[] = []
  private readonly at = new Map<number, number[]>()
  constructor(
    private readonly oc: Kernel,
    shape: TopoDS_Shape,
    kind: SubShape,
  ) {
    const e = new oc.TopExp_Explorer(shape, kind as never)
    for (; e.More(); e.Next()) this.add(e.Current())
  }
  private add(s: TopoDS_Shape): void {
    const h = hashOf(this.oc, s)
    const same = this.at.get(h) ?? []
    if (same.some((i) => this.list[i].IsSame(s))) return
    same.push(this.list.push(s) - 1)
    this.at.set(h, same)
  }
  /** Number of a sub-shape, or -1 when it is not one of these. */
  indexOf(s: TopoDS_Shape): number {
    return this.at.get(hashOf(this.oc, s))?.find((i) => this.list[i].IsSame(s)) ?? -1
  }
}
