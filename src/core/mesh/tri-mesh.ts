/** The triangle mesh: single-precision corners as in STL and 3MF files, so that reading, showing and sending out never move a vertex; sums run in double precision. */
import { applyPoint, determinant, type Affine } from '@/core/math/affine'
import type { Vec3 } from '@/core/math/vec'

export interface TriMesh {
  /** x y z for each vertex, mm. */
  readonly positions: Float32Array
  /** Three vertex numbers for each triangle, counter-clockwise seen from outside. */
  readonly triangles: Uint32Array
}

export interface Bounds {
  readonly min: Vec3
  readonly max: Vec3
}

export const emptyMesh = (): TriMesh => ({ positions: new Float32Array(0), triangles: new Uint32Array(0) })
export const vertexCount = (m: TriMesh): number => m.positions.length / 3
export const triangleCount = (m: TriMesh): number => m.triangles.length / 3

/** The x y z of a vertex in a list of coordinates. */
export const placeAt = (p: ArrayLike<number>, v: number): Vec3 => [p[3 * v], p[3 * v + 1], p[3 * v + 2]]
export const vertex = (m: TriMesh, v: number): Vec3 => placeAt(m.positions, v)
export const corners = (m: TriMesh, t: number): [Vec3, Vec3, Vec3] => [
  vertex(m, m.triangles[3 * t]),
  vertex(m, m.triangles[3 * t + 1]),
  vertex(m, m.triangles[3 * t + 2]),
]

