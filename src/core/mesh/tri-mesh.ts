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
