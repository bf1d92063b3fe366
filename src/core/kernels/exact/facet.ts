/** Facets and edge lines of a shape, each with the number of the face or edge it shows. */
import type { TopoDS_Shape } from 'replicad-opencascadejs'
import type { SolidDisplay } from '@/core/bodies/body'
import type { Vec3 } from '@/core/math/vec'
import { hashOf, ShapeIndex } from './explore'
import { facetHoledPlane, holedPlane } from './holed-plane'
import type { Kernel } from './kernel'

/** Greatest turn between neighbouring facets, radians, beside the chord tolerance. */
const facetTurn = 0.35

interface Skin {
  readonly positions: Float32Array
  readonly normals: Float32Array
  readonly triangles: Uint32Array
  readonly face: Uint32Array
}

/** What the kernel makes of a shape, copied out of its memory; `number` gives the number of its k-th face. */
function kernelSkin(oc: Kernel, shape: TopoDS_Shape, tolerance: number, number: (k: number) => number): Skin {
  const data = oc.ReplicadMeshExtractor.extract(shape, tolerance, facetTurn, false)
  const memory = oc.wasmMemory.buffer
  const positions = new Float32Array(memory, data.getVerticesPtr(), data.getVerticesSize()).slice()
  const normals = new Float32Array(memory, data.getNormalsPtr(), data.getNormalsSize()).slice()
  const triangles = new Uint32Array(memory, data.getTrianglesPtr(), data.getTrianglesSize()).slice()
  const groups = new Int32Array(memory, data.getFaceGroupsPtr(), data.getFaceGroupsSize()).slice()
  const face = new Uint32Array(triangles.length / 3)
  for (let g = 0; g < groups.length; g += 3) face.fill(number(g / 3), groups[g] / 3, (groups[g] + groups[g + 1]) / 3)
  return { positions, normals, triangles, face }
}

/** Lines of a shape's edges as point pairs, and the number of each one's edge. */
function kernelLines(oc: Kernel, shape: TopoDS_Shape, tolerance: number, edges?: ShapeIndex) {
  const data = oc.ReplicadEdgeMeshExtractor.extract(shape, tolerance, facetTurn)
  const memory = oc.wasmMemory.buffer
  const lines = new Float32Array(memory, data.getLinesPtr(), data.getLinesSize()).slice()
  const groups = new Int32Array(memory, data.getEdgeGroupsPtr(), data.getEdgeGroupsSize()).slice()
  // Groups of lines follow the edges in their order, but for edges without a curve, which have none.
  const edge = new Uint32Array(lines.length / 6)
  const order = new Map(edges?.list.map((e, i) => [hashOf(oc, e), i]))
  const byHash = new Map<number, Vec3[]>()
  for (let g = 0; g < groups.length; g += 3) {
    const [from, to] = [groups[g] / 2, (groups[g] + groups[g + 1]) / 2]
    edge.fill(order.get(groups[g + 2]) ?? g / 3, from, to)
    const run: Vec3[] = []
    for (let s = from; s < to; s++) {
      if (!run.length) run.push([lines[6 * s], lines[6 * s + 1], lines[6 * s + 2]])
      run.push([lines[6 * s + 3], lines[6 * s + 4], lines[6 * s + 5]])
    }
    byHash.set(groups[g + 2], run)
  }
  return { lines, edge, byHash }
}

/** Facets within a chord tolerance, mm. Everything is copied out of the kernel's memory. */
export function facet(oc: Kernel, shape: TopoDS_Shape, tolerance: number, edges?: ShapeIndex): SolidDisplay {
  return withHoledPlanes(oc, shape, tolerance, edges) ?? plain(oc, shape, tolerance, edges)
}

function plain(oc: Kernel, shape: TopoDS_Shape, tolerance: number, edges?: ShapeIndex): SolidDisplay {
  const skin = kernelSkin(oc, shape, tolerance, (k) => k)
  const { lines, edge } = kernelLines(oc, shape, tolerance, edges)
  return { ...skin, lines, edge }
}

/** The same where flat faces with many holes are cut by ourselves; null where there is none, or one that does not close. */
function withHoledPlanes(oc: Kernel, shape: TopoDS_Shape, tolerance: number, edges?: ShapeIndex): SolidDisplay | null {
  const faces = new ShapeIndex(oc, shape, 'TopAbs_FACE').list
  const planes = faces.map((f) => holedPlane(oc, f))
  if (!planes.some((p) => p)) return null
  const rest = new oc.TopoDS_Compound()
  const builder = new oc.TopoDS_Builder()
  builder.MakeCompound(rest)
  const numbers: number[] = []
  faces.forEach((f, i) => {
    if (planes[i]) return
    builder.Add(rest, f)
    numbers.push(i)
  })
  if (!numbers.length) return null
  const skin = kernelSkin(oc, rest, tolerance, (k) => numbers[k])
  const { lines, edge, byHash } = kernelLines(oc, rest, tolerance, edges)
  // Edges between two of these faces are straight: two planes meet in a line.
  const all = edges ?? new ShapeIndex(oc, shape, 'TopAbs_EDGE')
  const straight: number[] = []
  const straightEdge: number[] = []
  all.list.forEach((e, i) => {
    const hash = hashOf(oc, e)
    const curve = oc.TopoDS.Edge(e)
    if (byHash.has(hash) || oc.BRep_Tool.Degenerated(curve)) return
    const c = new oc.BRepAdaptor_Curve(curve)
    const ends = [c.FirstParameter(), c.LastParameter()].map((t): Vec3 => {
      const p = c.EvalD0(t)
      return [p.X(), p.Y(), p.Z()].map(Math.fround) as unknown as Vec3
    })
    byHash.set(hash, ends)
    straight.push(...ends.flat())
    straightEdge.push(i)
  })
  const parts = [skin]
  for (const [i, plane] of planes.entries()) {
    if (!plane) continue
    const made = facetHoledPlane(oc, plane, (hash) => byHash.get(hash))
    if (!made) return null
    const count = made.positions.length / 3
    parts.push({
      positions: made.positions,
      normals: Float32Array.from({ length: 3 * count }, (_, k) => plane.normal[k % 3]),
      triangles: made.triangles,
      face: new Uint32Array(made.triangles.length / 3).fill(i),
    })
  }
  return {
    ...joined(parts),
    lines: Float32Array.from([...lines, ...straight]),
    edge: Uint32Array.from([...edge, ...straightEdge]),
  }
}

/** Skins side by side as one. */
function joined(parts: readonly Skin[]): Skin {
  const sum = (of: (s: Skin) => { length: number }) => parts.reduce((n, p) => n + of(p).length, 0)
  const out: Skin = {
    positions: new Float32Array(sum((s) => s.positions)),
    normals: new Float32Array(sum((s) => s.normals)),
    triangles: new Uint32Array(sum((s) => s.triangles)),
    face: new Uint32Array(sum((s) => s.face)),
  }
  let [v, t] = [0, 0]
  for (const p of parts) {
    out.positions.set(p.positions, 3 * v)
    out.normals.set(p.normals, 3 * v)
    p.triangles.forEach((c, i) => (out.triangles[3 * t + i] = c + v))
    out.face.set(p.face, t)
    v += p.positions.length / 3
    t += p.face.length
  }
  return out
}
