/** The section of a mesh by a plane: closed loops and the filled face. Vertices on the plane count as above it, so every loop closes. */
import { cross, frame, dot, type Vec3 } from '@/core/math/vec'
import { fillRings, ringArea } from '@/core/split/cap'
import { meshBounds, type TriMesh } from '@/core/mesh/tri-mesh'

export interface Section {
  /** Loops as x y z, one after the other; open chains only where the mesh is open. */
  readonly loops: readonly { readonly points: Float32Array; readonly closed: boolean }[]
  /** Filled face: x y z for each corner of its triangles. */
  readonly face: Float32Array
  readonly area: number
  readonly length: number
}

/** Triangles to a block: those in a row usually lie together, so most blocks miss the plane whole. */
const blockSize = 24

/** The boxes of a mesh's blocks of triangles, made once, so that dragging a plane looks at few triangles. */
export class Slicer {
  /** Middle x y z and half size x y z of each block. */
  private readonly boxes: Float64Array

  constructor(private readonly mesh: TriMesh) {
    const { positions: p, triangles: k } = mesh
    this.boxes = new Float64Array(6 * Math.ceil(k.length / (3 * blockSize)))
    for (let b = 0, from = 0; from < k.length; b += 6, from += 3 * blockSize) {
      const { min, max } = meshBounds({ positions: p, triangles: k.subarray(from, from + 3 * blockSize) })
      for (let a = 0; a < 3; a++) {
        this.boxes[b + a] = (min[a] + max[a]) / 2
        this.boxes[b + 3 + a] = (max[a] - min[a]) / 2
      }
    }
  }

  /** The section by the plane of points p with normal · p = offset; `normal` is a unit vector. */
  slice(normal: Vec3, offset: number, fill = true): Section {
    const { points, next, starts } = this.segments(normal, offset)
    const chains = chainsOf(next, starts, points.length / 3)
    const { loops, length } = loopsOf(points, chains)
    if (!fill) return { loops, face: new Float32Array(0), area: 0, length }
    return { loops, ...faceOf(points, chains, normal), length }
  }

  /** Where edges meet the plane, and from which of those places to which each cut triangle leads. */
  private segments(normal: Vec3, offset: number): { points: number[]; next: Map<number, number>; starts: number[] } {
    const {
      mesh: { positions: p, triangles: k },
      boxes,
    } = this
    const [nx, ny, nz] = normal
    const count = p.length / 3
    const side = (v: number) => nx * p[3 * v] + ny * p[3 * v + 1] + nz * p[3 * v + 2] - offset
    const points: number[] = []
    const made = new Map<number, number>()
    const next = new Map<number, number>()
    const between = (a: number, b: number): number => {
      const lo = a < b ? a : b,
        hi = a < b ? b : a
      const key = lo * count + hi
      let id = made.get(key)
      if (id === undefined) {
        id = points.length / 3
        const low = side(lo),
          t = low / (low - side(hi))
        for (let c = 0; c < 3; c++) points.push(p[3 * lo + c] + t * (p[3 * hi + c] - p[3 * lo + c]))
        made.set(key, id)
      }
      return id
    }
    const starts: number[] = []
    const cut = (t: number) => {
      const a = k[t],
        b = k[t + 1],
        c = k[t + 2]
      const up = (side(a) >= 0 ? 1 : 0) | (side(b) >= 0 ? 2 : 0) | (side(c) >= 0 ? 4 : 0)
      if (up === 0 || up === 7) return
      // From the edge that goes down to the edge that comes up: material to the left as the normal looks.
      let from = -1,
        to = -1
      if (up & 1 && !(up & 2)) from = between(a, b)
      else if (!(up & 1) && up & 2) to = between(a, b)
      if (up & 2 && !(up & 4)) from = between(b, c)
      else if (!(up & 2) && up & 4) to = between(b, c)
      if (up & 4 && !(up & 1)) from = between(c, a)
      else if (!(up & 4) && up & 1) to = between(c, a)
      if (next.has(from)) return // a fault of the skin: two sheets at one edge
      next.set(from, to)
      starts.push(from)
    }
    const ax = Math.abs(nx),
      ay = Math.abs(ny),
      az = Math.abs(nz)
    for (let b = 0; b < boxes.length; b += 6) {
      const away = nx * boxes[b] + ny * boxes[b + 1] + nz * boxes[b + 2] - offset
      const reach = ax * boxes[b + 3] + ay * boxes[b + 4] + az * boxes[b + 5]
      // A hair more than the box reaches, for rounding.
      if (Math.abs(away) > reach + 1e-9 * (reach + Math.abs(offset))) continue
      for (let t = (b / 2) * blockSize, end = Math.min(k.length, t + 3 * blockSize); t < end; t += 3) cut(t)
    }
    return { points, next, starts }
  }
}

interface Chain {
  readonly ids: number[]
  readonly closed: boolean
}

