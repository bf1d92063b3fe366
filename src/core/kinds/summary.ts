/** The few facts of a body that every list and readout shows. */
import { countHoles } from '@/core/mesh/scraps'
import { buildTopology, findPieces } from '@/core/mesh/topology'
import { boundsSize, meshArea, meshBounds, meshVolume, triangleCount, vertexCount } from '@/core/mesh/tri-mesh'
import { isMesh, type Body, type BodyKind, type SolidFacts } from '@/core/bodies/body'

export interface BodySummary {
  kind: BodyKind
  size: [number, number, number]
  min: [number, number, number]
  closed: boolean
  volume: number
  area: number
  triangles: number
  vertices?: number
  pieces: number
  holes: number
  openEdges: number
  nonManifoldEdges: number
  exact?: Pick<SolidFacts, 'faces' | 'edges' | 'faceKinds'>
}

const mm = (v: readonly number[]): [number, number, number] => [
  Number(v[0].toFixed(4)),
  Number(v[1].toFixed(4)),
  Number(v[2].toFixed(4)),
]

export function summarize(body: Body): BodySummary {
  if (!isMesh(body)) {
    const { facts: f, display } = body
    return {
      kind: body.kind,
      size: mm(f.size),
      min: mm(f.min),
      closed: f.closed && f.valid,
      volume: f.volume,
      area: f.area,
      triangles: display.triangles.length / 3,
      pieces: f.pieces,
      holes: 0,
      openEdges: 0,
      nonManifoldEdges: 0,
      exact: { faces: f.faces, edges: f.edges, faceKinds: f.faceKinds },
    }
  }
  const { mesh } = body
  const t = buildTopology(mesh)
  const b = meshBounds(mesh)
  return {
    kind: 'mesh',
    size: mm(boundsSize(b)),
    min: mm(b.min),
    closed: triangleCount(mesh) > 0 && !t.openEdges && !t.nonManifoldEdges,
    volume: meshVolume(mesh),
    area: meshArea(mesh),
    triangles: triangleCount(mesh),
    vertices: vertexCount(mesh),
    pieces: findPieces(mesh, t).count,
    holes: countHoles(mesh, t),
    openEdges: t.openEdges,
    nonManifoldEdges: t.nonManifoldEdges,
  }
}
