/** The exact faces that a mesh still shows parts of, each with the borders of what is left of it. */
import type { FacePart, MeshBody } from '@/core/bodies/body'
import type { Vec3 } from '@/core/math/vec'
import { buildTopology, findRims } from '@/core/mesh/topology'
import { keepTriangles, triangleCount, vertex } from '@/core/mesh/tri-mesh'
import { triangleArea } from '@/core/mesh/triangle'

export interface ExactRest {
  readonly face: FacePart
  /** Closed runs of corners round what is left, material to the left seen from outside. */
  readonly borders: readonly (readonly Vec3[])[]
  /** mm². */
  readonly area: number
}

/** Exact faces of a mesh that came from exact bodies; none for others. */
export function exactRests({ mesh, tags }: MeshBody): ExactRest[] {
  if (!tags?.exact) return []
  const parts = new Map<string, { face: FacePart; keep: Uint8Array; area: number }>()
  for (let t = 0; t < triangleCount(mesh); t++) {
    const face = tags.exact[tags.source[t]]?.[tags.face[t]]
    if (!face) continue
    const key = `${tags.source[t]} ${tags.face[t]}`
    let part = parts.get(key)
    if (!part) {
      part = { face, keep: new Uint8Array(triangleCount(mesh)), area: 0 }
      parts.set(key, part)
    }
    part.keep[t] = 1
    part.area += triangleArea(mesh, t)
  }
  return [...parts.values()].map(({ face, keep, area }) => {
    const own = keepTriangles(mesh, keep).mesh
    const borders = findRims(own, buildTopology(own))
      .filter((r) => r.closed)
      .map((r) => r.vertices.map((v) => vertex(own, v)))
    return { face, borders, area }
  })
}
