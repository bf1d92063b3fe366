/**
 * The surface a triangle belongs to, as far as it goes: a plane, cylinder or sphere is fitted to a small patch and grown while corners stay on
 * it, so that a fillet is left out although it meets its neighbour without a bend (region growing with fits, Besl & Jain 1988). Where none of
 * these holds, the skin is followed as long as its curvature changes slowly.
 */
import { symmetricEigen } from '@/core/math/eigen'
import { meanOf, spreadOf, sphereThrough } from '@/core/math/through'
import { addScaled, dot, length, normalize, sub, type Vec3 } from '@/core/math/vec'
import { triangleOf, type Topology } from '@/core/mesh/topology'
import { diagonal, meshBounds, triangleCount, type TriMesh, vertex } from '@/core/mesh/tri-mesh'
import { crossOf, triangleArea } from '@/core/mesh/triangle'
import { axisFromNormals, fitCylinder } from './cylinder-fit'

export interface SkinField {
  readonly mesh: TriMesh
  readonly topology: Topology
  /** Unit normals, x y z for each triangle. */
  readonly normals: Float32Array
}

/** Distance of a place from a surface, mm, and the way its normal points there. */
interface Surface {
  off(p: Vec3): number
  normal(p: Vec3): Vec3
}

/** Patches of so many triangles are tried: small ones stay clear of borders, large ones tell noise from shape. */
const patchSizes = [2, 8, 24, 72]
/** A corner is on a surface within this many times the patch's rms, or this share of the diagonal. */
const spread = 3,
  leastShare = 2e-5,
  /** A surface that needs more than this share is none. */
  mostShare = 2e-3
/** Normals may differ from the surface's by this much, degrees. */
const normalDegrees = 22
/** Edges that bend by more are the end of any surface, degrees. */
const sharpDegrees = 40
/** A patch that is this many times smaller than what was grown from it has found a surface. */
const grown = 3

const cosine = (degrees: number) => Math.cos((degrees * Math.PI) / 180)

/** Cosine of the bend across half-edge h. */
function bendAt({ normals, topology }: SkinField, h: number): number {
  const a = 3 * triangleOf(h),
    b = 3 * triangleOf(topology.twin[h])
  return normals[a] * normals[b] + normals[a + 1] * normals[b + 1] + normals[a + 2] * normals[b + 2]
}

/** The nearest triangles across edges that are not sharp, breadth first. */
function patchAbout(f: SkinField, seed: number, size: number): number[] {
  const seen = new Set([seed])
  for (const t of seen) {
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const w = f.topology.twin[h]
      if (w >= 0 && bendAt(f, h) >= cosine(sharpDegrees)) seen.add(triangleOf(w))
      if (seen.size >= size) return [...seen]
    }
  }
  return [...seen]
}

const cornersOf = (mesh: TriMesh, list: readonly number[]): Vec3[] => {
  const ids = new Set<number>()
  for (const t of list) for (let c = 0; c < 3; c++) ids.add(mesh.triangles[3 * t + c])
  return [...ids].map((v) => vertex(mesh, v))
}

/** Least-squares plane: the way in which the points vary least. */
function planeThrough(points: readonly Vec3[], facing: Vec3): Surface {
  const m = meanOf(points)
  const n = points.length > 3 ? symmetricEigen(spreadOf(points, m)).vectors[0] : facing
  const up: Vec3 = dot(n, facing) < 0 ? [-n[0], -n[1], -n[2]] : n
  return { off: (p) => dot(sub(p, m), up), normal: () => up }
}

/** Least-squares sphere; null when the points do not tell one. */
function ball(points: readonly Vec3[], facing: Vec3, at: Vec3): Surface | null {
  const s = points.length < 6 ? null : sphereThrough(points)
  if (!s) return null
  const { centre, radius: r } = s
  const side = dot(sub(at, centre), facing) < 0 ? -1 : 1
  return {
    off: (p) => length(sub(p, centre)) - r,
    normal(p) {
      const d = normalize(sub(p, centre))
      return [side * d[0], side * d[1], side * d[2]]
    },
  }
}

