/**
 * A skin with a cross field cut open until it can be laid flat: crosses are combed along a tree of triangles, and every corner's place in
 * the map is told by few free places and by whole numbers (Bommes, Zimmer & Kobbelt 2009; translations are eliminated along the cuts).
 */
import type { Topology } from '@/core/mesh/topology'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import type { CrossField } from '@/core/net/cross-field'
import { combed } from './combed'
import { cutGraph, wedgesOf } from './cut-graph'
import { wedgePlaces, type WedgePlaces } from './wedge-places'

export interface CutSkin extends WedgePlaces {
  /** Angle of the map's first axis in each triangle's frame. */
  readonly axis: Float64Array
  /** The wedge of each corner: corners at one vertex that no cut divides. */
  readonly wedge: Int32Array
  readonly wedges: number
}

/** `topology`: of the mesh; `field`: crosses on its triangles. */
export function cutOpen(mesh: TriMesh, topology: Topology, field: CrossField): CutSkin {
  const comb = combed(mesh, topology, field)
  const graph = cutGraph(mesh, topology, comb)
  const { wedge, wedges } = wedgesOf(topology, graph.cut)
  return { axis: comb.axis, wedge, wedges, ...wedgePlaces(mesh.triangles, topology.twin, graph, wedge, wedges) }
}