function chainsOf(next: ReadonlyMap<number, number>, starts: readonly number[], count: number): Chain[] {
  const seen = new Uint8Array(count)
  const into = new Uint8Array(count)
  for (const to of next.values()) into[to] = Math.min(2, into[to] + 1)
  const chains: Chain[] = []
  const walk = (from: number) => {
    const ids: number[] = []
    let at: number | undefined = from
    while (at !== undefined && !seen[at]) {
      ids.push(at)
      // What comes in from the open ends where a sheet goes through: it may not take that one's loop along.
      if (into[at] > 1 && !into[from]) break
      seen[at] = 1
      at = next.get(at)
    }
    if (ids.length > 1) chains.push({ ids, closed: at === from })
  }
  // Chains that begin in the open first, then the loops.
  for (const s of starts) if (!into[s] && !seen[s]) walk(s)
  for (const s of starts) if (!seen[s]) walk(s)
  return chains
}

function loopsOf(points: readonly number[], chains: readonly Chain[]): Pick<Section, 'loops' | 'length'> {
  let length = 0
  const loops = chains.map(({ ids, closed }) => {
    const out = new Float32Array(3 * ids.length)
    ids.forEach((v, i) => {
      for (let c = 0; c < 3; c++) out[3 * i + c] = points[3 * v + c]
      const w = i + 1 < ids.length ? ids[i + 1] : closed ? ids[0] : v
      length += Math.hypot(
        points[3 * v] - points[3 * w],
        points[3 * v + 1] - points[3 * w + 1],
        points[3 * v + 2] - points[3 * w + 2],
      )
    })
    return { points: out, closed }
  })
  return { loops, length }
}

/** The cut face, triangles of x y z, and its area, mm². */
function faceOf(points: readonly number[], chains: readonly Chain[], normal: Vec3): Pick<Section, 'face' | 'area'> {
  const [x, , n] = frame(normal)
  const y = cross(n, x)
  const flat = (v: number): [number, number] => {
    const q: Vec3 = [points[3 * v], points[3 * v + 1], points[3 * v + 2]]
    return [dot(q, x), dot(q, y)]
  }
  const rings = chains.filter((c) => c.closed && c.ids.length > 2).map(({ ids }) => ({ ids, corners: ids.map(flat) }))
  const near = unseen * spanOf(rings.flatMap((r) => r.corners))
  const drawn = rings.map(({ ids, corners }) => {
    const kept = bends(corners, near)
    return { ids: kept.map((i) => ids[i]), corners: kept.map((i) => corners[i]) }
  })
  const f = fillRings(
    drawn.map((r) => r.corners),
    false,
  )
  const row = drawn.flatMap((r) => r.ids)
  const face = new Float32Array(3 * f.triangles.length)
  f.triangles.forEach((v, i) => {
    for (let c = 0; c < 3; c++) face[3 * i + c] = points[3 * row[v] + c]
  })
  return {
    face,
    area: rings.reduce((s, r, i) => s + (f.depth[i] % 2 ? -1 : 1) * ringArea(r.corners), 0),
  }
}

/** A filled face may leave its loop by this share of its width: a hundredth of what a screen shows. */
const unseen = 1e-5

function spanOf(corners: readonly (readonly [number, number])[]): number {
  let x0 = Infinity,
    y0 = Infinity,
    x1 = -Infinity,
    y1 = -Infinity
  for (const [x, y] of corners) {
    if (x < x0) x0 = x
    if (x > x1) x1 = x
    if (y < y0) y0 = y
    if (y > y1) y1 = y
  }
  return corners.length ? Math.hypot(x1 - x0, y1 - y0) : 0
}

/**
 * Corners of a ring that matter at a distance: between two kept ones all lie within `near` of the line. One pass: the wedge of lines
 * from the last kept corner that pass all since is narrowed until it is empty (Sklansky & Gonzalez 1980).
 */
function bends(ring: readonly (readonly [number, number])[], near: number): number[] {
  const n = ring.length
  const kept = [0]
  let from = 0,
    low = -Infinity,
    high = Infinity,
    base = 0
  for (let i = 1; i < n; i++) {
    const dx = ring[i][0] - ring[from][0],
      dy = ring[i][1] - ring[from][1]
    const away = Math.hypot(dx, dy)
    if (away <= near) continue
    const half = Math.asin(Math.min(1, near / away))
    let at = Math.atan2(dy, dx)
    if (low === -Infinity) base = at
    at -= base
    if (at > Math.PI) at -= 2 * Math.PI
    else if (at < -Math.PI) at += 2 * Math.PI
    if (at < low || at > high) {
      // The corner before ends the run, and this one is looked at again from there.
      kept.push(i - 1)
      from = i - 1
      low = -Infinity
      high = Infinity
      i--
      continue
    }
    low = Math.max(low, at - half)
    high = Math.min(high, at + half)
  }
  kept.push(n - 1)
  const out = kept.filter((v, i) => i === 0 || v !== kept[i - 1])
  return out.length > 2 ? out : ring.map((_, i) => i)
}

const slicers = new WeakMap<TriMesh, Slicer>()

/** The slicer of a mesh, made once: a plane that is dragged asks for it at every move. */
export function slicerOf(mesh: TriMesh): Slicer {
  let s = slicers.get(mesh)
  if (!s) slicers.set(mesh, (s = new Slicer(mesh)))
  return s
}
