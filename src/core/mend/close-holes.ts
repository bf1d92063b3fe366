/** Closes holes: finds rims, spans them, and joins the patches to the mesh without moving a vertex of it. */
import type { Vec3 } from '@/core/math/vec'
import { buildTopology, findPieces, findRims, triangleOf, type Rim } from '@/core/mesh/topology'
import { crossOf, keepTriangles, triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { checkStop, quiet, type Work } from '@/core/recipe/work'
import { fairVertices } from './fair'
import { joinPatches, loopOfRim, patchGround, rimLength, rimNearest, type Loop } from './loop'
import type { Patch } from './patch'
import { patchLoop, type HoleFill } from './patch-loop'

export type { HoleFill }

export interface HoleChoice {
  readonly how: HoleFill
  /** Only holes with a rim up to this long, mm. */
  readonly longest?: number
  /** Only the hole whose rim is nearest to each of these points. */
  readonly picked?: readonly Vec3[]
  /** Only rims for which this holds. */
  readonly accept?: (rim: Rim) => boolean
  /** Take out scraps that float inside a hole first. */
  readonly scraps?: boolean
}

export interface Closed {
  readonly mesh: TriMesh
  readonly closed: number
  readonly left: number
  readonly longest: number
  readonly scraps: number
  /** Number of the first new triangle; the ones before it are the old ones in their order, less the scraps. */
  readonly firstNew: number
}

function choose(mesh: TriMesh, rims: readonly Rim[], choice: HoleChoice): Rim[] {
  let chosen = rims.filter((r) => r.closed && r.vertices.length >= 3)
  if (choice.accept) chosen = chosen.filter(choice.accept)
  if (choice.picked?.length) {
    const wanted = new Set(choice.picked.map((p) => rimNearest(mesh, chosen, p)?.rim))
    chosen = chosen.filter((r) => wanted.has(r))
  }
  if (choice.longest !== undefined) chosen = chosen.filter((r) => rimLength(mesh, r) <= choice.longest!)
  return chosen
}

/** Open pieces that float inside a chosen hole of a larger piece: small beside the hole, and near its middle surface. */
function findScraps(mesh: TriMesh, rims: readonly Rim[], all: readonly Rim[]): Uint8Array | null {
  const topology = buildTopology(mesh)
  const { piece, count } = findPieces(mesh, topology)
  if (count < 2) return null
  const area = new Float64Array(count)
  for (let t = 0; t < piece.length; t++) area[piece[t]] += Math.hypot(...crossOf(mesh, t)) / 2
  const middle = Array.from({ length: count }, () => [0, 0, 0, 0])
  const reach = new Float64Array(count)
  const open = new Set(all.map((r) => piece[triangleOf(r.halfEdges[0])]))
  for (let t = 0; t < piece.length; t++) {
    if (!open.has(piece[t])) continue
    const m = middle[piece[t]]
    for (let c = 0; c < 3; c++) {
      const p = vertex(mesh, mesh.triangles[3 * t + c])
      for (let k = 0; k < 3; k++) m[k] += p[k]
      m[3]++
    }
  }
  for (const m of middle) for (let k = 0; k < 3; k++) m[k] /= m[3] || 1
  for (let t = 0; t < piece.length; t++) {
    if (!open.has(piece[t])) continue
    const m = middle[piece[t]]
    for (let c = 0; c < 3; c++) {
      const p = vertex(mesh, mesh.triangles[3 * t + c])
      reach[piece[t]] = Math.max(reach[piece[t]], Math.hypot(p[0] - m[0], p[1] - m[1], p[2] - m[2]))
    }
  }
  const gone = new Uint8Array(count)
  for (const rim of rims) {
    const own = piece[triangleOf(rim.halfEdges[0])]
    const corners = rim.vertices.map((v) => vertex(mesh, v))
    const centre = [0, 1, 2].map((k) => corners.reduce((s, p) => s + p[k], 0) / corners.length)
    // Plane of the hole by Newell's normal; a scrap lies within its outline seen along it.
    const n = [0, 0, 0]
    corners.forEach((a, i) => {
      const b = corners[(i + 1) % corners.length]
      for (let k = 0; k < 3; k++) n[k] += (a[(k + 1) % 3] - b[(k + 1) % 3]) * (a[(k + 2) % 3] + b[(k + 2) % 3])
    })
    const l = Math.hypot(...n) || 1
    const wide = Math.sqrt(l / 2 / Math.PI)
    const u = Math.abs(n[0] / l) < 0.6 ? [1, 0, 0] : [0, 1, 0]
    const x = [n[1] * u[2] - n[2] * u[1], n[2] * u[0] - n[0] * u[2], n[0] * u[1] - n[1] * u[0]].map((v) => v / l)
    const y = [n[1] * x[2] - n[2] * x[1], n[2] * x[0] - n[0] * x[2], n[0] * x[1] - n[1] * x[0]].map((v) => v / l)
    const flat = (p: readonly number[]): [number, number] => [(p[0] - centre[0]) * x[0] + (p[1] - centre[1]) * x[1] + (p[2] - centre[2]) * x[2], (p[0] - centre[0]) * y[0] + (p[1] - centre[1]) * y[1] + (p[2] - centre[2]) * y[2]]
    const outline = corners.map(flat)
    for (let i = 0; i < count; i++) {
      if (i === own || !open.has(i) || gone[i] || area[i] > 0.5 * area[own] || reach[i] > 1.2 * wide) continue
      const off = Math.abs(((middle[i][0] - centre[0]) * n[0] + (middle[i][1] - centre[1]) * n[1] + (middle[i][2] - centre[2]) * n[2]) / l)
      if (off > wide) continue
      const q = flat(middle[i])
      let inside = false
      for (let a = 0, b = outline.length - 1; a < outline.length; b = a++) if (outline[a][1] > q[1] !== outline[b][1] > q[1] && q[0] < ((outline[b][0] - outline[a][0]) * (q[1] - outline[a][1])) / (outline[b][1] - outline[a][1]) + outline[a][0]) inside = !inside
      if (inside) gone[i] = 1
    }
  }
  if (!gone.includes(1)) return null
  return Uint8Array.from(piece, (p) => (gone[p] ? 0 : 1))
}

/** Closes the chosen holes of a mesh whose triangles run one way round; its own vertices and triangles keep their order. */
export function closeHoles(input: TriMesh, choice: HoleChoice, work: Work = quiet): Closed {
  let mesh = input
  let rims = findRims(mesh, buildTopology(mesh))
  let chosen = choose(mesh, rims, choice)
  let scraps = 0
  if (choice.scraps && chosen.length) {
    const keep = findScraps(mesh, chosen, rims)
    if (keep) {
      mesh = keepTriangles(mesh, keep).mesh
      scraps = triangleCount(input) - triangleCount(mesh)
      rims = findRims(mesh, buildTopology(mesh))
      chosen = choose(mesh, rims, choice)
    }
  }
  const firstNew = triangleCount(mesh)
  if (!chosen.length) return { mesh, closed: 0, left: rims.length, longest: 0, scraps, firstNew }
  const ground = patchGround(mesh)
  const patches: { loop: Loop; patch: Patch }[] = []
  let longest = 0
  chosen.forEach((rim, r) => {
    if (r % 8 === 0) {
      checkStop(work)
      work.progress(r / chosen.length, 'closing holes')
    }
    const loop = loopOfRim(mesh, rim)
    const patch = patchLoop(ground, loop, choice.how)
    if (!patch.triangles.length) return
    patches.push({ loop, patch })
    longest = Math.max(longest, rimLength(mesh, rim))
  })
  let out = joinPatches(mesh, patches)
  if (choice.how === 'curvature') out = fairVertices(out, Array.from({ length: (out.positions.length - mesh.positions.length) / 3 }, (_, i) => mesh.positions.length / 3 + i), 3, work)
  return { mesh: out, closed: patches.length, left: rims.length - patches.length, longest, scraps, firstNew }
}
