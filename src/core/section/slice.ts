/** The section of a mesh by a plane: closed loops and the filled face. Vertices on the plane count as above it, so every loop closes. */
import { cross, frame, dot, type Vec3 } from '@/core/math/vec'
import { fillRings } from '@/core/split/cap'
import type { TriMesh } from '@/core/mesh/tri-mesh'

export interface Section {
  /** Loops as x y z, one after the other; open chains only where the mesh is open. */
  readonly loops: readonly { readonly points: Float32Array; readonly closed: boolean }[]
  /** Filled face: x y z for each corner of its triangles. */
  readonly face: Float32Array
  readonly area: number
  readonly length: number
}

/** Room kept between slices of the same mesh, so that dragging a plane makes no garbage. */
export class Slicer {
  private readonly side: Float32Array
  /** 1 for a vertex above or on the plane: a byte each, so that all of them stay in the processor's cache. */
  private readonly above: Uint8Array
  constructor(private readonly mesh: TriMesh) {
    this.side = new Float32Array(mesh.positions.length / 3)
    this.above = new Uint8Array(mesh.positions.length / 3)
  }

  /** The section by the plane of points p with normal · p = offset; `normal` is a unit vector. */
  slice(normal: Vec3, offset: number, fill = true): Section {
    const { mesh: { positions: p, triangles: k }, side, above } = this
    const [nx, ny, nz] = normal
    const count = side.length
    for (let v = 0, o = 0; v < count; v++, o += 3) {
      const s = nx * p[o] + ny * p[o + 1] + nz * p[o + 2] - offset
      side[v] = s
      above[v] = s >= 0 ? 1 : 0
    }
    const points: number[] = []
    const made = new Map<number, number>()
    const next = new Map<number, number>()
    const between = (a: number, b: number): number => {
      const lo = a < b ? a : b, hi = a < b ? b : a
      const key = lo * count + hi
      let id = made.get(key)
      if (id === undefined) {
        id = points.length / 3
        const t = side[lo] / (side[lo] - side[hi])
        for (let c = 0; c < 3; c++) points.push(p[3 * lo + c] + t * (p[3 * hi + c] - p[3 * lo + c]))
        made.set(key, id)
      }
      return id
    }
    const starts: number[] = []
    for (let t = 0; t < k.length; t += 3) {
      const a = k[t], b = k[t + 1], c = k[t + 2]
      const up = above[a] | (above[b] << 1) | (above[c] << 2)
      if (up === 0 || up === 7) continue
      // From the edge that goes down to the edge that comes up: material to the left as the normal looks.
      let from = -1, to = -1
      if ((up & 1) && !(up & 2)) from = between(a, b)
      else if (!(up & 1) && (up & 2)) to = between(a, b)
      if ((up & 2) && !(up & 4)) from = between(b, c)
      else if (!(up & 2) && (up & 4)) to = between(b, c)
      if ((up & 4) && !(up & 1)) from = between(c, a)
      else if (!(up & 4) && (up & 1)) to = between(c, a)
      if (next.has(from)) continue // a fault of the skin: two sheets at one edge
      next.set(from, to)
      starts.push(from)
    }
    const seen = new Uint8Array(points.length / 3)
    const into = new Uint8Array(points.length / 3)
    for (const to of next.values()) into[to] = 1
    const chains: { ids: number[]; closed: boolean }[] = []
    const walk = (from: number) => {
      const ids: number[] = []
      let at: number | undefined = from
      while (at !== undefined && !seen[at]) {
        seen[at] = 1
        ids.push(at)
        at = next.get(at)
      }
      if (ids.length > 1) chains.push({ ids, closed: at === from })
    }
    // Chains that begin in the open first, then the loops.
    for (const s of starts) if (!into[s] && !seen[s]) walk(s)
    for (const s of starts) if (!seen[s]) walk(s)
    let length = 0
    const loops = chains.map(({ ids, closed }) => {
      const out = new Float32Array(3 * ids.length)
      ids.forEach((v, i) => {
        for (let c = 0; c < 3; c++) out[3 * i + c] = points[3 * v + c]
        const w = i + 1 < ids.length ? ids[i + 1] : closed ? ids[0] : v
        length += Math.hypot(points[3 * v] - points[3 * w], points[3 * v + 1] - points[3 * w + 1], points[3 * v + 2] - points[3 * w + 2])
      })
      return { points: out, closed }
    })
    if (!fill) return { loops, face: new Float32Array(0), area: 0, length }
    const [x, , n] = frame(normal)
    const y = cross(n, x)
    const closed = chains.filter((c) => c.closed && c.ids.length > 2)
    const row = closed.flatMap((c) => c.ids)
    const f = fillRings(closed.map((c) => c.ids.map((v): [number, number] => { const q: Vec3 = [points[3 * v], points[3 * v + 1], points[3 * v + 2]]; return [dot(q, x), dot(q, y)] })), false)
    const face = new Float32Array(3 * f.triangles.length)
    f.triangles.forEach((v, i) => { for (let c = 0; c < 3; c++) face[3 * i + c] = points[3 * row[v] + c] })
    return { loops, face, area: f.area, length }
  }
}
