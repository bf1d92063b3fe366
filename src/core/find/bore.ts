/** Finds bores: round walls that face their own axis, on clean downloads and on noisy scans. */
import { cross, dot, frame, length, normalize, sub, type Vec3 } from '@/core/math/vec'
import { buildTopology, triangleOf, type Topology } from '@/core/mesh/topology'
import { corners, diagonal, meshBounds, triangleCount, vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf, triangleNormals } from '@/core/mesh/triangle'
import { alongAxis, axisFromNormals, distanceToAxis, fitCylinder, type Cylinder } from './cylinder-fit'

export interface Bore {
  /** Middle of the bore on its axis. */
  readonly centre: Vec3
  /** Unit axis; for a blind bore it points out of the mouth, else it has a positive largest part. */
  readonly axis: Vec3
  readonly diameter: number
  /** Wall length along the axis, mm. */
  readonly depth: number
  readonly through: boolean
  readonly rms: number
  readonly max: number
  /** Triangles of the wall. */
  readonly triangles: number[]
}

/** What a search needs of a mesh, made once and shared by all clicks on it. */
export interface BoreField {
  readonly mesh: TriMesh
  readonly topology: Topology
  readonly normals: Float32Array
  readonly scale: number
}

/** A mesh made ready for finding bores: who borders whom, normals, and the scale that lengths are judged by (mm). */
export function boreField(mesh: TriMesh, topology = buildTopology(mesh)): BoreField {
  return { mesh, topology, normals: triangleNormals(mesh), scale: diagonal(meshBounds(mesh)) }
}

const normalAt = (f: BoreField, t: number): Vec3 => [f.normals[3 * t], f.normals[3 * t + 1], f.normals[3 * t + 2]]
const middleOf = (f: BoreField, t: number): Vec3 => {
  const [a, b, c] = corners(f.mesh, t)
  return [(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3, (a[2] + b[2] + c[2]) / 3]
}

/** Triangles reached from a seed across edges with less than `degrees` of bend, `allow` permitting; at most `most`. */
export function growFrom(
  f: BoreField,
  seed: number,
  degrees: number,
  allow: (t: number) => boolean,
  most = Infinity,
): number[] {
  const limit = Math.cos((degrees * Math.PI) / 180)
  const seen = new Set([seed])
  const out = [seed]
  for (let i = 0; i < out.length && out.length < most; i++) {
    const t = out[i]
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const w = f.topology.twin[h]
      if (w < 0) continue
      const u = triangleOf(w)
      if (seen.has(u) || !allow(u)) continue
      const bend =
        f.normals[3 * t] * f.normals[3 * u] +
        f.normals[3 * t + 1] * f.normals[3 * u + 1] +
        f.normals[3 * t + 2] * f.normals[3 * u + 2]
      if (bend < limit) continue
      seen.add(u)
      out.push(u)
    }
  }
  return out
}

function fitTo(f: BoreField, triangles: readonly number[], hint?: Vec3): Cylinder | null {
  const normals = triangles.map((t) => normalAt(f, t))
  const weights = triangles.map((t) => length(crossOf(f.mesh, t)))
  const { axis, flatness } = axisFromNormals(normals, weights)
  if (!hint && flatness > 0.2) return null
  const ids = new Set<number>()
  for (const t of triangles) for (let c = 0; c < 3; c++) ids.add(f.mesh.triangles[3 * t + c])
  // A few thousand points settle five numbers.
  const all = [...ids]
  const step = Math.max(1, Math.floor(all.length / 3000))
  const points = all.filter((_, i) => i % step === 0).map((v) => vertex(f.mesh, v))
  return fitCylinder(points, hint ?? axis)
}

/** Share of the circle that the wall covers, by sectors of 10 degrees. */
function coverage(f: BoreField, triangles: readonly number[], c: Cylinder): number {
  const [x, y] = frame(c.axis)
  const hit = new Uint8Array(36)
  for (const t of triangles) {
    const angles = corners(f.mesh, t).map((p) => {
      const d = sub(p, c.point)
      return Math.atan2(dot(d, y), dot(d, x))
    })
    let lo = angles[0],
      hi = angles[0]
    for (const a of angles.slice(1)) {
      let v = a
      while (v - angles[0] > Math.PI) v -= 2 * Math.PI
      while (v - angles[0] < -Math.PI) v += 2 * Math.PI
      lo = Math.min(lo, v)
      hi = Math.max(hi, v)
    }
    for (
      let s = Math.floor((lo + Math.PI) / (Math.PI / 18));
      s <= Math.floor((hi + Math.PI) / (Math.PI / 18) - 1e-9);
      s++
    )
      hit[((s % 36) + 36) % 36] = 1
  }
  return hit.reduce((s, v) => s + v, 0) / 36
}

