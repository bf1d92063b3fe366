/** Closes holes: finds rims, spans them flat or smooth, and joins the patches to the mesh without moving a vertex of it. */
import type { Vec3 } from '@/core/math/vec'
import { buildTopology, findRims, nextIn, vertexTriangles, type Rim, type Topology } from '@/core/mesh/topology'
import { triangleNormals, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { checkStop, quiet, type Work } from '@/core/recipe/work'
import { Patch } from './patch'
import { flatTriangulation, leastWeightTriangulation } from './triangulate-rim'

export type HoleFill = 'flat' | 'smooth'

export interface HoleChoice {
  readonly how: HoleFill
  /** Only holes with a rim up to this long, mm. */
  readonly longest?: number
  /** Only the hole whose rim is nearest to each of these points. */
  readonly picked?: readonly Vec3[]
}

export interface Closed {
  readonly mesh: TriMesh
  readonly closed: number
  readonly left: number
  readonly longest: number
  /** Number of the first new triangle; the ones before it are the old ones in their order. */
  readonly firstNew: number
}

const rimLength = (mesh: TriMesh, rim: Rim): number =>
  rim.halfEdges.reduce((s, h) => {
    const a = vertex(mesh, mesh.triangles[h]), b = vertex(mesh, mesh.triangles[nextIn(h)])
    return s + Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])
  }, 0)

function choose(mesh: TriMesh, rims: Rim[], choice: HoleChoice): Rim[] {
  let chosen = rims.filter((r) => r.closed && r.vertices.length >= 3)
  if (choice.picked?.length) {
    const wanted = new Set<Rim>()
    for (const p of choice.picked) {
      let best: Rim | null = null, least = Infinity
      for (const r of chosen) for (const v of r.vertices) {
        const q = vertex(mesh, v)
        const d = (q[0] - p[0]) ** 2 + (q[1] - p[1]) ** 2 + (q[2] - p[2]) ** 2
        if (d < least) {
          least = d
          best = r
        }
      }
      if (best) wanted.add(best)
    }
    chosen = chosen.filter((r) => wanted.has(r))
  }
  if (choice.longest !== undefined) chosen = chosen.filter((r) => rimLength(mesh, r) <= choice.longest!)
  return chosen
}

/** One hole's patch: new points after the rim's own, triangles over rim numbers 0 .. n - 1 and new ones. */
function makePatch(mesh: TriMesh, topology: Topology, around: { start: Uint32Array; list: Uint32Array }, normals: Float32Array, rim: Rim, how: HoleFill): Patch {
  const n = rim.vertices.length
  // The patch runs against the open half-edges, so the rim is taken backwards when they run with it.
  const forward = mesh.triangles[rim.halfEdges[0]] === rim.vertices[0]
  const order = forward ? rim.vertices.map((_, i) => rim.vertices[(n - i) % n]) : [...rim.vertices]
  const edges = forward ? rim.halfEdges.map((_, i) => rim.halfEdges[(2 * n - 1 - i) % n]) : [...rim.halfEdges]
  const points = order.map((v) => vertex(mesh, v))
  const at = new Map<number, number>()
  order.forEach((v, i) => { if (!at.has(v)) at.set(v, i) })
  const linked = new Set<number>()
  const outer = order.map((v) => {
    const seen = new Set<number>()
    for (let i = around.start[v]; i < around.start[v + 1]; i++) for (let c = 0; c < 3; c++) seen.add(mesh.triangles[3 * around.list[i] + c])
    seen.delete(v)
    for (const u of seen) if (at.has(u)) linked.add(at.get(v)! * n + at.get(u)!)
    return Array.from(seen).filter((u) => !at.has(u)).flatMap((u) => vertex(mesh, u))
  })
  const joined = (i: number, j: number) => i < n && j < n && linked.has(at.get(order[i])! * n + at.get(order[j])!)
  const outside = edges.map((h): Vec3 => {
    const t = (h / 3) | 0
    return [normals[3 * t], normals[3 * t + 1], normals[3 * t + 2]]
  })
  const flat = how === 'flat' ? flatTriangulation(points) : null
  const cut = flat && !crossesMesh(flat, n, joined) ? flat : leastWeightTriangulation(points, { outside, joined })
  const patch = new Patch(points.flat(), n, cut, joined)
  if (how === 'smooth') {
    // Edge length wanted at each rim corner: the mean of the edges that meet there.
    const wanted = points.map((p, i) => {
      let sum = 0, count = 0
      const next = points[(i + 1) % n], prev = points[(i + n - 1) % n]
      for (const q of [next, prev]) {
        sum += Math.hypot(p[0] - q[0], p[1] - q[1], p[2] - q[2])
        count++
      }
      for (let k = 0; k < outer[i].length; k += 3) {
        sum += Math.hypot(p[0] - outer[i][k], p[1] - outer[i][k + 1], p[2] - outer[i][k + 2])
        count++
      }
      return sum / count
    })
    // A few coarse corners must not blow up the count on a fine rim.
    patch.relax(10)
    // Faired each time it has doubled, a patch is nearly done when it is fine; large ones then need few steps.
    let faired = n
    patch.refine(wanted, {
      after: () => {
        if (patch.points.length / 3 < 2 * faired) return
        patch.fair(outer, 80)
        faired = patch.points.length / 3
      },
    })
    patch.fair(outer, patch.points.length < 9000 ? 300 : 60)
    if (patch.points.length < 9000 && patch.relax(6)) patch.fair(outer, 100)
  }
  return patch
}

