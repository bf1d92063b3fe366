/** Exact bodies with flat faces, built by shared corners and edges: no sewing. */
import type { TopoDS_Edge, TopoDS_Shape, TopoDS_Vertex } from 'replicad-opencascadejs'
import { StepError } from '@/core/base/step-error'
import { checkStop, quiet, type Work } from '@/core/base/work'
import type { ExactBody } from '@/core/bodies/body'
import type { Polyhedron } from '@/core/mesh/polyhedron'
import { finish } from './build'
import type { Kernel } from './kernel'
import { withKernel } from './scope'
import { pointOf } from './wires'

/** Loops that come by a corner twice are parted there: a face's rim is a simple one. */
function simple(loop: readonly number[]): number[][] {
  const out: number[][] = []
  const stack: number[] = []
  const at = new Map<number, number>()
  for (const v of loop) {
    const seen = at.get(v)
    if (seen !== undefined) {
      const part = stack.splice(seen)
      for (const w of part) at.delete(w)
      if (part.length > 2) out.push(part)
    }
    at.set(v, stack.length)
    stack.push(v)
  }
  if (stack.length > 2) out.push(stack)
  return out
}

function build(oc: Kernel, p: Polyhedron, work: Work): TopoDS_Shape {
  const vertices: TopoDS_Vertex[] = p.corners.map((c) => new oc.BRepBuilderAPI_MakeVertex(pointOf(oc, c)).Vertex())
  const edges = new Map<string, TopoDS_Edge>()
  const edge = (a: number, b: number): TopoDS_Shape => {
    const key = a < b ? `${a} ${b}` : `${b} ${a}`
    let e = edges.get(key)
    if (!e) {
      const make = new oc.BRepBuilderAPI_MakeEdge(vertices[Math.min(a, b)], vertices[Math.max(a, b)])
      if (!make.IsDone())
        throw new StepError('no-length', 'The mesh has an edge without length.', {
          where: { point: p.corners[a] },
          tryThis: 'Run Mend all on it first.',
        })
      edges.set(key, (e = make.Edge()))
    }
    return a < b ? e : e.Reversed()
  }
  const builder = new oc.TopoDS_Builder()
  const wire = (loop: readonly number[]) => {
    const w = new oc.TopoDS_Wire()
    builder.MakeWire(w)
    loop.forEach((a, i) => builder.Add(w, edge(a, loop[(i + 1) % loop.length])))
    w.Closed(true)
    return w
  }
  const shell = new oc.TopoDS_Shell()
  builder.MakeShell(shell)
  p.faces.forEach(({ at, normal, loops }, i) => {
    if (i % 500 === 0) {
      checkStop(work)
      work.progress((0.6 * i) / p.faces.length, 'flat faces')
    }
    const [outer, ...holes] = loops.flatMap(simple)
    if (!outer) return
    const plane = new oc.gp_Pln(pointOf(oc, at), new oc.gp_Dir(...normal))
    const make = new oc.BRepBuilderAPI_MakeFace(plane, wire(outer), true)
    for (const h of holes) make.Add(wire(h))
    builder.Add(shell, make.Face())
  })
  shell.Closed(p.closed)
  oc.BRepLib.UpdateTolerances(shell, true)
  return p.closed ? new oc.BRepBuilderAPI_MakeSolid(shell).Solid() : shell
}

/** A solid of the flat faces, or a sheet where they are open. `name` begins the names of its faces. Throws StepError `no-length`, `not-valid`. */
export const solidOfFaces = (p: Polyhedron, name: string, work: Work = quiet): Promise<ExactBody> =>
  withKernel('Facet solid', (oc) => {
    const shape = build(oc, p, work)
    work.progress(0.7, 'checking the solid')
    return finish(oc, shape, { what: 'Facet solid', prefix: `${name}/`, sheet: true })
  })
