/** Cuts a mesh, open or closed, by a plane: both sides, with rims exactly on the plane. */
import { dot, normalize, scale, type Vec3 } from '@/core/math/vec'
import { edgeKey } from '@/core/mesh/edge-key'
import { diagonal, keepTriangles, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'
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

/** A mesh divided along a plane: corners on one side, or on it, for each triangle. */
interface Divided {
  readonly whole: TriMesh
  /** For each triangle the one of the input it lies in, and 1 when it is above. */
  readonly from: readonly number[]
  readonly up: readonly number[]
  readonly flush: number
  onPlane(v: number): boolean
}

/** New corners where edges meet a plane; both triangles at an edge get the same. */
class EdgePoints {
  readonly extra: number[] = []
  private readonly made = new Map<number, number>()
  constructor(
    private readonly p: Float32Array,
    private readonly side: Float64Array,
  ) {}
  between(a: number, b: number): number {
    const { p, side, extra } = this
    const lo = Math.min(a, b),
      hi = Math.max(a, b)
    const key = edgeKey(lo, hi)
    let v = this.made.get(key)
    if (v === undefined) {
      const t = side[lo] / (side[lo] - side[hi])
      v = side.length + extra.length / 3
      for (let c = 0; c < 3; c++) extra.push(p[3 * lo + c] + t * (p[3 * hi + c] - p[3 * lo + c]))
      this.made.set(key, v)
    }
    return v
  }
}

function divide(mesh: TriMesh, n: Vec3, d: number): Divided {
  const near = onPlaneShare * diagonal(meshBounds(mesh))
  const { positions: p, triangles: k } = mesh
  const count = p.length / 3
  const side = new Float64Array(count)
  for (let v = 0; v < count; v++) {
    const s = n[0] * p[3 * v] + n[1] * p[3 * v + 1] + n[2] * p[3 * v + 2] - d
    side[v] = Math.abs(s) < near ? 0 : s
  }
  const edges = new EdgePoints(p, side)
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
      put(v[0], v[1], v[2], t, dot(crossOf(mesh, t), n) < 0 ? 1 : 0)
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
      const m = edges.between(b, c)
      put(a, b, m, t, side[b] > 0 ? 1 : 0)
      put(a, m, c, t, side[c] > 0 ? 1 : 0)
      continue
    }
    const alone = s.findIndex(
      (x, i) => Math.sign(x) !== Math.sign(s[(i + 1) % 3]) && Math.sign(x) !== Math.sign(s[(i + 2) % 3]),
    )
    const [a, b, c] = [v[alone], v[(alone + 1) % 3], v[(alone + 2) % 3]]
    const ab = edges.between(a, b),
      ac = edges.between(a, c)
    put(a, ab, ac, t, side[a] > 0 ? 1 : 0)
    put(ab, b, c, t, side[b] > 0 ? 1 : 0)
    put(ab, c, ac, t, side[c] > 0 ? 1 : 0)
  }
  const positions = new Float32Array(p.length + edges.extra.length)
  positions.set(p)
  positions.set(edges.extra, p.length)
  return {
    whole: { positions, triangles: Uint32Array.from(triangles) },
    ...{ from, up, flush },
    onPlane: (v) => v >= count || side[v] === 0,
  }
}

/** The triangles above (1) or below (0), closed flat where the mesh was when `cap` is set. */
function half({ whole, from, up, onPlane }: Divided, above: number, n: Vec3, cap: boolean) {
  const kept = keepTriangles(
    whole,
    up.map((u) => u === above),
  )
  const source = kept.triangleFrom.map((t) => from[t])
  if (!cap) return { mesh: kept.mesh, from: source, caps: 0, failed: 0, area: 0 }
  // Vertices of the kept half that lie on the plane, by their old numbers.
  const flags = new Uint8Array(kept.mesh.positions.length / 3)
  kept.triangleFrom.forEach((t, i) => {
    for (let c = 0; c < 3; c++) if (onPlane(whole.triangles[3 * t + c])) flags[kept.mesh.triangles[3 * i + c]] = 1
  })
  const c = capFlat(kept.mesh, above ? scale(n, -1) : n, (rim) => rim.vertices.every((v) => flags[v]))
  const all = new Uint32Array(triangleCount(c.mesh)).fill(capMark)
  all.set(source)
  return { mesh: c.mesh, from: all, caps: c.caps, failed: c.failed, area: c.area }
}

/** Cuts a mesh by a plane on exact signs; with `cap` both sides are closed flat where the mesh was. */
export function cutByPlane(mesh: TriMesh, point: Vec3, direction: Vec3, { cap = true } = {}): PlaneCut {
  const n = normalize(direction)
  const divided = divide(mesh, n, dot(n, point))
  const a = half(divided, 1, n, cap),
    b = half(divided, 0, n, cap)
  return {
    above: a.mesh,
    below: b.mesh,
    aboveFrom: a.from,
    belowFrom: b.from,
    caps: a.caps,
    uncapped: a.failed + b.failed,
    capArea: a.area,
    flush: divided.flush,
  }
}
