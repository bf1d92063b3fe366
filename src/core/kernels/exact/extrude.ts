/** Areas of an outline drawn out along its normal, straight or with draft; open runs drawn out to sheets. */
import type { TopoDS_Face, TopoDS_Shape } from 'replicad-opencascadejs'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { addScaled, scale, type Vec3 } from '@/core/math/vec'
import { border, type Profile } from '@/core/outline/profile'
import { finish, runBuilder } from './build'
import { ShapeIndex } from './explore'
import type { Kernel } from './kernel'
import { shapesOf, type Named } from './names'
import { listOf, wiresOf } from './queries'
import { withKernel } from './scope'
import { thinArea, thinRun, type ThinWall } from './thin'
import { drawnFace, drawnWire, pointOf, type DrawnEdge } from './wires'

/** A plane that ends an extrusion: what lies beyond it, seen from the outline, is cut away. */
export interface EndPlane {
  readonly at: Vec3
  readonly normal: Vec3
}

export interface Extrusion {
  /** Heights over the outline's plane between which it reaches, mm; `from` is below `to`. */
  readonly from: number
  readonly to: number
  /** Lean of the walls inward, degrees, above and below the height `seat`, where they have the outline's own size. */
  readonly draft?: number
  readonly draftBack?: number
  readonly seat?: number
  /** Cuts the far and the near end aslant. */
  readonly ends?: readonly EndPlane[]
  /** Only a wall along the outline. */
  readonly wall?: ThinWall
  /** Begins the names of its faces. */
  readonly name: string
}

/** Names for faces of a result, by the shapes that history says they are. */
export function namesFor(
  oc: Kernel,
  result: TopoDS_Shape,
  told: readonly (readonly [TopoDS_Shape, string])[],
): string[] {
  const faces = new ShapeIndex(oc, result, 'TopAbs_FACE')
  const names = new Array<string>(faces.list.length).fill('')
  for (const [face, name] of told) {
    const i = faces.indexOf(face)
    if (i >= 0 && !names[i]) names[i] = name
  }
  return names
}

const sideName = (name: string, curve: number) => `${name}/side ${curve + 1}`

/** One prism of a face with names; `lean` in degrees about the plane at `neutral`. */
function prism(
  oc: Kernel,
  face: TopoDS_Face,
  edges: readonly DrawnEdge[],
  way: Vec3,
  height: number,
  name: string,
  words: readonly [base: string, top: string],
): Named & { sides: TopoDS_Shape[] } {
  const op = new oc.BRepPrimAPI_MakePrism(face, new oc.gp_Vec(...scale(way, height)), false, true)
  if (!op.IsDone()) throw new StepError('extrude-failed', 'The outline could not be drawn out.')
  const sides: TopoDS_Shape[] = []
  const told: [TopoDS_Shape, string][] = [
    [op.FirstShape(), `${name}/${words[0]}`],
    [op.LastShape(), `${name}/${words[1]}`],
  ]
  for (const { edge, curve } of edges)
    for (const f of shapesOf(oc, op.Generated(edge))) {
      sides.push(f)
      told.push([f, sideName(name, curve)])
    }
  const shape = op.Shape()
  return { shape, names: namesFor(oc, shape, told), sides }
}

/** The prism with its sides leaning inward, by the kernel's draft of faces; null where it cannot. */
function leaning(oc: Kernel, p: ReturnType<typeof prism>, neutral: EndPlane, way: Vec3, degrees: number): Named | null {
  const op = new oc.BRepOffsetAPI_DraftAngle(p.shape)
  const plane = new oc.gp_Pln(pointOf(oc, neutral.at), new oc.gp_Dir(...neutral.normal))
  const faces = new ShapeIndex(oc, p.shape, 'TopAbs_FACE')
  for (const i of new Set(p.sides.map((s) => faces.indexOf(s)))) {
    op.Add(oc.TopoDS.Face(faces.list[i]), new oc.gp_Dir(...way), (degrees * Math.PI) / 180, plane, true)
    if (!op.AddDone()) return null
  }
  op.Build(new oc.Message_ProgressRange())
  if (!op.IsDone()) return null
  const shape = op.Shape()
  return {
    shape,
    names: namesFor(
      oc,
      shape,
      faces.list.map((f, i) => [op.ModifiedShape(f), p.names[i]] as const),
    ),
  }
}

