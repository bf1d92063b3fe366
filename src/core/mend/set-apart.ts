/** Skins that meet in an edge, set apart by a hair: corners in one place are one again in a file that tells them by their coordinates. */
import { stepAt } from '@/core/gauge/single-precision'
import { sharedAsWritten } from '@/core/mesh/as-written'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { vertexNormals } from '@/core/mesh/vertex-normals'

const mostRounds = 5

/**
 * Moves corners at such edges inward of their own skin, by two steps of single precision and more until their coordinates differ.
 * @returns how many corners moved, and how many edges are still shared
 */
export function setApart(mesh: TriMesh): { mesh: TriMesh; moved: number; left: number } {
  let { edges, place } = sharedAsWritten(mesh)
  if (!edges.length) return { mesh, moved: 0, left: 0 }
  const positions = mesh.positions.slice()
  const now = { positions, triangles: mesh.triangles }
  const normals = vertexNormals(mesh)
  const touched = new Set<number>()
  for (let round = 0; round < mostRounds && edges.length; round++) {
    const bad = new Set(edges.flat())
    for (let v = 0; v < place.length; v++) {
      if (!bad.has(place[v])) continue
      touched.add(v)
      const far = Math.max(...[0, 1, 2].map((k) => Math.abs(mesh.positions[3 * v + k])))
      const by = 2 ** (round + 1) * stepAt(far)
      for (let k = 0; k < 3; k++) positions[3 * v + k] = mesh.positions[3 * v + k] - by * normals[3 * v + k]
    }
    ;({ edges, place } = sharedAsWritten(now))
  }
  return { mesh: now, moved: touched.size, left: edges.length }
}
