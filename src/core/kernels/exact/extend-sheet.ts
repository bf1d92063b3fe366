/** Sheets drawn out past their borders, on the surfaces they have. */
import type { TopoDS_Edge, TopoDS_Face, TopoDS_Shape } from 'replicad-opencascadejs'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { add, addScaled, cross, distance, dot, length, normalize, scale, sub, type Vec3 } from '@/core/math/vec'
import { namedShape } from './boolean'
import { finish } from './build'
import { ShapeIndex } from './explore'
import { namesFor } from './extrude'
import type { Kernel } from './kernel'
import { curveOf, keptOf, nearestOn, vec } from './queries'
import { withKernel } from './scope'
import { freeEdges, sewn } from './sheets'
import { pointOf } from './wires'

type Side = 'uMin' | 'uMax' | 'vMin' | 'vMax'

/** Which side of its surface's own rectangle an edge runs along, or null where the face was trimmed there. */
function sideOf(oc: Kernel, face: TopoDS_Face, edge: TopoDS_Edge): Side | null {
  const s = new oc.BRepAdaptor_Surface(face, true)
  const [u1, u2, v1, v2] = [s.FirstUParameter(), s.LastUParameter(), s.FirstVParameter(), s.LastVParameter()]
  if (![u1, u2, v1, v2].every((v) => Math.abs(v) < 1e50)) return null
  const on = curveOf(oc, edge).at
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
    const { at } = curveOf(oc, e)
    const [a, b] = [at(0), at(1)]
    const half = at(0.5)
    if (distance(half, scale(add(a, b), 0.5)) > 1e-6) return null
    return { a, b }
  })
  const bent = ends.findIndex((e) => !e)
  if (bent >= 0)
    throw new StepError('not-straight', 'An edge that bends cannot be drawn out of a flat face edge by edge.', {
      where: { point: curveOf(oc, edges[bent]).at(0.5) },
      tryThis: 'Pick straight edges, or trim a larger sheet to the outline wanted.',
    })
  const outs = ends.map((e) => {
    const { a, b } = e!
    const way = normalize(sub(b, a))
    const side = normalize(cross(way, normal))
    const middle = scale(add(a, b), 0.5)
    const step = 1e-3 * distance(a, b)
    return nearestOn(oc, face, addScaled(middle, side, step)).distance > step / 2 ? side : scale(side, -1)
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
      ...keptOf(body),
    })
    if (made.facts.area <= body.facts.area * (1 + 1e-9))
      throw new StepError('extend-failed', 'The sheet did not become larger: this surface cannot be drawn out there.', {
        where: { point: body.parts.edges[wanted[0].edge].at },
        tryThis: 'Loft or extrude a strip beside it and sew both.',
      })
    return made
  })