function cylinderThrough(
  f: SkinField,
  list: readonly number[],
  points: readonly Vec3[],
  at: Vec3,
  size: number,
): Surface | null {
  if (points.length < 6) return null
  const normals = list.map((t): Vec3 => [f.normals[3 * t], f.normals[3 * t + 1], f.normals[3 * t + 2]])
  const { axis } = axisFromNormals(
    normals,
    list.map((t) => triangleArea(f.mesh, t)),
  )
  const few = points.length > 200 ? points.filter((_, i) => i % Math.ceil(points.length / 200) === 0) : points
  const c = fitCylinder(few, axis)
  if (!c || !(c.radius < 2 * size)) return null
  const radial = (p: Vec3): Vec3 => {
    const d = sub(p, c.point)
    return addScaled(d, c.axis, -dot(d, c.axis))
  }
  const side = dot(radial(at), normals[0]) < 0 ? -1 : 1
  return {
    off: (p) => length(radial(p)) - c.radius,
    normal(p) {
      const d = normalize(radial(p))
      return [side * d[0], side * d[1], side * d[2]]
    },
  }
}

/** What was met in the last walk over a mesh, kept for the next one: on large meshes making it anew costs more than the walk. */
interface Walked {
  run: number
  /** Triangles, by the run in which they were met. */
  readonly seen: Int32Array
  /** Corners: twice the run where they are on the surface, one more where not. */
  readonly corner: Int32Array
  /** Distances of corners met. */
  readonly off: Float64Array
}
const walks = new WeakMap<TriMesh, Walked>()
function walkOver(mesh: TriMesh): Walked {
  let w = walks.get(mesh)
  if (!w) {
    const corners = mesh.positions.length / 3
    w = {
      run: 0,
      seen: new Int32Array(triangleCount(mesh)),
      corner: new Int32Array(corners),
      off: new Float64Array(corners),
    }
    walks.set(mesh, w)
  }
  w.run++
  return w
}

/** Triangles reached from a seed whose corners lie on a surface and that face as it does. */
function growOn(f: SkinField, seed: number, s: Surface, within: number): { list: number[]; area: number } {
  const limit = cosine(normalDegrees)
  const { run, seen, corner } = walkOver(f.mesh)
  const on = (v: number) => {
    if (corner[v] >> 1 !== run) corner[v] = 2 * run + (Math.abs(s.off(vertex(f.mesh, v))) <= within ? 0 : 1)
    return corner[v] === 2 * run
  }
  const k = f.mesh.triangles
  const fits = (t: number) => {
    if (!on(k[3 * t]) || !on(k[3 * t + 1]) || !on(k[3 * t + 2])) return false
    const m = meanOf([vertex(f.mesh, k[3 * t]), vertex(f.mesh, k[3 * t + 1]), vertex(f.mesh, k[3 * t + 2])])
    const n = s.normal(m)
    return f.normals[3 * t] * n[0] + f.normals[3 * t + 1] * n[1] + f.normals[3 * t + 2] * n[2] >= limit
  }
  seen[seed] = run
  const list = [seed]
  let area = 0
  for (const t of list) {
    area += triangleArea(f.mesh, t)
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const w = f.topology.twin[h]
      if (w < 0 || f.topology.sameWay[h]) continue
      const u = triangleOf(w)
      if (seen[u] === run || !fits(u)) continue
      seen[u] = run
      list.push(u)
    }
  }
  return { list, area }
}

/** Above this the residuals hang together: another shape is bent through this one, it is not noise. */
const mostTogether = 0.75

