/** Faces of exact bodies taken out and healed over, or moved along themselves. */
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import { num } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { scale, type Vec3 } from '@/core/math/vec'
import { namedShape } from './boolean'
import { finish, runBuilder } from './build'
import { ShapeIndex } from './explore'
import { namesFor } from './extrude'
import { roughVolume } from './mass'
import { shapesOf } from './names'
import { keptOf, listOf } from './queries'
import { withKernel } from './scope'

/**
 * A body without a hole, pocket or boss: its faces go, and the faces they stood in close over where they were.
 * @param gone numbers of the faces
 * Throws StepError `not-enclosed` where what is left does not close over by itself.
 */
export const deleteFaces = (body: ExactBody, gone: readonly number[]): Promise<ExactBody> =>
  withKernel('Delete face', (oc) => {
    const { shape, names } = namedShape(oc, body)
    const faces = new ShapeIndex(oc, shape, 'TopAbs_FACE').list
    const edges = new ShapeIndex(oc, shape, 'TopAbs_EDGE')
    const out = new Set(gone)
    const borders = (edge: TopoDS_Shape) =>
      body.parts.edges[edges.indexOf(edge)]?.faces.some((f) => out.has(f)) ?? false
    const open = (i: number) =>
      new StepError('not-enclosed', `The faces round "${names[i]}" do not close over it by themselves.`, {
        where: { point: body.parts.faces[i].at },
        tryThis: 'Pick all faces of a hole, a pocket or a boss, and no others.',
      })
    const builder = new oc.TopoDS_Builder()
    const sewing = new oc.BRepBuilderAPI_Sewing(1e-6, true, true, true, false)
    const told: [TopoDS_Shape, string][] = []
    faces.forEach((face, i) => {
      if (out.has(i)) return
      const f = oc.TopoDS.Face(face)
      const kept: TopoDS_Shape[] = []
      let dropped = 0
      const outer = oc.BRepTools.OuterWire(f)
      for (const e = new oc.TopExp_Explorer(face, 'TopAbs_WIRE' as never); e.More(); e.Next()) {
        const wire = e.Current()
        const some = new ShapeIndex(oc, wire, 'TopAbs_EDGE').list.map(borders)
        if (!some.some((b) => b)) kept.push(wire)
        else if (!some.every((b) => b) || wire.IsSame(outer)) throw open(gone[0])
        else dropped++
      }
      let mine: TopoDS_Shape = face
      if (dropped) {
        // The same surface with the wires that stay; their sense is the one they have in the face as it lies forward.
        mine = face.Oriented('TopAbs_FORWARD' as never).EmptyCopied()
        const way = String(face.Orientation()) === 'TopAbs_REVERSED'
        for (const w of kept) builder.Add(mine, way ? w.Reversed() : w)
        if (way) mine = mine.Reversed()
      }
      sewing.Add(mine)
      told.push([mine, names[i]])
    })
    sewing.Perform(new oc.Message_ProgressRange())
    if (sewing.NbFreeEdges()) throw open(gone[0])
    const shells = new ShapeIndex(oc, sewing.SewedShape(), 'TopAbs_SHELL').list
    if (shells.length !== 1) throw open(gone[0])
    const solid = new oc.ShapeFix_Solid().SolidFromShell(oc.TopoDS.Shell(shells[0]))
    const later = told.map(([f, n]) => [sewing.IsModified(f) ? sewing.Modified(f) : f, n] as const)
    return finish(oc, solid, {
      what: 'Delete face',
      names: namesFor(oc, solid, later),
      prefix: 'healed/',
      outward: true,
      ...keptOf(body),
    })
  })

/**
 * Flat faces moved along their normals, mm: what stands before or behind them is added or taken away.
 * Throws StepError `not-flat`, `boolean-failed`, `empty-result`.
 */
export const offsetFaces = (body: ExactBody, picked: readonly number[], by: number): Promise<ExactBody> =>
  withKernel('Offset face', (oc) => {
    const input = namedShape(oc, body)
    const faces = new ShapeIndex(oc, input.shape, 'TopAbs_FACE').list
    let now = input
    for (const i of picked) {
      const part = body.parts.faces[i]
      if (part.shape !== 'plane' || !part.axis)
        throw new StepError('not-flat', `"${part.name}" is not flat (${part.shape}), so it has no one way to move.`, {
          where: { point: part.at },
          tryThis: 'Pick flat faces; a bore is changed by Edit hole or Hole.',
        })
      const prism = new oc.BRepPrimAPI_MakePrism(faces[i], new oc.gp_Vec(...scale(part.axis as Vec3, by)), false, true)
      const told: [TopoDS_Shape, string][] = [[prism.LastShape(), input.names[i]]]
      for (const e of new ShapeIndex(oc, faces[i], 'TopAbs_EDGE').list)
        for (const f of shapesOf(oc, prism.Generated(e))) told.push([f, ''])
      const tool = { shape: prism.Shape(), names: namesFor(oc, prism.Shape(), told) }
      const range = new oc.Message_ProgressRange()
      const op =
        by > 0
          ? new oc.BRepAlgoAPI_Fuse(now.shape, tool.shape, range)
          : new oc.BRepAlgoAPI_Cut(now.shape, tool.shape, range)
      now = runBuilder(oc, op, {
        inputs: [now, tool],
        unify: true,
        failed: new StepError('boolean-failed', `"${part.name}" cannot be moved by ${num(by)} mm.`, {
          where: { point: part.at },
        }),
      })
    }
    return finish(oc, now.shape, {
      what: 'Offset face',
      names: now.names,
      prefix: 'offset/',
      ...keptOf(body),
    })
  })

