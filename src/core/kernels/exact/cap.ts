/** Openings of sheets closed, flat or by patches that run on from the faces beside them. */
import type { TopoDS_Edge, TopoDS_Face, TopoDS_Shape } from 'replicad-opencascadejs'
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import { isTrap } from '../trap'
import { namedShape } from './boolean'
import { finish } from './build'
import { ShapeIndex } from './explore'
import { roughVolume } from './mass'
import type { Kernel } from './kernel'
import { keptOf, listOf } from './queries'
import { withKernel } from './scope'
import { freeEdges, sewn } from './sheets'

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

/** A flat face within some edges; null where they do not lie in a plane. */
function flatCap(oc: Kernel, edges: readonly TopoDS_Edge[]): TopoDS_Face | null {
  const wire = new oc.BRepBuilderAPI_MakeWire()
  wire.Add(listOf(oc, edges))
  if (!wire.IsDone()) return null
  const make = new oc.BRepBuilderAPI_MakeFace(wire.Wire(), true)
  return make.IsDone() ? make.Face() : null
}

/** A face within some edges, tangent to the face beside each, and how far it turns from them at most; null where there is none. */
function patchOver(
  oc: Kernel,
  edges: readonly TopoDS_Edge[],
  beside: readonly TopoDS_Shape[],
): { face: TopoDS_Shape; turn: number } | null {
  try {
    const op = new oc.BRepOffsetAPI_MakeFilling(3, 15, 2, false, 1e-5, 1e-4, 1e-2, 0.1, 8, 9)
    edges.forEach((edge, n) => op.Add(edge, oc.TopoDS.Face(beside[n]), 'GeomAbs_G1' as never, true))
    op.Build(new oc.Message_ProgressRange())
    if (!op.IsDone() || op.G0Error() > 0.01) return null
    return { face: op.Shape(), turn: op.G1Error() }
  } catch (error) {
    // The kernel throws where borders contradict each other; after a trap nothing of it is to be trusted.
    if (isTrap(error)) throw error
    return null
  }
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
      const lid = fill === 'tangent' ? null : flatCap(oc, own)
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
      const done = patchOver(
        oc,
        own,
        opening.edges.map((i) => faces[body.parts.edges[i].faces[0]]),
      )
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
    if (sew.closed && Math.abs(roughVolume(oc, sew.shape)) < 1e-9 * body.facts.area ** 1.5)
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
        ...keptOf(body),
      }),
      flat,
      patched,
      open: all.length - picked.length,
      turn: (turn * 180) / Math.PI,
    }
  })