/** How much neighbouring corners lie off to the same side: 0 for noise, 1 for a wrong shape (Moran 1950). */
function togetherness(f: SkinField, list: readonly number[], s: Surface): number {
  const { run, corner, off } = walkOver(f.mesh)
  const k = f.mesh.triangles
  let square = 0,
    corners = 0
  const at = (v: number) => {
    if (corner[v] !== 2 * run) {
      corner[v] = 2 * run
      off[v] = s.off(vertex(f.mesh, v))
      square += off[v] ** 2
      corners++
    }
    return off[v]
  }
  let both = 0,
    edges = 0
  for (const t of list)
    for (let c = 0; c < 3; c++) {
      both += at(k[3 * t + c]) * at(k[3 * t + ((c + 1) % 3)])
      edges++
    }
  return square > 0 ? both / edges / (square / corners) : 0
}

interface Found {
  readonly list: number[]
  readonly area: number
  readonly surface: Surface
  readonly within: number
  readonly score: number
  readonly times: number
}

/** How much of the skin one surface explains, for the tolerance it needs. */
function judge(
  f: SkinField,
  seed: number,
  make: (list: readonly number[], points: readonly Vec3[]) => Surface | null,
  size: number,
): Found[] {
  const out: Found[] = []
  for (const many of patchSizes) {
    let list = patchAbout(f, seed, many)
    // All that hangs together smoothly is in the patch: it cannot grow.
    const all = list.length < many
    const patchArea = list.reduce((s, t) => s + triangleArea(f.mesh, t), 0)
    let found: { list: number[]; area: number; surface: Surface } | null = null
    let within = 0,
      wrong = false
    // Fitted to the patch, then twice to what it has grown to.
    for (let round = 0; round < 3; round++) {
      const points = cornersOf(f.mesh, list)
      const s = make(list, points)
      if (!s) break
      const rms = Math.sqrt(points.reduce((sum, p) => sum + s.off(p) ** 2, 0) / points.length)
      within = Math.max(leastShare * size, spread * rms)
      const next = growOn(f, seed, s, within)
      if (found && next.area <= found.area) break
      found = { ...next, surface: s }
      list = next.list
      wrong = within > leastShare * size && togetherness(f, list, s) > mostTogether
    }
    if (!found || wrong || within > mostShare * size) continue
    const score = found.area / within ** 1.5
    out.push({ ...found, within, score, times: all ? Infinity : found.area / patchArea })
  }
  return out
}

const rates = new WeakMap<TriMesh, Float32Array>()

/** How the skin turns across an edge, per mm; strips of a fine tessellation are as wide as their triangles are high. Kept once asked. */
function turnRate(f: SkinField, h: number): number {
  const { mesh, topology } = f
  let known = rates.get(mesh)
  if (!known) rates.set(mesh, (known = new Float32Array(topology.twin.length).fill(-1)))
  if (known[h] >= 0) return known[h]
  const a = vertex(mesh, mesh.triangles[h]),
    b = vertex(mesh, mesh.triangles[h % 3 === 2 ? h - 2 : h + 1])
  const edge = length(sub(b, a)) || 1e-30
  const high = (t: number) => (2 * triangleArea(mesh, t)) / edge
  const bend = Math.acos(Math.max(-1, Math.min(1, bendAt(f, h))))
  const w = topology.twin[h]
  return (known[h] = known[w] = bend / Math.max(1e-30, Math.min(high(triangleOf(h)), high(triangleOf(w)))))
}

