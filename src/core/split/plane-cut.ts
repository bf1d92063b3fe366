/** Cuts a mesh, open or closed, by a plane: both sides, with rims exactly on the plane. */
import { dot, normalize, scale, type Vec3 } from '@/core/math/vec'
import { edgeKey } from '@/core/mesh/edge-key'
import { diagonal, keepTriangles, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { capFlat } from './cap'

/** Vertices nearer to the plane than this share of the diagonal lie on it. */
export const onPlaneShare = 1e-6

export interface PlaneCut {
  /** Side the normal points to, and the other. */
  readonly above: TriMesh
  readonly below: TriMesh
  /** For each triangle of a side its number in the input; triangles of a cap have 0xffffffff. */
  readonly aboveFrom: Uint32Array
  readonly belowFrom: Uint32Array
  readonly caps: number
  /** Rims on the plane that could not be capped. */
  readonly uncapped: number
  readonly capArea: number
  /** Triangles that lay flat in the plane: a cut exactly on a face is rarely meant. */
  readonly flush: number
}

export const capMark = 0xffffffff

/** Cuts a mesh by a plane on exact signs; with `cap` both sides are closed flat where the mesh was. */
export function cutByPlane(mesh: TriMesh, point: Vec3, direction: Vec3, { cap = true } = {}): PlaneCut {
  const n = normalize(direction)
  const d = dot(n, point)
  const near = onPlaneShare * diagonal(meshBounds(mesh))
  const p = mesh.positions,
    k = mesh.triangles
  const count = p.length / 3
  const side = new Float64Array(count)
  for (let v = 0; v < count; v++) {
    const s = n[0] * p[3 * v] + n[1] * p[3 * v + 1] + n[2] * p[3 * v + 2] - d
    side[v] = Math.abs(s) < near ? 0 : s
  }
  const extra: number[] = []
  const made = new Map<number, number>()
  /** The point where an edge meets the plane; both triangles at the edge get the same. */
  const between = (a: number, b: number): number => {
    const lo = Math.min(a, b),
      hi = Math.max(a, b)
    const key = edgeKey(lo, hi)
    let v = made.get(key)
    if (v === undefined) {
      const t = side[lo] / (side[lo] - side[hi])
      v = count + extra.length / 3
      for (let c = 0; c < 3; c++) extra.push(p[3 * lo + c] + t * (p[3 * hi + c] - p[3 * lo + c]))
      made.set(key, v)
    }
    return v
  }
  const triangles: number[] = [],
    from: number[] = [],
    up: number[] = []
  let flush = 0
  const put = (a: number, b: number, c: number, t: number, above: number) => {
    triangles.push(a, b, c)
    from.push(t)
    up.push(above)
  }
  for (let t = 0; t < triangleCount(mesh); t++) {
    const v = [k[3 * t], k[3 * t + 1], k[3 * t + 2]]
    const s = v.map((i) => side[i])
    const hi = Math.max(...s),
      lo = Math.min(...s)
    if (lo >= 0 && hi <= 0) {
      flush++
      // A face in the plane bounds the material behind it.
      const [a, b, c] = v.map((i) => 3 * i)
      const nx = (p[b + 1] - p[a + 1]) * (p[c + 2] - p[a + 2]) - (p[b + 2] - p[a + 2]) * (p[c + 1] - p[a + 1])
      const ny = (p[b + 2] - p[a + 2]) * (p[c] - p[a]) - (p[b] - p[a]) * (p[c + 2] - p[a + 2])
      const nz = (p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a])
      put(v[0], v[1], v[2], t, nx * n[0] + ny * n[1] + nz * n[2] < 0 ? 1 : 0)
      continue
    }
    if (lo >= 0 || hi <= 0) {
      put(v[0], v[1], v[2], t, hi > 0 ? 1 : 0)
      continue
    }
    // Begin at the corner that is alone on its side.
    const zero = s.findIndex((x) => x === 0)
    if (zero >= 0) {
      const [a, b, c] = [v[zero], v[(zero + 1) % 3], v[(zero + 2) % 3]]
      const m = between(b, c)
      put(a, b, m, t, side[b] > 0 ? 1 : 0)
      put(a, m, c, t, side[c] > 0 ? 1 : 0)
      continue
    }
    const alone = s.findIndex(
      (x, i) => Math.sign(x) !== Math.sign(s[(i + 1) % 3]) && Math.sign(x) !== Math.sign(s[(i + 2) % 3]),
    )
    const [a, b, c] = [v[alone], v[(alone + 1) % 3], v[(alone + 2) % 3]]
    const ab = between(a, b),
      ac = between(a, c)
    put(a, ab, ac, t, side[a] > 0 ? 1 : 0)
    put(ab, b, c, t, side[b] > 0 ? 1 : 0)
    put(ab, c, ac, t, side[c] > 0 ? 1 : 0)
  }
  const positions = new Float32Array(p.length + extra.length)
  positions.set(p)
  positions.set(extra, p.length)
  const whole = { positions, triangles: Uint32Array.from(triangles) }
  const onPlane = (v: number) => v >= count || side[v] === 0
  const half = (above: number) => {
    const kept = keepTriangles(
      whole,
      up.map((u) => u === above),
    )
    const source = kept.triangleFrom.map((t) => from[t])
    if (!cap) return { mesh: kept.mesh, from: source, caps: 0, failed: 0, area: 0 }
    // Vertices of the kept half that lie on the plane, by their old numbers.
    const flags = new Uint8Array(kept.mesh.positions.length / 3)
    kept.triangleFrom.forEach((t, i) => {
      for (let c = 0; c < 3; c++) if (onPlane(triangles[3 * t + c])) flags[kept.mesh.triangles[3 * i + c]] = 1
    })
    const c = capFlat(kept.mesh, above ? scale(n, -1) : n, (rim) => rim.vertices.every((v) => flags[v]))
    const all = new Uint32Array(triangleCount(c.mesh)).fill(capMark)
    all.set(source)
    return { mesh: c.mesh, from: all, caps: c.caps, failed: c.failed, area: c.area }
  }
  const a = half(1),
    b = half(0)
  return {
    above: a.mesh,
    below: b.mesh,
    aboveFrom: a.from,
    belowFrom: b.from,
    caps: a.caps,
    uncapped: a.failed + b.failed,
    capArea: a.area,
    flush,
  }
}
