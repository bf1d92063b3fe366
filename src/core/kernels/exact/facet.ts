/** Facets and edge lines of a shape, each with the number of the face or edge it shows. */
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import type { SolidDisplay } from '@/core/bodies/body'
import { hashOf, type ShapeIndex } from './explore'
import type { Kernel } from './kernel'

/** Greatest turn between neighbouring facets, radians, beside the chord tolerance. */
const facetTurn = 0.35

/** Facets within a chord tolerance, mm. Everything is copied out of the kernel's memory. */
export function facet(oc: Kernel, shape: TopoDS_Shape, tolerance: number, edges?: ShapeIndex): SolidDisplay {
  const data = oc.ReplicadMeshExtractor.extract(shape, tolerance, facetTurn, false)
  const lineData = oc.ReplicadEdgeMeshExtractor.extract(shape, tolerance, facetTurn)
  const memory = oc.wasmMemory.buffer
  const positions = new Float32Array(memory, data.getVerticesPtr(), data.getVerticesSize()).slice()
  const normals = new Float32Array(memory, data.getNormalsPtr(), data.getNormalsSize()).slice()
  const triangles = new Uint32Array(memory, data.getTrianglesPtr(), data.getTrianglesSize()).slice()
  const groups = new Int32Array(memory, data.getFaceGroupsPtr(), data.getFaceGroupsSize()).slice()
  const lines = new Float32Array(memory, lineData.getLinesPtr(), lineData.getLinesSize()).slice()
  const edgeGroups = new Int32Array(memory, lineData.getEdgeGroupsPtr(), lineData.getEdgeGroupsSize()).slice()
  const face = new Uint32Array(triangles.length / 3)
  for (let g = 0; g < groups.length; g += 3) face.fill(g / 3, groups[g] / 3, (groups[g] + groups[g + 1]) / 3)
  // Groups of lines follow the edges in their order, but for edges without a curve, which have none.
  const edge = new Uint32Array(lines.length / 6)
  const order = new Map(edges?.list.map((e, i) => [hashOf(oc, e), i]))
  for (let g = 0; g < edgeGroups.length; g += 3)
    edge.fill(order.get(edgeGroups[g + 2]) ?? g / 3, edgeGroups[g] / 2, (edgeGroups[g] + edgeGroups[g + 1]) / 2)
  return { positions, normals, triangles, face, lines, edge }
}
