/** Sheets cut along where others pass through them. */
import { DisjointSets } from '@/core/math/disjoint-sets'
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { type Vec3 } from '@/core/math/vec'
import { namedShape } from './boolean'
import { finish, runBuilder } from './build'
import { hashOf, ShapeIndex } from './explore'
import { namesFor } from './extrude'
import type { Kernel } from './kernel'
import { shapesOf } from './names'
import { curveOf, keptOf, listOf, nearestOn } from './queries'
import { withKernel } from './scope'
import { sewn } from './sheets'
import { pointOf } from './wires'

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

/** Faces that share an edge which no cut runs along are one part. `seams`: hashes of the edges of cuts. */
function joinedFaces(
  oc: Kernel,
  shape: TopoDS_Shape,
  faces: readonly TopoDS_Shape[],
  seams: ReadonlySet<number>,
  tools: readonly TopoDS_Shape[],
): DisjointSets {
  const joined = new DisjointSets(faces.length)
  const first = new Map<number, number>()
  const edges = new ShapeIndex(oc, shape, 'TopAbs_EDGE')
  // A cut along an edge that the tool itself has there is not told as one.
  const skins = tools.map((tool) => {
    const skin = new oc.TopoDS_Compound()
    const builder = new oc.TopoDS_Builder()
    builder.MakeCompound(skin)
    for (const f of new ShapeIndex(oc, tool, 'TopAbs_FACE').list) builder.Add(skin, f)
    return skin
  })
  const onTool = (e: TopoDS_Shape) => {
    const { at } = curveOf(oc, oc.TopoDS.Edge(e))
    return skins.some((skin) => [0.2, 0.5, 0.8].every((t) => nearestOn(oc, skin, at(t)).distance < 1e-6))
  }
  faces.forEach((f, i) => {
    for (const e of new ShapeIndex(oc, f, 'TopAbs_EDGE').list) {
      if (seams.has(hashOf(oc, e))) continue
      const k = edges.indexOf(e)
      const other = first.get(k)
      if (other === undefined) first.set(k, i)
      else if (!onTool(e)) joined.unite(i, other)
    }
  })
  return joined
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
    const op = new oc.BRepAlgoAPI_Splitter()
    op.SetArguments(listOf(oc, [input.shape]))
    op.SetTools(
      listOf(
        oc,
        by.map((n) => n.shape),
      ),
    )
    op.Build(new oc.Message_ProgressRange())
    const done = runBuilder(oc, op as never, {
      failed: new StepError('boolean-failed', `"${toolName}" could not trim the sheet.`),
      inputs: [input],
    })
    const seams = new Set(shapesOf(oc, op.SectionEdges()).map((e) => hashOf(oc, e)))
    const faces = new ShapeIndex(oc, done.shape, 'TopAbs_FACE').list
    const joined = joinedFaces(
      oc,
      done.shape,
      faces,
      seams,
      by.map((n) => n.shape),
    )
    const groups = joined.groups()
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
            const off = parts.map((g) => Math.min(...g.map((i) => nearestOn(oc, faces[i], p).distance)))
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
      body: finish(oc, all.shape, { what: 'Trim', names: all.names, prefix: 'trimmed/', sheet: true, ...keptOf(body) }),
      parts: parts.length,
      kept: stay.size,
    }
  })