/** Follows the skin while it turns at much the rate it has turned on the way. */
function growSlowly(f: SkinField, seed: number, size: number): number[] {
  const limit = cosine(sharpDegrees)
  const floor = 4 / size
  const { run, seen } = walkOver(f.mesh)
  const start = patchAbout(f, seed, 24).flatMap((t) =>
    [0, 1, 2].flatMap((c) => (f.topology.twin[3 * t + c] >= 0 ? [turnRate(f, 3 * t + c)] : [])),
  )
  start.sort((a, b) => a - b)
  const list = [seed]
  const rate = [start[Math.floor(0.75 * start.length)] ?? 0]
  seen[seed] = run
  for (let i = 0; i < list.length; i++)
    for (let h = 3 * list[i]; h < 3 * list[i] + 3; h++) {
      const w = f.topology.twin[h]
      if (w < 0 || seen[triangleOf(w)] === run || bendAt(f, h) < limit) continue
      const here = rate[i]
      const turn = turnRate(f, h)
      if (turn > 2.5 * here + floor) continue
      // The most a triangle turns across any of its edges: along a strip it turns little, and that says nothing.
      const u = triangleOf(w)
      let most = turn
      for (let g = 3 * u; g < 3 * u + 3; g++)
        if (f.topology.twin[g] >= 0 && bendAt(f, g) >= limit) most = Math.max(most, turnRate(f, g))
      seen[u] = run
      list.push(u)
      rate.push(0.9 * here + 0.1 * Math.min(most, 2 * here + floor))
    }
  return list
}

/** A surface held half as strictly may grow by this factor; more tells that it only touches the skin. */
const mostMore = 1.6
const ended = (f: SkinField, seed: number, x: Found): boolean =>
  growOn(f, seed, x.surface, 2 * x.within).area < mostMore * x.area

/** Corners of an area that none of its border edges ends at. */
function amid(f: SkinField, list: readonly number[]): number {
  const inside = new Set(list)
  const all = new Set<number>(),
    border = new Set<number>()
  const k = f.mesh.triangles
  for (const t of list)
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      all.add(k[h])
      const w = f.topology.twin[h]
      if (w >= 0 && inside.has(triangleOf(w))) continue
      border.add(k[h]).add(k[h % 3 === 2 ? h - 2 : h + 1])
    }
  return all.size - border.size
}

/** The best surface through a triangle that ends where it should; null where there is none. */
function surfaceAt(f: SkinField, seed: number, size: number): Found | null {
  const facing = normalize(crossOf(f.mesh, seed))
  const at = meanOf([0, 1, 2].map((c) => vertex(f.mesh, f.mesh.triangles[3 * seed + c])))
  const found = [
    ...judge(f, seed, (_, points) => planeThrough(points, facing), size),
    ...judge(f, seed, (list, points) => cylinderThrough(f, list, points, at, size), size),
    // Any two circles like those beside a strip lie on a sphere: only corners amid the area show that it is one.
    ...judge(f, seed, (_, points) => ball(points, facing, at), size).filter(
      (x) => amid(f, x.list) > x.list.length / 20,
    ),
  ].sort((a, b) => b.score - a.score)
  // A surface that hardly grew out of its patch, or that runs on when it is held less strictly, is none.
  const best = found.at(0)
  return best && best.times >= grown && ended(f, seed, best) ? best : null
}

/** Beside a border noise may spoil every patch about a triangle: its neighbours are asked then. */
const asked = 6

const sizes = new WeakMap<TriMesh, number>()

/** The triangles of the surface that a triangle lies on, in their order; where the skin is free, as far as its curvature changes slowly. */
export function surfaceAround(f: SkinField, seed: number): number[] {
  const size = sizes.get(f.mesh) ?? (diagonal(meshBounds(f.mesh)) || 1)
  sizes.set(f.mesh, size)
  for (const t of patchAbout(f, seed, asked)) {
    const found = surfaceAt(f, t, size)
    if (found && (t === seed || (found.list.length >= 4 * asked && found.list.includes(seed))))
      return found.list.sort((a, b) => a - b)
  }
  return growSlowly(f, seed, size).sort((a, b) => a - b)
}

/** 1 for the triangles of the surface that a triangle lies on. */
export function growSurface(f: SkinField, seed: number): Uint8Array {
  const flags = new Uint8Array(triangleCount(f.mesh))
  for (const t of surfaceAround(f, seed)) flags[t] = 1
  return flags
}