/** The same between each loop and its parallel at the far end, ruled: for sides of splines and ellipses. */
function ruled(
  oc: Kernel,
  faces: { near: TopoDS_Face; far: TopoDS_Face },
  inset: number,
  name: string,
  words: readonly [string, string],
): Named {
  const op = new oc.BRepOffsetAPI_MakeOffset(faces.far, 'GeomAbs_Arc' as never, false)
  op.Perform(-inset, 0)
  const [from, to] = [wiresOf(oc, faces.near), op.IsDone() ? wiresOf(oc, op.Shape()) : []]
  if (!from.length || from.length !== to.length) throw draftFailed()
  const bodies = from.map((w, i) => {
    const loft = new oc.BRepOffsetAPI_ThruSections(true, true, 1e-6)
    loft.AddWire(w)
    loft.AddWire(to[i])
    loft.Build(new oc.Message_ProgressRange())
    if (!loft.IsDone()) throw draftFailed()
    const shape = loft.Shape()
    return {
      shape,
      names: namesFor(oc, shape, [
        [loft.FirstShape(), `${name}/${words[0]}`],
        [loft.LastShape(), `${name}/${words[1]}`],
      ]).map((n) => n || `${name}/side`),
    }
  })
  let now: Named = bodies[0]
  for (const hole of bodies.slice(1)) {
    const cut = new oc.BRepAlgoAPI_Cut(now.shape, hole.shape, new oc.Message_ProgressRange())
    now = runBuilder(oc, cut, { failed: draftFailed(), inputs: [now, hole] })
  }
  return now
}

const draftFailed = () =>
  new StepError('draft-failed', 'Walls that lean so much cannot be made on this outline: they run into each other.', {
    tryThis: 'Take a smaller angle or a smaller distance.',
  })

/** Shapes put together: fused where they border on each other, else side by side. */
export function together(oc: Kernel, parts: readonly Named[], touching: boolean, what: string): Named {
  if (parts.length === 1) return parts[0]
  if (touching) {
    // All at once: one after the other takes several times as long.
    const op = new oc.BRepAlgoAPI_Fuse()
    op.SetArguments(listOf(oc, [parts[0].shape]))
    op.SetTools(
      listOf(
        oc,
        parts.slice(1).map((p) => p.shape),
      ),
    )
    op.Build(new oc.Message_ProgressRange())
    return runBuilder(oc, op, {
      failed: new StepError('boolean-failed', `${what}: its parts could not be joined.`),
      inputs: parts,
      unify: true,
    })
  }
  const all = new oc.TopoDS_Compound()
  const builder = new oc.TopoDS_Builder()
  builder.MakeCompound(all)
  const told: [TopoDS_Shape, string][] = []
  for (const p of parts) {
    builder.Add(all, p.shape)
    new ShapeIndex(oc, p.shape, 'TopAbs_FACE').list.forEach((f, i) => told.push([f, p.names[i]]))
  }
  return { shape: all, names: namesFor(oc, all, told) }
}

/** A half of space as a solid: all that lies on the side the normal looks away from stays. */
export function cutByPlane(oc: Kernel, body: Named, end: EndPlane, name: string, what: string): Named {
  const face = new oc.BRepBuilderAPI_MakeFace(new oc.gp_Pln(pointOf(oc, end.at), new oc.gp_Dir(...end.normal))).Face()
  const half = new oc.BRepPrimAPI_MakeHalfSpace(face, pointOf(oc, addScaled(end.at, end.normal, 1))).Solid()
  const op = new oc.BRepAlgoAPI_Cut(body.shape, half, new oc.Message_ProgressRange())
  const cut = runBuilder(oc, op, {
    failed: new StepError('boolean-failed', `${what} could not be ended at the plane.`),
    inputs: [body],
    unify: true,
  })
  return { shape: cut.shape, names: cut.names.map((n) => n || name) }
}

/**
 * A solid from the areas of a profile, or a sheet from its open runs. Draft by the kernel's draft of faces about the plane of the outline.
 * Throws StepError `draft-failed`, `not-valid`, `empty-result`.
 */