/**
 * A flat face replaced by a sheet: the body is drawn out square to it or cut back until the sheet is its new end.
 * @param face number of the face @param sheet what it is replaced by
 * Throws StepError `not-flat`, `no-cut` where the sheet does not pass through all that is drawn out.
 */
export const replaceFace = (body: ExactBody, face: number, sheet: ExactBody, sheetName: string): Promise<ExactBody> =>
  withKernel('Replace face', (oc) => {
    const part = body.parts.faces[face]
    if (part.shape !== 'plane' || !part.axis)
      throw new StepError(
        'not-flat',
        `"${part.name}" is not flat (${part.shape}): there is no one way to draw it out.`,
        {
          where: { point: part.at },
          tryThis: 'Pick a flat face, or cut the body by the sheet with Split by.',
        },
      )
    const axis = part.axis
    const input = namedShape(oc, body)
    const by = namedShape(oc, sheet)
    // As far as the sheet reaches beyond the face.
    const { min, size } = sheet.facts
    const reach = Math.max(
      ...[0, 1, 2, 3, 4, 5, 6, 7].map((c) =>
        [0, 1, 2].reduce((sum, k) => sum + (min[k] + (c & (1 << k) ? size[k] : 0) - part.at[k]) * axis[k], 0),
      ),
    )
    const never = new StepError('no-cut', `"${sheetName}" does not pass right through what stands on "${part.name}".`, {
      where: { point: part.at },
      tryThis: 'Extend the sheet past the borders of the face on all sides.',
    })
    const range = () => new oc.Message_ProgressRange()
    let grown = input
    if (reach > 1e-6) {
      const f = new ShapeIndex(oc, input.shape, 'TopAbs_FACE').list[face]
      const prism = new oc.BRepPrimAPI_MakePrism(f, new oc.gp_Vec(...scale(axis, reach + 1)), false, true)
      const tool = { shape: prism.Shape(), names: namesFor(oc, prism.Shape(), [[prism.LastShape(), part.name]]) }
      grown = runBuilder(oc, new oc.BRepAlgoAPI_Fuse(input.shape, tool.shape, range()), {
        failed: never,
        inputs: [input, tool],
        unify: true,
      })
    }
    const op = new oc.BRepAlgoAPI_Splitter()
    op.SetArguments(listOf(oc, [grown.shape]))
    op.SetTools(listOf(oc, [by.shape]))
    op.Build(range())
    const split = runBuilder(oc, op as never, {
      failed: never,
      inputs: [grown, { shape: by.shape, names: by.names.map(() => part.name) }],
    })
    const pieces = new ShapeIndex(oc, split.shape, 'TopAbs_SOLID').list
    if (pieces.length < 2) throw never
    const all = new ShapeIndex(oc, split.shape, 'TopAbs_FACE')
    const own = new Set(body.parts.faces.map((f) => f.name).filter((n) => n !== part.name))
    // The piece that keeps most of the body's other faces is the body; what stands beyond the sheet has none or fewer.
    const score = pieces.map((p) => {
      const names = new ShapeIndex(oc, p, 'TopAbs_FACE').list.map((f) => split.names[all.indexOf(f)])
      const whole = names.filter((n) => own.has(n) && bottomOf(n)).length
      return { p, whole, volume: roughVolume(oc, p), names: names.map((n) => n || part.name) }
    })
    /** Whether a face of the body lies away from the replaced one: only those tell the sides apart. */
    function bottomOf(name: string): boolean {
      const f = body.parts.faces.find((x) => x.name === name)
      return !!f && [0, 1, 2].reduce((sum, k) => sum + (f.at[k] - part.at[k]) * axis[k], 0) < -1e-6
    }
    score.sort((a, b) => b.whole - a.whole || b.volume - a.volume)
    return finish(oc, score[0].p, {
      what: 'Replace face',
      names: score[0].names,
      prefix: 'replaced/',
      ...keptOf(body),
    })
  })