const facesAxis = (f: BoreField, t: number, c: Cylinder): number => {
  const m = middleOf(f, t)
  const { foot } = alongAxis(m, c.point, c.axis)
  return dot(normalAt(f, t), normalize(sub(foot, m)))
}

/** Turns a wall into a bore when it is one: round enough, all round, facing inward. */
function asBore(f: BoreField, wall: readonly number[], c: Cylinder): Bore | null {
  if (!(c.radius > 1e-4 * f.scale) || c.radius > f.scale) return null
  if (c.rms > Math.max(0.04 * c.radius, 1e-6 * f.scale) || coverage(f, wall, c) < 0.8) return null
  let inward = 0
  for (const t of wall) inward += Math.sign(facesAxis(f, t, c))
  if (inward < 0.8 * wall.length) return null
  let lo = Infinity,
    hi = -Infinity
  for (const t of wall)
    for (const p of corners(f.mesh, t)) {
      const { at } = alongAxis(p, c.point, c.axis)
      lo = Math.min(lo, at)
      hi = Math.max(hi, at)
    }
  const ends = endsOpen(f, wall, c, lo, hi)
  if (!ends.low && !ends.high) return null
  let axis = c.axis
  const through = ends.low && ends.high
  const biggest = [0, 1, 2].reduce((b, k) => (Math.abs(axis[k]) > Math.abs(axis[b]) ? k : b), 0)
  if (through ? axis[biggest] < 0 : !ends.high) axis = [-axis[0], -axis[1], -axis[2]]
  const mid = (lo + hi) / 2
  return {
    centre: [c.point[0] + mid * c.axis[0], c.point[1] + mid * c.axis[1], c.point[2] + mid * c.axis[2]],
    axis,
    diameter: 2 * c.radius,
    depth: hi - lo,
    through,
    rms: c.rms,
    max: c.max,
    triangles: [...wall],
  }
}

/** An end is open when the skin next to the wall there does not close over the axis. */
function endsOpen(
  f: BoreField,
  wall: readonly number[],
  c: Cylinder,
  lo: number,
  hi: number,
): { low: boolean; high: boolean } {
  const inWall = new Set(wall)
  const queue: { t: number; low: boolean }[] = []
  for (const t of wall)
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const w = f.topology.twin[h]
      if (w < 0 || inWall.has(triangleOf(w))) continue
      const u = triangleOf(w)
      const { at } = alongAxis(middleOf(f, t), c.point, c.axis)
      queue.push({ t: u, low: at < (lo + hi) / 2 })
    }
  const closed = { low: false, high: false }
  const seen = new Set<number>(wall)
  // Follow the skin inside the bore's cylinder: reaching the axis means a floor.
  for (let i = 0; i < queue.length && i < 20000; i++) {
    const { t, low } = queue[i]
    if (seen.has(t)) continue
    seen.add(t)
    const p = corners(f.mesh, t)
    const inside = p.every((q) => distanceToAxis(q, c.point, c.axis) < c.radius * 1.02 + 3 * c.rms)
    if (!inside) continue
    if (overAxis(p, c)) closed[low ? 'low' : 'high'] = true
    for (let h = 3 * t; h < 3 * t + 3; h++) {
      const w = f.topology.twin[h]
      if (w >= 0 && !seen.has(triangleOf(w))) queue.push({ t: triangleOf(w), low })
    }
  }
  return { low: !closed.low, high: !closed.high }
}

function overAxis(p: readonly Vec3[], c: Cylinder): boolean {
  const [x, y] = frame(c.axis)
  const q = p.map((v) => {
    const d = sub(v, c.point)
    return [dot(d, x), dot(d, y)]
  })
  const s = [0, 1, 2].map((i) => q[i][0] * q[(i + 1) % 3][1] - q[i][1] * q[(i + 1) % 3][0])
  return s.every((v) => v >= 0) || s.every((v) => v <= 0)
}

