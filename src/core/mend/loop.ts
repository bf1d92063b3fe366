/** A closed loop of corners that a patch is to span, and how patches are joined to the mesh they mend. */
import type { Vec3 } from '@/core/math/vec'
import { edgeKey } from '@/core/mesh/edge-key'
import { nextIn, vertexTriangles, type Rim } from '@/core/mesh/topology'
import { vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleNormals } from '@/core/mesh/triangle'
import type { Patch } from './patch'

export interface Loop {
  readonly points: readonly Vec3[]
  /** Mesh vertex of each corner, or -1 for a corner that is new. */
  readonly vertices: readonly number[]
  /** Half-edge of the mesh that lies against loop edge i -> i + 1, or -1 where nothing does. */
  readonly against: readonly number[]
}

/** What patches need of the mesh, made once for all of them. */
export interface PatchGround {
  readonly mesh: TriMesh
  /** Edges between its vertices that earlier patches made: a second patch must not make them again. */
  readonly made: Set<number>
  readonly around: { start: Uint32Array; list: Uint32Array }
  readonly normals: Float32Array
}

/** What patches are fitted to: the mesh with its neighbours and normals, made once for all its holes. */
export const patchGround = (mesh: TriMesh): PatchGround => ({
  mesh,
  made: new Set(),
  around: vertexTriangles(mesh),
  normals: triangleNormals(mesh),
})

/** The loop of a rim, turned so that a patch that runs its way faces as its surroundings do. */
export function loopOfRim(mesh: TriMesh, rim: Rim): Loop {
  const n = rim.vertices.length
  const forward = mesh.triangles[rim.halfEdges[0]] === rim.vertices[0]
  const vertices = forward ? rim.vertices.map((_, i) => rim.vertices[(n - i) % n]) : [...rim.vertices]
  const against = forward ? rim.halfEdges.map((_, i) => rim.halfEdges[(2 * n - 1 - i) % n]) : [...rim.halfEdges]
  return { points: vertices.map((v) => vertex(mesh, v)), vertices, against }
}

/** A rim that comes by one vertex several times, as loops that come by each of theirs once. Loops of two edges have nothing to span. */
export function partLoop(loop: Loop): Loop[] {
  const out: Loop[] = []
  const stack: number[] = []
  const at = new Map<number, number>()
  const give = (corners: readonly number[]) => {
    if (corners.length < 3) return
    out.push({
      points: corners.map((i) => loop.points[i]),
      vertices: corners.map((i) => loop.vertices[i]),
      against: corners.map((i) => loop.against[i]),
    })
  }
  loop.vertices.forEach((v, i) => {
    const seen = at.get(v)
    if (seen !== undefined) {
      const inner = stack.splice(seen)
      for (const k of inner) at.delete(loop.vertices[k])
      give(inner)
    }
    at.set(v, stack.length)
    stack.push(i)
  })
  give(stack)
  return out
}

/** Notes the edges that a patch makes between vertices of the mesh. */
export function noteEdges(ground: PatchGround, loop: Loop, patch: Patch): void {
  const n = loop.points.length
  const corners = patch.triangles
  for (let h = 0; h < corners.length; h++) {
    const a = corners[h],
      b = corners[nextIn(h)]
    if (a < n && b < n && loop.vertices[a] >= 0 && loop.vertices[b] >= 0)
      ground.made.add(edgeKey(loop.vertices[a], loop.vertices[b]))
  }
}

/** Length of a rim, mm. */
export function rimLength(mesh: TriMesh, rim: Rim): number {
  return rim.halfEdges.reduce((s, h) => {
    const a = vertex(mesh, mesh.triangles[h]),
      b = vertex(mesh, mesh.triangles[nextIn(h)])
    return s + Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])
  }, 0)
}

/** Corner of a rim nearest to a point, with its distance. */
export function nearestOnRim(mesh: TriMesh, rim: Rim, p: Vec3): { corner: number; distance: number } {
  let corner = 0,
    least = Infinity
  rim.vertices.forEach((v, i) => {
    const q = vertex(mesh, v)
    const d = Math.hypot(q[0] - p[0], q[1] - p[1], q[2] - p[2])
    if (d < least) {
      least = d
      corner = i
    }
  })
  return { corner, distance: least }
}

/** The rim that passes nearest to a point, among closed ones; null when there is none. */
export function rimNearest(
  mesh: TriMesh,
  rims: readonly Rim[],
  p: Vec3,
): { rim: Rim; corner: number; distance: number } | null {
  let best: { rim: Rim; corner: number; distance: number } | null = null
  for (const rim of rims) {
    if (!rim.closed) continue
    const near = nearestOnRim(mesh, rim, p)
    if (!best || near.distance < best.distance) best = { rim, ...near }
  }
  return best
}

/** The mesh with patches added; its own vertices and triangles keep their numbers. */
export function joinPatches(
  mesh: TriMesh,
  patches: readonly { readonly loop: Loop; readonly patch: Patch }[],
): TriMesh {
  const points: number[] = [],
    triangles: number[] = []
  const base = mesh.positions.length / 3
  for (const { loop, patch } of patches) {
    const n = loop.points.length
    const id = new Int32Array(patch.pointCount)
    for (let v = 0; v < id.length; v++) {
      if (v < n && loop.vertices[v] >= 0) id[v] = loop.vertices[v]
      else {
        id[v] = base + points.length / 3
        points.push(patch.points[3 * v], patch.points[3 * v + 1], patch.points[3 * v + 2])
      }
    }
    for (const v of patch.triangles) triangles.push(id[v])
  }
  const positions = new Float32Array(mesh.positions.length + points.length)
  positions.set(mesh.positions)
  positions.set(points, mesh.positions.length)
  const all = new Uint32Array(mesh.triangles.length + triangles.length)
  all.set(mesh.triangles)
  all.set(triangles, mesh.triangles.length)
  return { positions, triangles: all }
}
