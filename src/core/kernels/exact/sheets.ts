/** Open exact surfaces made parallel, wider, smaller, and closed at their openings. */
import type { TopoDS_Edge, TopoDS_Face, TopoDS_Shape } from 'replicad-opencascadejs'
import { num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { add, addScaled, cross, distance, dot, length, normalize, scale, sub, type Vec3 } from '@/core/math/vec'
import { isTrap } from '../trap'
import { namedShape } from './boolean'
import { finish, runBuilder } from './build'
import { hashOf, ShapeIndex } from './explore'
import { namesFor } from './extrude'
import type { Kernel } from './kernel'
import { shapesOf, type Named } from './names'
import { withKernel } from './scope'
import { skin } from './shell'
import { pointOf } from './wires'

const vec = (p: { X(): number; Y(): number; Z(): number }): Vec3 => [p.X(), p.Y(), p.Z()]

/** A place on an edge by its share from start to end, as the curve runs. */
function along(oc: Kernel, edge: TopoDS_Edge) {
  const c = new oc.BRepAdaptor_Curve(edge)
  const [a, b] = [c.FirstParameter(), c.LastParameter()]
  return (t: number): Vec3 => vec(c.EvalD0(a + (b - a) * t))
}

/** Numbers of the edges that only one face borders, once. */
function freeEdges(oc: Kernel, shape: TopoDS_Shape): number[] {
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

const kept = (body: ExactBody) => ({
  ...(body.label ? { label: body.label } : {}),
  ...(body.colour ? { colour: body.colour } : {}),
})

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

type Side = 'uMin' | 'uMax' | 'vMin' | 'vMax'

/** Which side of its surface's own rectangle an edge runs along, or null where the face was trimmed there. */
function sideOf(oc: Kernel, face: TopoDS_Face, edge: TopoDS_Edge): Side | null {
  const s = new oc.BRepAdaptor_Surface(face, true)
  const [u1, u2, v1, v2] = [s.FirstUParameter(), s.LastUParameter(), s.FirstVParameter(), s.LastVParameter()]
  if (![u1, u2, v1, v2].every((v) => Math.abs(v) < 1e50)) return null
  const on = along(oc, edge)
  const sides: Record<Side, (t: number) => Vec3> = {
    uMin: (t) => vec(s.EvalD0(u1, v1 + t * (v2 - v1))),
    uMax: (t) => vec(s.EvalD0(u2, v1 + t * (v2 - v1))),
    vMin: (t) => vec(s.EvalD0(u1 + t * (u2 - u1), v1)),
    vMax: (t) => vec(s.EvalD0(u1 + t * (u2 - u1), v2)),
  }
  const ends = [on(0), on(1)]
  for (const key of Object.keys(sides) as Side[]) {
    const line = sides[key]
    const [a, b] = [line(0), line(1)]
    const near = (p: Vec3, q: Vec3) => distance(p, q) < 1e-5
    if (!((near(a, ends[0]) && near(b, ends[1])) || (near(a, ends[1]) && near(b, ends[0])))) continue
    // The places between the ends lie on the side too, wherever the two are parametrised alike or not.
    const off = [0.25, 0.5, 0.75].map((t) => {
      const p = on(t)
      let best = 0
      for (let i = 1; i <= 64; i++) if (distance(line(i / 64), p) < distance(line(best), p)) best = i / 64
      let [low, high] = [Math.max(0, best - 1 / 64), Math.min(1, best + 1 / 64)]
      for (let i = 0; i < 60; i++) {
        const [m, n] = [low + (high - low) / 3, high - (high - low) / 3]
        if (distance(line(m), p) < distance(line(n), p)) high = n
        else low = m
      }
      return distance(line((low + high) / 2), p)
    })
    if (Math.max(...off) < 1e-5) return key
  }
  return null
}

/** Distance from a place to a shape, mm. */
function away(oc: Kernel, shape: TopoDS_Shape, p: Vec3): number {
  const d = new oc.BRepExtrema_DistShapeShape()
  d.LoadS1(shape)
  d.LoadS2(new oc.BRepBuilderAPI_MakeVertex(pointOf(oc, p)).Vertex())
  d.Perform(new oc.Message_ProgressRange())
  return d.Value()
}

/** The same surface over a wider rectangle, for those that go on by themselves; null for others. */
function widened(oc: Kernel, face: TopoDS_Face, sides: readonly Side[], by: readonly number[]): TopoDS_Face | null {
  const s = new oc.BRepAdaptor_Surface(face, true)
  if (!['GeomAbs_Cylinder', 'GeomAbs_Cone'].includes(String(s.GetType()))) return null
  const [u1, u2, v1, v2] = [s.FirstUParameter(), s.LastUParameter(), s.FirstVParameter(), s.LastVParameter()]
  /** How far one goes in space a step of u, at the wider end of a cone. */
  const pace = Math.max(...[v1, v2].map((v) => distance(vec(s.EvalD0(u1, v)), vec(s.EvalD0(u1 + 1e-4, v))) / 1e-4))
  const more = { uMin: 0, uMax: 0, vMin: 0, vMax: 0 }
  sides.forEach((side, k) => (more[side] += by[k] / (side[0] === 'u' ? pace : 1)))
  const [a, b] = [u1 - more.uMin, Math.min(u2 + more.uMax, u1 - more.uMin + 2 * Math.PI)]
  const surface = oc.BRep_Tool.Surface(face)
  const wide = new oc.BRepBuilderAPI_MakeFace(surface, a, b, v1 - more.vMin, v2 + more.vMax, 1e-6)
  return wide.IsDone() ? wide.Face() : null
}

/** A flat face with straight edges pushed out square to them, each by its length; edges that meet are mitred. */
function extendFlat(
  oc: Kernel,
  face: TopoDS_Shape,
  normal: Vec3,
  edges: readonly TopoDS_Edge[],
  by: readonly number[],
) {
  const ends = edges.map((e) => {
    const at = along(oc, e)
    const [a, b] = [at(0), at(1)]
    const half = at(0.5)
    if (distance(half, scale(add(a, b), 0.5)) > 1e-6) return null
    return { a, b }
  })
  const bent = ends.findIndex((e) => !e)
  if (bent >= 0)
    throw new StepError('not-straight', 'An edge that bends cannot be drawn out of a flat face edge by edge.', {
      where: { point: along(oc, edges[bent])(0.5) },
      tryThis: 'Pick straight edges, or trim a larger sheet to the outline wanted.',
    })
  const outs = ends.map((e) => {
    const { a, b } = e!
    const way = normalize(sub(b, a))
    const side = normalize(cross(way, normal))
    const middle = scale(add(a, b), 0.5)
    const step = 1e-3 * distance(a, b)
    return away(oc, face, addScaled(middle, side, step)) > step / 2 ? side : scale(side, -1)
  })
  /** Where the pushed-out line of edge i ends at a corner: square to it, or where the next pushed-out line crosses it. */
  const corner = (i: number, at: Vec3): Vec3 => {
    const square = addScaled(at, outs[i], by[i])
    const j = ends.findIndex((e, k) => k !== i && (distance(e!.a, at) < 1e-6 || distance(e!.b, at) < 1e-6))
    if (j < 0) return square
    const d = sub(ends[i]!.b, ends[i]!.a)
    const slope = dot(d, outs[j])
    if (Math.abs(slope) < 1e-9 * length(d)) return square
    const lacks = by[j] - dot(sub(square, at), outs[j])
    return addScaled(square, d, lacks / slope)
  }
  const list = new oc.NCollection_List_TopoDS_Shape()
  ends.forEach((e, i) => {
    const { a, b } = e!
    const wire = new oc.BRepBuilderAPI_MakeWire()
    const round = [a, b, corner(i, b), corner(i, a)]
    if (dot(cross(sub(b, a), outs[i]), normal) < 0) round.reverse()
    round.forEach((p, k) =>
      wire.Add(new oc.BRepBuilderAPI_MakeEdge(pointOf(oc, p), pointOf(oc, round[(k + 1) % 4])).Edge()),
    )
    // All of them look the same way as the face, else they would not merge with it.
    const plane = new oc.gp_Pln(pointOf(oc, a), new oc.gp_Dir(...normal))
    list.Append(new oc.BRepBuilderAPI_MakeFace(plane, wire.Wire(), true).Face())
  })
  const own = new oc.NCollection_List_TopoDS_Shape()
  own.Append(face)
  const op = new oc.BRepAlgoAPI_Fuse()
  op.SetArguments(own)
  op.SetTools(list)
  op.Build(new oc.Message_ProgressRange())
  op.SimplifyResult(true, true, 1e-6)
  const made = new ShapeIndex(oc, op.Shape(), 'TopAbs_FACE').list
  if (made.length !== 1) throw new StepError('extend-failed', 'The flat face could not be drawn out there.')
  return made[0]
}

/**
 * A sheet drawn out past some of its free edges, on the surfaces it has.
 * @param wanted numbers of edges with the length each is drawn out by, mm; of those marked `any` the ones at no border are passed over
 * Throws StepError `not-free`, `not-straight`, `trimmed`, `extend-failed`.
 */
export const extendSheet = (
  body: ExactBody,
  given: readonly { edge: number; by: number; any?: boolean }[],
): Promise<ExactBody> =>
  withKernel('Extend', (oc) => {
    const { shape, names } = namedShape(oc, body)
    const free = new Set(freeEdges(oc, shape))
    const wanted = given.filter((w) => !w.any || free.has(w.edge))
    const edges = new ShapeIndex(oc, shape, 'TopAbs_EDGE').list
    const faces = new ShapeIndex(oc, shape, 'TopAbs_FACE').list
    for (const { edge } of wanted)
      if (!free.has(edge))
        throw new StepError('not-free', `"${body.parts.edges[edge].name}" is not at the border of the sheet.`, {
          where: { point: body.parts.edges[edge].at },
          tryThis: 'Pick edges that only one face borders.',
        })
    const told = faces.map((face, i): [TopoDS_Shape, string] => {
      const mine = wanted.filter(({ edge }) => body.parts.edges[edge].faces.includes(i))
      if (!mine.length) return [face, names[i]]
      const f = oc.TopoDS.Face(face)
      const sides = mine.map(({ edge }) => sideOf(oc, f, oc.TopoDS.Edge(edges[edge])))
      // Flat faces are pushed out edge by edge whatever their outline; others on the rectangle of their surface.
      if (body.parts.faces[i].shape === 'plane') {
        const own = mine.map(({ edge }) => oc.TopoDS.Edge(edges[edge]))
        const out = extendFlat(
          oc,
          face,
          body.parts.faces[i].axis!,
          own,
          mine.map((m) => m.by),
        )
        return [out, names[i]]
      }
      const odd = sides.findIndex((s) => !s)
      if (odd >= 0)
        throw new StepError('trimmed', `"${names[i]}" was trimmed at that edge: there is no way its surface runs on.`, {
          where: { point: body.parts.edges[mine[odd].edge].at },
          tryThis: 'Extend the sheet before it is trimmed, or pick another edge.',
        })
      const wider = widened(
        oc,
        f,
        sides as Side[],
        mine.map((m) => m.by),
      )
      if (wider) return [wider, names[i]]
      let now = f
      mine.forEach(({ by }, k) => {
        const out = new oc.TopoDS_Face()
        const side = sides[k]!
        oc.BRepLib.ExtendFace(now, by, side === 'uMin', side === 'uMax', side === 'vMin', side === 'vMax', out)
        if (out.IsNull()) throw new StepError('extend-failed', `"${names[i]}" cannot be drawn out.`)
        now = out
      })
      return [now, names[i]]
    })
    const all =
      faces.length > 1 ? sewn(oc, told, 'Extend') : { shape: told[0][0], names: namesFor(oc, told[0][0], told) }
    const made = finish(oc, all.shape, {
      what: 'Extend',
      names: all.names,
      prefix: 'extended/',
      sheet: true,
      ...kept(body),
    })
    if (made.facts.area <= body.facts.area * (1 + 1e-9))
      throw new StepError('extend-failed', 'The sheet did not become larger: this surface cannot be drawn out there.', {
        where: { point: body.parts.edges[wanted[0].edge].at },
        tryThis: 'Loft or extrude a strip beside it and sew both.',
      })
    return made
  })

/** A flat sheet, round a place and wide enough for what is to be cut by it, as a tool. */
export const planeTool = (at: Vec3, normal: Vec3, half: number): Promise<ExactBody> =>
  withKernel('Plane', (oc) => {
    const plane = new oc.gp_Pln(pointOf(oc, at), new oc.gp_Dir(...normal))
    const face = new oc.BRepBuilderAPI_MakeFace(plane, -half, half, -half, half).Face()
    return finish(oc, face, { what: 'Plane', names: ['plane'], sheet: true })
  })

export interface Trimmed {
  readonly body: ExactBody
  /** Parts the sheet came to, and how many of them stay. */
  readonly parts: number
  readonly kept: number
}

/**
 * A sheet cut along where others pass through it, of which the picked parts stay.
 * @param keep places: the part nearest to each stays; none: the largest
 * Throws StepError `no-cut`.
 */
export const trimSheet = (
  body: ExactBody,
  tools: readonly ExactBody[],
  keep: readonly Vec3[],
  toolName: string,
): Promise<Trimmed> =>
  withKernel('Trim', (oc) => {
    const input = namedShape(oc, body)
    const by = tools.map((t) => namedShape(oc, t))
    const list = (all: readonly Named[]) => {
      const l = new oc.NCollection_List_TopoDS_Shape()
      for (const n of all) l.Append(n.shape)
      return l
    }
    const op = new oc.BRepAlgoAPI_Splitter()
    op.SetArguments(list([input]))
    op.SetTools(list(by))
    op.Build(new oc.Message_ProgressRange())
    const done = runBuilder(oc, op as never, {
      failed: new StepError('boolean-failed', `"${toolName}" could not trim the sheet.`),
      inputs: [input],
    })
    const seams = new Set(shapesOf(oc, op.SectionEdges()).map((e) => hashOf(oc, e)))
    const faces = new ShapeIndex(oc, done.shape, 'TopAbs_FACE').list
    // Faces that share an edge which no cut runs along are one part.
    const part = faces.map((_, i) => i)
    const root = (i: number): number => (part[i] === i ? i : (part[i] = root(part[i])))
    const first = new Map<number, number>()
    const edges = new ShapeIndex(oc, done.shape, 'TopAbs_EDGE')
    // A cut along an edge that the tool itself has there is not told as one.
    const skins = by.map(({ shape }) => {
      const skin = new oc.TopoDS_Compound()
      const builder = new oc.TopoDS_Builder()
      builder.MakeCompound(skin)
      for (const f of new ShapeIndex(oc, shape, 'TopAbs_FACE').list) builder.Add(skin, f)
      return skin
    })
    const onTool = (e: TopoDS_Shape) => {
      const at = along(oc, oc.TopoDS.Edge(e))
      return skins.some((skin) => [0.2, 0.5, 0.8].every((t) => away(oc, skin, at(t)) < 1e-6))
    }
    faces.forEach((f, i) => {
      for (const e of new ShapeIndex(oc, f, 'TopAbs_EDGE').list) {
        if (seams.has(hashOf(oc, e))) continue
        const k = edges.indexOf(e)
        const other = first.get(k)
        if (other === undefined) first.set(k, i)
        else if (!onTool(e)) part[root(i)] = root(other)
      }
    })
    const groups = new Map<number, number[]>()
    faces.forEach((_, i) => groups.set(root(i), [...(groups.get(root(i)) ?? []), i]))
    if (groups.size < 2)
      throw new StepError('no-cut', `"${toolName}" does not pass through the sheet, so nothing comes off.`, {
        tryThis: 'Move or extend it so that it crosses the sheet from border to border.',
      })
    const parts = [...groups.values()]
    const area = (g: readonly number[]) =>
      g.reduce((sum, i) => {
        const props = new oc.GProp_GProps()
        oc.BRepGProp.SurfaceProperties(faces[i], props, false, false)
        return sum + props.Mass()
      }, 0)
    const sizes = parts.map(area)
    const stay = keep.length
      ? new Set(
          keep.map((p) => {
            const off = parts.map((g) => Math.min(...g.map((i) => away(oc, faces[i], p))))
            return off.indexOf(Math.min(...off))
          }),
        )
      : new Set([sizes.indexOf(Math.max(...sizes))])
    const told = [...stay].flatMap((k) => parts[k].map((i) => [faces[i], done.names[i]] as const))
    const all =
      told.length > 1
        ? sewn(oc, told, 'Trim')
        : { shape: told[0][0] as TopoDS_Shape, names: namesFor(oc, told[0][0], told) }
    return {
      body: finish(oc, all.shape, { what: 'Trim', names: all.names, prefix: 'trimmed/', sheet: true, ...kept(body) }),
      parts: parts.length,
      kept: stay.size,
    }
  })

/** A closed run of free edges. */
interface Opening {
  readonly edges: readonly number[]
}

/** The openings of a shape: its free edges in closed runs, by the corners they share. */
function openingsOf(oc: Kernel, shape: TopoDS_Shape): Opening[] {
  const edges = new ShapeIndex(oc, shape, 'TopAbs_EDGE').list
  const corners = new ShapeIndex(oc, shape, 'TopAbs_VERTEX')
  const at = new Map<number, number[]>()
  const free = freeEdges(oc, shape)
  const ends = new Map(
    free.map((i) => [i, new ShapeIndex(oc, edges[i], 'TopAbs_VERTEX').list.map((v) => corners.indexOf(v))] as const),
  )
  for (const [i, vs] of ends) for (const v of vs) at.set(v, [...(at.get(v) ?? []), i])
  const seen = new Set<number>()
  const out: Opening[] = []
  for (const start of free) {
    if (seen.has(start)) continue
    const run: number[] = []
    const rest = [start]
    while (rest.length) {
      const i = rest.pop()!
      if (seen.has(i)) continue
      seen.add(i)
      run.push(i)
      for (const v of ends.get(i)!) rest.push(...at.get(v)!)
    }
    out.push({ edges: run.sort((a, b) => a - b) })
  }
  return out
}

export interface Capped {
  readonly body: ExactBody
  /** Openings closed flat, by a patch that runs on from its neighbours, and those still open. */
  readonly flat: number
  readonly patched: number
  readonly open: number
  /** The greatest turn between a patch and its neighbours, degrees. */
  readonly turn: number
}

/**
 * Openings of a sheet closed and sewn to it: a solid where nothing stays open.
 * @param wanted numbers of edges, one of each opening; null: all openings
 * @param fill flat faces where the rim lies in a plane; patches tangent to the faces beside them; or the first that serves
 * Throws StepError `not-open`, `not-flat`, `patch-failed`.
 */
export const capOpenings = (
  body: ExactBody,
  wanted: readonly number[] | null,
  fill: 'flat' | 'tangent' | 'either',
): Promise<Capped> =>
  withKernel('Cap', (oc) => {
    const { shape, names } = namedShape(oc, body)
    const all = openingsOf(oc, shape)
    const none = new StepError('not-open', 'There is no opening to close.', {
      tryThis: 'Pick a sheet that has a border.',
    })
    if (!all.length) throw none
    const picked = wanted ? all.filter((o) => o.edges.some((e) => wanted.includes(e))) : all
    if (!picked.length) throw none
    const edges = new ShapeIndex(oc, shape, 'TopAbs_EDGE').list
    const faces = new ShapeIndex(oc, shape, 'TopAbs_FACE').list
    const told: [TopoDS_Shape, string][] = faces.map((f, i) => [f, names[i]])
    let [flat, patched, turn] = [0, 0, 0]
    for (const [k, opening] of picked.entries()) {
      const own = opening.edges.map((i) => oc.TopoDS.Edge(edges[i]))
      const where = { point: body.parts.edges[opening.edges[0]].at }
      const cap = () => {
        const list = new oc.NCollection_List_TopoDS_Shape()
        for (const e of own) list.Append(e)
        const wire = new oc.BRepBuilderAPI_MakeWire()
        wire.Add(list)
        if (!wire.IsDone()) return null
        const make = new oc.BRepBuilderAPI_MakeFace(wire.Wire(), true)
        return make.IsDone() ? make.Face() : null
      }
      const patch = () => {
        const op = new oc.BRepOffsetAPI_MakeFilling(3, 15, 2, false, 1e-5, 1e-4, 1e-2, 0.1, 8, 9)
        opening.edges.forEach((i, n) => {
          const beside = oc.TopoDS.Face(faces[body.parts.edges[i].faces[0]])
          op.Add(own[n], beside, 'GeomAbs_G1' as never, true)
        })
        op.Build(new oc.Message_ProgressRange())
        if (!op.IsDone() || op.G0Error() > 0.01) return null
        return { face: op.Shape(), turn: op.G1Error() }
      }
      const lid = fill === 'tangent' ? null : cap()
      if (lid) {
        told.push([lid, `cap ${k + 1}`])
        flat++
        continue
      }
      if (fill === 'flat')
        throw new StepError('not-flat', 'The rim of that opening does not lie in one plane, so it takes no flat cap.', {
          where,
          tryThis: 'Close it by a patch that runs on from the faces beside it.',
        })
      let done: ReturnType<typeof patch> = null
      try {
        done = patch()
      } catch (error) {
        // The kernel throws where borders contradict each other; after a trap nothing of it is to be trusted.
        if (isTrap(error)) throw error
      }
      if (!done || done.turn > 0.5)
        throw new StepError('patch-failed', 'No patch could be laid that runs on from the faces beside that opening.', {
          where,
          tryThis: 'Close it flat, or loft a sheet across it.',
        })
      told.push([done.face, `patch ${k + 1}`])
      turn = Math.max(turn, done.turn)
      patched++
    }
    const sew = sewn(oc, told, 'Cap', 1e-3)
    const props = new oc.GProp_GProps()
    if (sew.closed) oc.BRepGProp.VolumeProperties(sew.shape, props, true, false, false)
    if (sew.closed && Math.abs(props.Mass()) < 1e-9 * body.facts.area ** 1.5)
      throw new StepError('flat', 'The sheet is flat: a cap over its border would fall on it.', {
        tryThis: 'Give it a wall by Thicken or Extrude instead.',
      })
    return {
      body: finish(oc, sew.shape, {
        what: 'Cap',
        names: sew.names,
        prefix: 'cap/',
        sheet: true,
        outward: sew.closed,
        ...kept(body),
      }),
      flat,
      patched,
      open: all.length - picked.length,
      turn: (turn * 180) / Math.PI,
    }
  })
