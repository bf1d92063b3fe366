/** Which edges of a shape a feature takes: sharp ones between two faces. */
import type { TopoDS_Edge, TopoDS_Face, TopoDS_Shape } from 'replicad-opencascadejs'
import type { ExactBody } from '@/core/bodies/body'
import { ShapeIndex } from './explore'
import type { Kernel } from './kernel'

export interface SharpEdge {
  readonly index: number
  readonly edge: TopoDS_Edge
  readonly faces: readonly [TopoDS_Face, TopoDS_Face]
}

/** Faces that meet at less than this turn count as running on, radians. */
const smoothTurn = 0.02

/** The edges of a body's shape by number, with those of them that are seams, free or smooth left out. */
export function sharpEdges(
  oc: Kernel,
  shape: TopoDS_Shape,
  body: ExactBody,
  wanted: readonly number[],
  smooth = smoothTurn,
): SharpEdge[] {
  const edges = new ShapeIndex(oc, shape, 'TopAbs_EDGE').list
  const faces = new ShapeIndex(oc, shape, 'TopAbs_FACE').list
  return wanted.flatMap((index): SharpEdge[] => {
    const around = body.parts.edges[index]?.faces ?? []
    if (around.length < 2 || !edges[index]) return []
    const edge = oc.TopoDS.Edge(edges[index])
    const [f, g] = [oc.TopoDS.Face(faces[around[0]]), oc.TopoDS.Face(faces[around[1]])]
    const runsOn = String(oc.BRepLib.ContinuityOfFaces(edge, f, g, smooth)) !== 'GeomAbs_C0'
    return runsOn ? [] : [{ index, edge, faces: [f, g] }]
  })
}