export const makeExtrusion = (p: Profile, e: Extrusion): Promise<ExactBody> =>
  withKernel('Extrude', (oc) => {
    const n = p.plane.normal
    const at = (height: number) => ({ ...p.plane, at: addScaled(p.plane.at, n, height) })
    if (e.wall) {
      const [plane, height] = [at(e.from), e.to - e.from]
      const up = (face: TopoDS_Face) => prism(oc, face, [], n, height, e.name, ['base', 'top'])
      const parts = p.areas.length
        ? p.areas.map((area): Named => {
            const { large, small } = thinArea(oc, plane, p, area, e.wall!)
            const [outer, inner] = [up(large), up(small)]
            const op = new oc.BRepAlgoAPI_Cut(outer.shape, inner.shape, new oc.Message_ProgressRange())
            const failed = new StepError('boolean-failed', 'The wall could not be made.')
            return runBuilder(oc, op, { failed, inputs: [outer, { ...inner, names: inner.names.map(() => '') }] })
          })
        : p.runs.map((run) => up(thinRun(oc, plane, p, run, e.wall!)))
      let all = together(oc, parts, parts.length > 1, 'Extrude')
      for (const [i, end] of (e.ends ?? []).entries())
        all = cutByPlane(oc, all, end, `${e.name}/${i ? 'base' : 'top'}`, 'Extrude')
      return finish(oc, all.shape, { what: 'Extrude', names: all.names, prefix: `${e.name}/wall `, outward: true })
    }
    if (!p.areas.length) {
      const sheets = p.runs.map((run): Named => {
        const { wire, edges } = drawnWire(oc, at(e.from), p.divided, run, p.of)
        const op = new oc.BRepPrimAPI_MakePrism(wire, new oc.gp_Vec(...scale(n, e.to - e.from)), false, true)
        const shape = op.Shape()
        const told = edges.flatMap(({ edge, curve }) =>
          shapesOf(oc, op.Generated(edge)).map((f) => [f, sideName(e.name, curve)] as const),
        )
        return { shape, names: namesFor(oc, shape, told) }
      })
      const all = together(oc, sheets, false, 'Extrude')
      return finish(oc, all.shape, { what: 'Extrude', names: all.names, prefix: `${e.name}/`, sheet: true })
    }
    const seat = e.seat ?? 0
    const part = (low: number, high: number, words: readonly [string, string], lean: number): Named[] =>
      p.areas.map((area) => {
        const up = high > seat || !lean
        const [near, far] = up ? [low, high] : [high, low]
        const { face, edges } = drawnFace(oc, at(near), p.divided, area, p.of)
        const way: Vec3 = up ? n : scale(n, -1)
        const ends = up ? words : ([words[1], words[0]] as const)
        const plain = prism(oc, face, edges, way, high - low, e.name, ends)
        if (!lean) return plain
        const leans = leaning(oc, plain, { at: at(near).at, normal: n }, way, lean)
        if (leans) return leans
        const there = drawnFace(oc, at(far), p.divided, area, p.of).face
        const inset = (high - low) * Math.tan((lean * Math.PI) / 180)
        return ruled(oc, { near: face, far: there }, inset, e.name, ends)
      })
    const [lean, leanBack] = [e.draft ?? 0, e.draftBack ?? 0]
    // Both ways with walls that lean meet at the outline's own plane; else one prism reaches through.
    const split = (lean || leanBack) && e.from < seat && e.to > seat
    const parts = split
      ? [...part(e.from, seat, ['base', 'seat'], leanBack), ...part(seat, e.to, ['seat', 'top'], lean)]
      : part(e.from, e.to, ['base', 'top'], e.to <= seat ? leanBack : lean)
    const touching = !!split || p.areas.some((a, i) => p.areas.slice(0, i).some((b) => border(a, b)))
    let all = together(oc, parts, touching, 'Extrude')
    for (const [i, end] of (e.ends ?? []).entries())
      all = cutByPlane(oc, all, end, `${e.name}/${i ? 'base' : 'top'}`, 'Extrude')
    try {
      return finish(oc, all.shape, { what: 'Extrude', names: all.names, prefix: `${e.name}/` })
    } catch (error) {
      throw lean || leanBack ? draftFailed() : error
    }
  })
