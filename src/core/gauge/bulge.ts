/** How far the surface that a mesh stands for may bulge over its facets. */
import { crossInto } from '@/core/mesh/triangle'
import { buildTopology, nextIn, triangleOf } from '@/core/mesh/topology'
import type { TriMesh } from '@/core/mesh/tri-mesh'

/** Facets that turn by more than this meet in an edge of the part, radians. */
const sharpTurn = Math.PI / 4

/**
 * The most that a round surface through the corners of a mesh rises over its facets, mm: across an edge where facets turn by t, an arc
 * over the lower one, of height h, rises by h / 2 tan(t / 4); over one that bends across several edges, by the sum of these.
 */
export function bulgeOf(mesh: TriMesh): number {
  const { positions: p, triangles: k } = mesh
  const { twin } = buildTopology(mesh)
  const count = k.length / 3
  const normal = new Float64Array(3 * count)
  const doubled = new Float64Array(count)
  const n = new Float64Array(3)
  for (let t = 0; t < count; t++) {
    doubled[t] = crossInto(p, k, t, n)
    for (let c = 0; c < 3; c++) normal[3 * t + c] = doubled[t] ? n[c] / doubled[t] : 0
  }
  let most = 0
  for (let s = 0; s < count; s++) {
    let rise = 0
    for (let h = 3 * s; h < 3 * s + 3; h++) {
      if (twin[h] < 0) continue
      const t = triangleOf(twin[h])
      const cosine =
        normal[3 * s] * normal[3 * t] + normal[3 * s + 1] * normal[3 * t + 1] + normal[3 * s + 2] * normal[3 * t + 2]
      const turn = Math.acos(Math.max(-1, Math.min(1, cosine)))
      if (turn > sharpTurn) continue
      const [a, b] = [3 * k[h], 3 * k[nextIn(h)]]
      const edge = Math.hypot(p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2])
      if (edge) rise += (Math.min(doubled[s], doubled[t]) / edge / 2) * Math.tan(turn / 4)
    }
    most = Math.max(most, rise)
  }
  return most
}
