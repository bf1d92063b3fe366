/** What sheets have in common: their free edges, sewing; and sheets parallel to others. */
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import { num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { namedShape } from './boolean'
import { finish } from './build'
import { ShapeIndex } from './explore'
import { namesFor } from './extrude'
import type { Kernel } from './kernel'
import { shapesOf } from './names'
import { withKernel } from './scope'
import { skin } from './shell'

/** Numbers of the edges that only one face borders, once. */
export function freeEdges(oc: Kernel, shape: TopoDS_Shape): number[] {
  const edges = new ShapeIndex(oc, shape, 'TopAbs_EDGE')
  const times = new Uint8Array(edges.list.length)
  for (const f of new ShapeIndex(oc, shape, 'TopAbs_FACE').list)
    for (const e = new oc.TopExp_Explorer(f, 'TopAbs_EDGE' as never); e.More(); e.Next()) {
      const i = edges.indexOf(e.Current())
      if (times[i] < 2) times[i]++
    }
  return [...times.keys()].filter((i) => times[i] === 1 && !oc.BRep_Tool.Degenerated(oc.TopoDS.Edge(edges.list[i])))
}

/** Faces sewn to one shape: a solid where nothing is open, else a sheet. */
export function sewn(oc: Kernel, faces: readonly (readonly [TopoDS_Shape, string])[], what: string, tolerance = 1e-6) {
  const sewing = new oc.BRepBuilderAPI_Sewing(tolerance, true, true, true, false)
  for (const [f] of faces) sewing.Add(f)
  sewing.Perform(new oc.Message_ProgressRange())
  const made = sewing.SewedShape()
  if (made.IsNull()) throw new StepError('sew-failed', `${what}: the faces could not be sewn.`)
  const told = faces.map(([f, n]) => [sewing.IsModified(f) ? sewing.Modified(f) : f, n] as const)
  const shells = new ShapeIndex(oc, made, 'TopAbs_SHELL').list
  if (String(made.ShapeType()) === 'TopAbs_FACE') {
    // One face by itself is not made a shell: it may yet close on itself.
    const own = new oc.TopoDS_Shell()
    const builder = new oc.TopoDS_Builder()
    builder.MakeShell(own)
    builder.Add(own, made)
    shells.push(own)
  }
  const closed = !sewing.NbFreeEdges() && shells.length === 1
  const shape = closed ? new oc.ShapeFix_Solid().SolidFromShell(oc.TopoDS.Shell(shells[0])) : made
  return { shape, names: namesFor(oc, shape, told), closed }
}

/** A sheet parallel to another at a distance along its normals, mm; below zero on its other side. Throws StepError `too-far`. */
export const offsetSheet = (body: ExactBody, by: number): Promise<ExactBody> =>
  withKernel('Offset', (oc) => {
    const failed = new StepError('too-far', `The sheet cannot be offset by ${num(by)} mm.`, {
      tryThis: 'Take a smaller distance, or the other side: it must be smaller than the sheet bends.',
    })
    const input = namedShape(oc, body)
    const op = new oc.BRepOffsetAPI_MakeOffsetShape()
    op.PerformByJoin(input.shape, ...skin(oc, by))
    if (!op.IsDone()) throw failed
    const faces = new ShapeIndex(oc, input.shape, 'TopAbs_FACE').list
    const told = faces.flatMap((f, i) => shapesOf(oc, op.Generated(f)).map((g) => [g, input.names[i]] as const))
    const made = finish(oc, op.Shape(), {
      what: 'Offset',
      names: namesFor(oc, op.Shape(), told),
      prefix: 'offset/',
      sheet: true,
    })
    if (made.facts.faces < body.facts.faces) throw failed
    return made
  })
