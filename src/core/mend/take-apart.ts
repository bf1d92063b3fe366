/** The pieces of a mesh, each as a mesh of its own, largest area first. */
import { buildTopology, findPieces } from '@/core/mesh/topology'
import { type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleArea } from '@/core/mesh/triangle'

/** @param least pieces with less than this share of the largest one's area are left out, 0 to 1 */
export function takeApart(mesh: TriMesh, least: number): { pieces: TriMesh[]; leftOut: number } {
  const { piece, count } = findPieces(mesh, buildTopology(mesh))
  const area = new Float64Array(count),
    size = new Uint32Array(count)
  for (let t = 0; t < piece.length; t++) {
    area[piece[t]] += triangleArea(mesh, t)
    size[piece[t]]++
  }
  const order = Array.from({ length: count }, (_, i) => i).sort((a, b) => area[b] - area[a] || a - b)
  const largest = area[order[0]] ?? 0
  const kept = order.filter((i) => area[i] >= least * largest)
  // Linear in the triangles however many pieces there are.
  const lists = Array.from(size, (n) => new Uint32Array(n))
  const fill = new Uint32Array(count)
  piece.forEach((i, t) => {
    lists[i][fill[i]++] = t
  })
  const local = new Int32Array(mesh.positions.length / 3).fill(-1)
  const pieces = kept.map((i) => {
    const ids: number[] = []
    const triangles = new Uint32Array(3 * lists[i].length)
    lists[i].forEach((t, q) => {
      for (let c = 0; c < 3; c++) {
        const v = mesh.triangles[3 * t + c]
        if (local[v] < 0) local[v] = ids.push(v) - 1
        triangles[3 * q + c] = local[v]
      }
    })
    const positions = new Float32Array(3 * ids.length)
    ids.forEach((v, q) => {
      positions.set(mesh.positions.subarray(3 * v, 3 * v + 3), 3 * q)
      local[v] = -1
    })
    return { positions, triangles }
  })
  return { pieces, leftOut: count - kept.length }
}
