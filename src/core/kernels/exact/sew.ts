/** Sheets and solids sewn along the edges that they share. */
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import type { Vec3 } from '@/core/math/vec'
import { finish } from './build'
import { namedShape } from './boolean'
import { ShapeIndex } from './explore'
import { namesFor } from './extrude'
import { withKernel } from './scope'

export interface Sewn {
  readonly body: ExactBody
  /** Edges that no other meets. */
  readonly openEdges: number
  /** Middle of each of them, the first hundred. */
  readonly open: readonly Vec3[]
}

/** Bodies sewn within a tolerance, mm: a solid where nothing stays open, else a sheet. Throws StepError `sew-failed`. */
export const sewBodies = (bodies: readonly ExactBody[], tolerance: number): Promise<Sewn> =>
  withKernel('Sew', (oc) => {
    const sewing = new oc.BRepBuilderAPI_Sewing(tolerance, true, true, true, false)
    const inputs = bodies.map((b) => namedShape(oc, b))
    for (const { shape } of inputs) for (const f of new ShapeIndex(oc, shape, 'TopAbs_FACE').list) sewing.Add(f)
    sewing.Perform(new oc.Message_ProgressRange())
    const sewed = sewing.SewedShape()
    if (sewed.IsNull()) throw new StepError('sew-failed', 'The bodies could not be sewn.')
    const told = inputs.flatMap(({ shape, names }) =>
      new ShapeIndex(oc, shape, 'TopAbs_FACE').list.map(
        (f, i) => [sewing.IsModified(f) ? sewing.Modified(f) : f, names[i]] as const,
      ),
    )
    const openEdges = sewing.NbFreeEdges()
    const open: Vec3[] = []
    for (let i = 1; i <= Math.min(100, openEdges); i++) {
      const c = new oc.BRepAdaptor_Curve(sewing.FreeEdge(i))
      const p = c.EvalD0((c.FirstParameter() + c.LastParameter()) / 2)
      open.push([p.X(), p.Y(), p.Z()])
    }
    const shells = new ShapeIndex(oc, sewed, 'TopAbs_SHELL').list
    let shape: TopoDS_Shape = sewed
    if (!openEdges && shells.length === 1) shape = new oc.ShapeFix_Solid().SolidFromShell(oc.TopoDS.Shell(shells[0]))
    const body = finish(oc, shape, {
      what: 'Sew',
      names: namesFor(oc, shape, told),
      prefix: 'sewn/',
      sheet: true,
      outward: !openEdges,
    })
    return { body, openEdges, open }
  })
