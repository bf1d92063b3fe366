/** Edges of a mesh as they are seen along a direction: creases, rims and contours, those behind something apart. */
import { checkStop, type Work } from '@/core/base/work'
import { addScaled, dot, normalize, sub, type Vec3 } from '@/core/math/vec'
import { MeshSearch } from '@/core/mesh/closest'
import { buildTopology, nextIn, triangleOf } from '@/core/mesh/topology'
import { diagonal, meshBounds, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'

/** Straight pieces as pairs of places, mm. */
export interface SeenEdges {
  readonly seen: [Vec3, Vec3][]
  readonly hidden: [Vec3, Vec3][]
}

/**
 * @param toward unit direction to the eye
 * @param degrees edges that bend more than this are creases
 */
export function seenEdges(mesh: TriMesh, toward: Vec3, degrees: number, work: Work): SeenEdges {
  const { twin } = buildTopology(mesh)
  const size = diagonal(meshBounds(mesh))
  const search = new MeshSearch(mesh)
  const normals = Array.from({ length: mesh.triangles.length / 3 }, (_, t) => normalize(crossOf(mesh, t)))
  const bend = Math.cos((degrees * Math.PI) / 180)
  const lift = 2e-4 * size
  const seen: [Vec3, Vec3][] = [],
    hidden: [Vec3, Vec3][] = []
  for (let h = 0; h < twin.length; h++) {
    if (twin[h] > h) continue // each edge once, from its later half
    if (h % 3000 === 0) {
      checkStop(work)
      work.progress(h / twin.length, 'looking at edges')
    }
    const n = normals[triangleOf(h)]
    if (twin[h] >= 0) {
      const m = normals[triangleOf(twin[h])]
      const turns = dot(n, toward) > 1e-9 !== dot(m, toward) > 1e-9
      if (!turns && dot(n, m) > bend) continue
    }
    const [a, b] = [vertex(mesh, mesh.triangles[h]), vertex(mesh, mesh.triangles[nextIn(h)])]
    const way = sub(b, a)
    const pieces = Math.max(1, Math.min(40, Math.ceil(Math.hypot(...way) / (size / 250))))
    let from = 0,
      last: boolean | null = null
    const put = (to: number) => {
      if (last === null || to === from) return
      ;(last ? seen : hidden).push([addScaled(a, way, from / pieces), addScaled(a, way, to / pieces)])
      from = to
    }
    for (let i = 0; i < pieces; i++) {
      const middle = addScaled(a, way, (i + 0.5) / pieces)
      const hit = search.first(addScaled(middle, toward, lift), toward)
      const free = !hit || hit.distance < 1e-9 * size
      if (last !== null && free !== last) put(i)
      last = free
    }
    put(pieces)
  }
  return { seen, hidden }
}
