/** A mesh as files give it back that tell corners by their coordinates alone, as STL does: corners in one place are one. */
import { buildTopology } from './topology'
import type { TriMesh } from './tri-mesh'
import { CornerTable } from './weld'

/** For each vertex the number of its place, and how many places there are; -0 and 0 are one. */
export function placesByBits(positions: Float32Array): { place: Uint32Array; count: number } {
  const bits = new Int32Array(positions.buffer, positions.byteOffset, positions.length)
  const place = new Uint32Array(positions.length / 3)
  const table = new CornerTable(6 * place.length)
  for (let v = 0; v < place.length; v++) place[v] = table.at(bits[3 * v], bits[3 * v + 1], bits[3 * v + 2])
  return { place, count: table.count }
}

/**
 * Edges, by both their places, that more than two triangles share when the mesh is read back from such a file, though in itself it is
 * manifold there; empty for a mesh of which no two corners are in one place.
 */
export function sharedAsWritten(mesh: TriMesh): { edges: [number, number][]; place: Uint32Array } {
  const { place, count } = placesByBits(mesh.positions)
  if (count === place.length) return { edges: [], place }
  const triangles = mesh.triangles.map((v) => place[v])
  const { twin } = buildTopology({ positions: new Float32Array(3 * count), triangles })
  const own = buildTopology(mesh).twin
  const edges = new Map<string, [number, number]>()
  for (let h = 0; h < twin.length; h++) {
    if (twin[h] !== -2 || own[h] === -2) continue
    const [a, b] = [triangles[h], triangles[h % 3 === 2 ? h - 2 : h + 1]]
    edges.set(a < b ? `${a} ${b}` : `${b} ${a}`, a < b ? [a, b] : [b, a])
  }
  return { edges: [...edges.values()], place }
}
