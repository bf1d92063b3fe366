/** Exact bodies with flat faces, built by shared corners and edges: no sewing. */
import type { TopoDS_Edge, TopoDS_Shape, TopoDS_Shell, TopoDS_Vertex } from 'replicad-opencascadejs'
import { StepError } from '@/core/base/step-error'
import { checkStop, quiet, type Work } from '@/core/base/work'
import type { ExactBody } from '@/core/bodies/body'
import { cross, dot } from '@/core/math/vec'
import type { FlatFace, Polyhedron } from '@/core/mesh/polyhedron'
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
  const shells = new Map<number, { shell: TopoDS_Shell; faces: FlatFace[] }>()
  p.faces.forEach((face, i) => {
    if (i % 500 === 0) {
      checkStop(work)
      work.progress((0.6 * i) / p.faces.length, 'flat faces')
    }
    const [outer, ...holes] = face.loops.flatMap(simple)
    if (!outer) return
    let own = shells.get(p.piece[i])
    if (!own) {
      own = { shell: new oc.TopoDS_Shell(), faces: [] }
      builder.MakeShell(own.shell)
      shells.set(p.piece[i], own)
    }
    const plane = new oc.gp_Pln(pointOf(oc, face.at), new oc.gp_Dir(...face.normal))
    const make = new oc.BRepBuilderAPI_MakeFace(plane, wire(outer), true)
    for (const h of holes) make.Add(wire(h))
    builder.Add(own.shell, make.Face())
    own.faces.push(face)
  })
  const all = [...shells.values()]
  for (const { shell } of all) {
    shell.Closed(p.closed)
    oc.BRepLib.UpdateTolerances(shell, true)
  }
  if (!p.closed)
    return all.length === 1
      ? all[0].shell
      : compound(
          oc,
          builder,
          all.map((s) => s.shell),
        )
  // Shells that face inward are hollows of the smallest body round them.
  const told = all.map((s) => ({ ...s, ...extent(p, s.faces) }))
  const bodies = told.filter((s) => s.volume > 0).sort((x, y) => x.volume - y.volume)
  const makers = bodies.map((s) => new oc.BRepBuilderAPI_MakeSolid(s.shell))
  for (const hollow of told.filter((s) => !(s.volume > 0))) {
    const round = bodies.findIndex((s) =>
      [0, 1, 2].every((k) => s.min[k] <= hollow.min[k] && s.max[k] >= hollow.max[k]),
    )
    if (round >= 0) makers[round].Add(hollow.shell)
  }
  const solids = makers.map((m) => m.Solid())
  return solids.length === 1 ? solids[0] : compound(oc, builder, solids)
}

function compound(oc: Kernel, builder: InstanceType<Kernel['TopoDS_Builder']>, parts: readonly TopoDS_Shape[]) {
  const all = new oc.TopoDS_Compound()
  builder.MakeCompound(all)
  for (const s of parts) builder.Add(all, s)
  return all
}

/** Box and signed volume of a shell of flat faces (divergence theorem, fan by fan). */
function extent(p: Polyhedron, faces: readonly FlatFace[]) {
  const min = [Infinity, Infinity, Infinity],
    max = [-Infinity, -Infinity, -Infinity]
  let volume = 0
  for (const { loops } of faces)
    for (const loop of loops) {
      for (const v of loop)
        p.corners[v].forEach((c, k) => {
          min[k] = Math.min(min[k], c)
          max[k] = Math.max(max[k], c)
        })
      for (let i = 1; i + 1 < loop.length; i++)
        volume += dot(p.corners[loop[0]], cross(p.corners[loop[i]], p.corners[loop[i + 1]])) / 6
    }
  return { min, max, volume }
}

/** A solid of the flat faces, or a sheet where they are open. `name` begins the names of its faces. Throws StepError `no-length`, `not-valid`. */
export const solidOfFaces = (p: Polyhedron, name: string, work: Work = quiet): Promise<ExactBody> =>
  withKernel('Facet solid', (oc) => {
    const shape = build(oc, p, work)
    work.progress(0.7, 'checking the solid')
    return finish(oc, shape, { what: 'Facet solid', prefix: `${name}/`, sheet: true })
  })