/** The middle of a triangle. */
export function middleOf(m: TriMesh, t: number): Vec3 {
  const [a, b, c] = corners(m, t)
  return [(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3, (a[2] + b[2] + c[2]) / 3]
}

/** Numbers of the vertices of some triangles, each once. */
export function verticesOf(m: TriMesh, triangles: Iterable<number>): Set<number> {
  const out = new Set<number>()
  for (const t of triangles) for (let c = 0; c < 3; c++) out.add(m.triangles[3 * t + c])
  return out
}

/** Where the vertices of some triangles lie, each once. */
export const placesOf = (m: TriMesh, triangles: Iterable<number>): Vec3[] =>
  [...verticesOf(m, triangles)].map((v) => vertex(m, v))

/** Bounds of the coordinates that are numbers; all zero when an axis has none. */
function finiteBounds(p: Float32Array): Bounds {
  const min: [number, number, number] = [Infinity, Infinity, Infinity]
  const max: [number, number, number] = [-Infinity, -Infinity, -Infinity]
  for (let i = 0; i < p.length; i++)
    if (Number.isFinite(p[i])) {
      min[i % 3] = Math.min(min[i % 3], p[i])
      max[i % 3] = Math.max(max[i % 3], p[i])
    }
  return [0, 1, 2].every((k) => min[k] <= max[k]) ? { min, max } : { min: [0, 0, 0], max: [0, 0, 0] }
}

/** Box of the vertices that triangles use (all vertices when there is no triangle); zeros for an empty mesh. */
export function meshBounds({ positions: p, triangles }: TriMesh): Bounds {
  let x0 = Infinity,
    y0 = Infinity,
    z0 = Infinity,
    x1 = -Infinity,
    y1 = -Infinity,
    z1 = -Infinity
  const n = triangles.length || p.length / 3
  const used = triangles.length > 0
  for (let i = 0; i < n; i++) {
    const o = used ? 3 * triangles[i] : 3 * i
    const x = p[o],
      y = p[o + 1],
      z = p[o + 2]
    if (x < x0) x0 = x
    if (x > x1) x1 = x
    if (y < y0) y0 = y
    if (y > y1) y1 = y
    if (z < z0) z0 = z
    if (z > z1) z1 = z
  }
  if (![x0, y0, z0, x1, y1, z1].every(Number.isFinite)) return finiteBounds(p)
  return { min: [x0, y0, z0], max: [x1, y1, z1] }
}

export const boundsSize = ({ min, max }: Bounds): Vec3 => [max[0] - min[0], max[1] - min[1], max[2] - min[2]]
export const boundsCentre = ({ min, max }: Bounds): Vec3 => [
  (min[0] + max[0]) / 2,
  (min[1] + max[1]) / 2,
  (min[2] + max[2]) / 2,
]
export const diagonal = (b: Bounds): number => Math.hypot(...boundsSize(b))

/** Cross product of two edges of triangle t: twice the area along the outward normal. */
export function crossOf(m: TriMesh, t: number): Vec3 {
  crossInto(m.positions, m.triangles, t, scratch)
  return [scratch[0], scratch[1], scratch[2]]
}

/** The same written to `out`, from coordinates and corners in whatever arrays they stand; gives its length. Nothing is made on the way. */
export function crossInto(p: ArrayLike<number>, k: ArrayLike<number>, t: number, out: Float64Array): number {
  const a = 3 * k[3 * t],
    b = 3 * k[3 * t + 1],
    c = 3 * k[3 * t + 2]
  const ux = p[b] - p[a],
    uy = p[b + 1] - p[a + 1],
    uz = p[b + 2] - p[a + 2]
  const vx = p[c] - p[a],
    vy = p[c + 1] - p[a + 1],
    vz = p[c + 2] - p[a + 2]
  out[0] = uy * vz - uz * vy
  out[1] = uz * vx - ux * vz
  out[2] = ux * vy - uy * vx
  return Math.sqrt(out[0] * out[0] + out[1] * out[1] + out[2] * out[2])
}

const scratch = new Float64Array(3)
/** Area of triangle t, mm². */
export const triangleArea = (m: TriMesh, t: number): number => crossInto(m.positions, m.triangles, t, scratch) / 2

/** Unit normals, x y z for each triangle; zero for triangles without area. */
export function triangleNormals(m: TriMesh): Float32Array {
  const n = triangleCount(m)
  const out = new Float32Array(3 * n)
  for (let t = 0; t < n; t++) {
    const c = crossOf(m, t)
    const l = Math.hypot(c[0], c[1], c[2])
    if (l > 0) {
      out[3 * t] = c[0] / l
      out[3 * t + 1] = c[1] / l
      out[3 * t + 2] = c[2] / l
    }
  }
  return out
}

/** Surface area, mm². */
export function meshArea(m: TriMesh): number {
  let s = 0
  for (let t = 0; t < triangleCount(m); t++) s += triangleArea(m, t)
  return s
}

/** Signed volume by the divergence theorem (Mirtich 1996), mm³, summed about a corner of the mesh to keep digits far from the origin. */
export function meshVolume(m: TriMesh, triangles: Uint32Array = m.triangles): number {
  if (!triangles.length) return 0
  const p = m.positions
  const cx = p[3 * triangles[0]],
    cy = p[3 * triangles[0] + 1],
    cz = p[3 * triangles[0] + 2]
  let s = 0
  for (let i = 0; i < triangles.length; i += 3) {
    const a = 3 * triangles[i],
      b = 3 * triangles[i + 1],
      c = 3 * triangles[i + 2]
    const ax = p[a] - cx,
      ay = p[a + 1] - cy,
      az = p[a + 2] - cz
    const bx = p[b] - cx,
      by = p[b + 1] - cy,
      bz = p[b + 2] - cz
    const dx = p[c] - cx,
      dy = p[c + 1] - cy,
      dz = p[c + 2] - cz
    s += ax * (by * dz - bz * dy) + ay * (bz * dx - bx * dz) + az * (bx * dy - by * dx)
  }
  return s / 6
}

/** Centre of mass of what a closed mesh encloses, by the divergence theorem (Mirtich 1996), mm; null where it encloses nothing. */
export function meshCentroid(m: TriMesh): Vec3 | null {
  if (!m.triangles.length) return null
  const o = vertex(m, m.triangles[0])
  let volume = 0
  const sum = [0, 0, 0]
  for (let t = 0; t < triangleCount(m); t++) {
    const [a, b, c] = corners(m, t)
    const u = [a[0] - o[0], a[1] - o[1], a[2] - o[2]],
      v = [b[0] - o[0], b[1] - o[1], b[2] - o[2]],
      w = [c[0] - o[0], c[1] - o[1], c[2] - o[2]]
    const six =
      u[0] * (v[1] * w[2] - v[2] * w[1]) + u[1] * (v[2] * w[0] - v[0] * w[2]) + u[2] * (v[0] * w[1] - v[1] * w[0])
    volume += six
    for (let k = 0; k < 3; k++) sum[k] += six * (u[k] + v[k] + w[k])
  }
  if (!(Math.abs(volume) > 0)) return null
  return [0, 1, 2].map((k) => o[k] + sum[k] / (4 * volume)) as unknown as Vec3
}

/** Moves a mesh; a mirroring map also turns the triangles so that they keep facing outward. */
export function transformMesh(m: TriMesh, map: Affine): TriMesh {
  const positions = new Float32Array(m.positions.length)
  for (let o = 0; o < positions.length; o += 3) {
    const q = applyPoint(map, [m.positions[o], m.positions[o + 1], m.positions[o + 2]])
    positions[o] = q[0]
    positions[o + 1] = q[1]
    positions[o + 2] = q[2]
  }
  return { positions, triangles: determinant(map) < 0 ? flipTriangles(m.triangles) : m.triangles }
}

/** Every triangle turned inside out. */
export function flipTriangles(triangles: Uint32Array): Uint32Array {
  const out = new Uint32Array(triangles)
  for (let i = 0; i < out.length; i += 3) {
    const b = out[i + 1]
    out[i + 1] = out[i + 2]
    out[i + 2] = b
  }
  return out
}

/** Keeps the triangles for which `keep[t]` is set; vertices nobody uses go, the others keep their order. Also gives old numbers of what stayed. */
export function keepTriangles(
  m: TriMesh,
  keep: ArrayLike<number | boolean>,
): { mesh: TriMesh; triangleFrom: Uint32Array } {
  const n = triangleCount(m)
  const used = new Uint8Array(vertexCount(m))
  let count = 0
  for (let t = 0; t < n; t++) {
    if (!keep[t]) continue
    count++
    used[m.triangles[3 * t]] = used[m.triangles[3 * t + 1]] = used[m.triangles[3 * t + 2]] = 1
  }
  const to = new Int32Array(used.length)
  let next = 0
  for (let v = 0; v < used.length; v++) to[v] = used[v] ? next++ : -1
  const positions = new Float32Array(3 * next)
  for (let v = 0; v < used.length; v++) {
    if (to[v] >= 0) positions.set(m.positions.subarray(3 * v, 3 * v + 3), 3 * to[v])
  }
  const triangles = new Uint32Array(3 * count)
  const triangleFrom = new Uint32Array(count)
  let o = 0
  for (let t = 0; t < n; t++) {
    if (!keep[t]) continue
    triangleFrom[o / 3] = t
    for (let c = 0; c < 3; c++) triangles[o++] = to[m.triangles[3 * t + c]]
  }
  return { mesh: { positions, triangles }, triangleFrom }
}

/** Drops the vertices that no triangle uses. */
export const compact = (m: TriMesh): TriMesh => keepTriangles(m, new Uint8Array(triangleCount(m)).fill(1)).mesh

/** Several meshes as one, side by side, nothing joined. */
export function concatMeshes(meshes: readonly TriMesh[]): TriMesh {
  const positions = new Float32Array(meshes.reduce((s, m) => s + m.positions.length, 0))
  const triangles = new Uint32Array(meshes.reduce((s, m) => s + m.triangles.length, 0))
  let p = 0,
    k = 0
  for (const m of meshes) {
    positions.set(m.positions, p)
    for (let i = 0; i < m.triangles.length; i++) triangles[k + i] = m.triangles[i] + p / 3
    p += m.positions.length
    k += m.triangles.length
  }
  return { positions, triangles }
}

/** A mesh from growing plain lists. */
export const meshFrom = (positions: ArrayLike<number>, triangles: ArrayLike<number>): TriMesh => ({
  positions: Float32Array.from(positions),
  triangles: Uint32Array.from(triangles),
})

/** Corners of some triangles, three by three, to draw them apart from the rest. */
export function trianglesAsPoints(mesh: TriMesh, list: ArrayLike<number>): Float32Array<ArrayBuffer> {
  const out = new Float32Array(9 * list.length)
  for (let i = 0; i < list.length; i++)
    for (let c = 0; c < 3; c++) {
      const v = 3 * mesh.triangles[3 * list[i] + c]
      out.set(mesh.positions.subarray(v, v + 3), 9 * i + 3 * c)
    }
  return out
}