/**
 * The bore whose wall holds triangle `seed`: grown over gentle bends, fitted, then regrown by distance and normal until it settles
 * (region growing with a geometric fit, after Schnabel et al. 2007). Null when the place is no bore.
 */
export function boreFromWall(f: BoreField, seed: number): Bore | null {
  const first = growFrom(f, seed, 31, () => true, 4000)
  let best: Bore | null = null
  const starts = [first, growFrom(f, seed, 60, () => true, 60), growFrom(f, seed, 60, () => true, 250)]
  for (const start of starts) {
    if (start.length < 6) continue
    let wall = start
    let c = fitTo(f, wall)
    for (let round = 0; round < 6 && c; round++) {
      const fit: Cylinder = c
      const band = Math.max(3 * fit.rms, 0.03 * fit.radius, 1e-6 * f.scale)
      if (fit.radius > f.scale) break
      const next = growFrom(
        f,
        seed,
        75,
        (t) =>
          corners(f.mesh, t).every((p) => Math.abs(distanceToAxis(p, fit.point, fit.axis) - fit.radius) < band) &&
          facesAxis(f, t, fit) > 0.6,
      )
      if (next.length < 6) break
      const same = next.length === wall.length
      wall = next
      const refit = fitTo(f, wall, fit.axis)
      if (!refit) break
      c = refit
      if (same && round > 0) break
    }
    if (!c) continue
    const bore = asBore(f, wall, c)
    if (bore && (!best || bore.triangles.length > best.triangles.length)) best = bore
  }
  return best
}

/** All bores of a mesh, found from walls between sharp edges; each triangle is tried once. */
export function findBores(f: BoreField): Bore[] {
  const n = triangleCount(f.mesh)
  const seen = new Uint8Array(n)
  const out: Bore[] = []
  for (let s = 0; s < n; s++) {
    if (seen[s]) continue
    const wall = growFrom(f, s, 31, (t) => !seen[t])
    for (const t of wall) seen[t] = 1
    if (wall.length < 6 || wall.length > n * 0.6) continue
    const c = fitTo(f, wall)
    if (!c || c.rms > 0.04 * c.radius) continue
    const bore = asBore(f, wall, c)
    if (bore) out.push(bore)
  }
  return out
}

/** The bore at a click: the wall under the point, else the nearest bore whose wall lies within `reach` mm. */
export function boreAt(f: BoreField, at: Vec3, triangle: number, reach: number): Bore | null {
  if (triangle >= 0) {
    const direct = boreFromWall(f, triangle)
    if (direct) return direct
  }
  let best: Bore | null = null,
    least = reach
  for (const b of findBores(f)) {
    const { at: along } = alongAxis(at, b.centre, b.axis)
    const radial = Math.abs(distanceToAxis(at, b.centre, b.axis) - b.diameter / 2)
    const inside = distanceToAxis(at, b.centre, b.axis) < b.diameter / 2
    const beyond = Math.max(0, Math.abs(along) - b.depth / 2)
    const d = Math.hypot(inside ? 0 : radial, beyond)
    if (d < least) {
      least = d
      best = b
    }
  }
  if (best) return best
  // On a scan a wall blends into its rim: try the walls around the click.
  const tries: { t: number; d: number }[] = []
  for (let t = 0; t < triangleCount(f.mesh); t++) {
    const m = middleOf(f, t)
    const d = length(sub(m, at))
    if (d < reach) tries.push({ t, d })
  }
  tries.sort((a, b) => a.d - b.d)
  const step = Math.max(1, Math.floor(tries.length / 24))
  for (let i = 0; i < tries.length; i += step) {
    const found = boreFromWall(f, tries[i].t)
    if (found) return found
  }
  return null
}

/** Bores of the same diameter (within 2 %), depth (within 5 %) and direction as `like`, itself first. */
export function equalBores(f: BoreField, like: Bore): Bore[] {
  const others = findBores(f).filter(
    (b) =>
      length(sub(b.centre, like.centre)) > 0.25 * like.diameter &&
      Math.abs(b.diameter - like.diameter) <= 0.02 * like.diameter &&
      Math.abs(b.depth - like.depth) <= 0.05 * Math.max(b.depth, like.depth) &&
      b.through === like.through &&
      length(cross(b.axis, like.axis)) < 0.03,
  )
  return [like, ...others]
}