function crossesMesh(triangles: readonly number[], n: number, joined: (i: number, j: number) => boolean): boolean {
  for (let i = 0; i < triangles.length; i += 3) for (let c = 0; c < 3; c++) {
    const a = triangles[i + c], b = triangles[i + ((c + 1) % 3)]
    const gap = Math.abs(a - b)
    if (gap !== 1 && gap !== n - 1 && joined(a, b)) return true
  }
  return false
}

/** Closes the chosen holes of a mesh whose triangles run one way round; its own vertices and triangles keep their numbers. */
export function closeHoles(mesh: TriMesh, choice: HoleChoice, work: Work = quiet): Closed {
  const topology = buildTopology(mesh)
  const rims = findRims(mesh, topology)
  const chosen = choose(mesh, rims, choice)
  const firstNew = mesh.triangles.length / 3
  if (!chosen.length) return { mesh, closed: 0, left: rims.length, longest: 0, firstNew }
  const around = vertexTriangles(mesh)
  const normals = triangleNormals(mesh)
  const points: number[] = []
  const triangles: number[] = []
  let base = mesh.positions.length / 3
  let longest = 0, closed = 0
  chosen.forEach((rim, r) => {
    if (r % 8 === 0) {
      checkStop(work)
      work.progress(r / chosen.length, 'closing holes')
    }
    const n = rim.vertices.length
    const forward = mesh.triangles[rim.halfEdges[0]] === rim.vertices[0]
    const order = forward ? rim.vertices.map((_, i) => rim.vertices[(n - i) % n]) : rim.vertices
    const patch = makePatch(mesh, topology, around, normals, rim, choice.how)
    if (!patch.triangles.length) return
    for (const v of patch.triangles) triangles.push(v < n ? order[v] : base + v - n)
    for (let i = 3 * n; i < patch.points.length; i++) points.push(patch.points[i])
    base += patch.points.length / 3 - n
    longest = Math.max(longest, rimLength(mesh, rim))
    closed++
  })
  const positions = new Float32Array(mesh.positions.length + points.length)
  positions.set(mesh.positions)
  positions.set(points, mesh.positions.length)
  const all = new Uint32Array(mesh.triangles.length + triangles.length)
  all.set(mesh.triangles)
  all.set(triangles, mesh.triangles.length)
  return { mesh: { positions, triangles: all }, closed, left: rims.length - closed, longest, firstNew }
}
