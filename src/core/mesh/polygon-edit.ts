/**
 * Polygons that can be changed one by one, as half-edges: each corner of a face is the half-edge that leaves it, `next` runs round the face,
 * and `twin` is the half-edge that runs the other way over the same edge. Twins are found by the faces round a vertex, so that skins with
 * edges of three faces, which many scans have, can be held and mended too (Mäntylä 1988, "An introduction to solid modeling", ch. 10, for
 * the structure; the loops of a face are kept together). Vertices and faces keep their numbers; dead ones stay as gaps.
 */
import { vertexTriangles } from './topology'
import type { TriMesh } from './tri-mesh'

/** Room for half as much again. */
const grown = (n: number, need: number) => Math.max(need, n + (n >> 1) + 16)

export class PolygonEdit {
  /** x y z of each vertex; longer than is used. */
  points: Float64Array
  /** The vertex each half-edge leaves; -1 in dead faces. Face f of a mesh of triangles starts at 3 f. */
  corners: Int32Array
  /** Faces round each vertex, in no order. */
  readonly around: number[][]
  pointCount: number
  faceCount: number
  /** First half-edge of each face, and the face of each half-edge; null while all faces are triangles. */
  private starts: Int32Array | null = null
  private sizes: Int32Array | null = null
  private faces: Int32Array | null = null
  private cornerCount: number

  /** Stands for the faces round a vertex that is out of reach. */
  private static readonly far: number[] = Object.freeze([]) as unknown as number[]

  /**
   * Triangles to begin with.
   * @param points x y z of each vertex
   * @param near only what lies within three rings of these triangles can be changed; everything when left out
   */
  constructor(points: ArrayLike<number>, triangles: ArrayLike<number>, near?: readonly number[]) {
    this.points = Float64Array.from(points)
    this.corners = Int32Array.from(triangles)
    this.pointCount = points.length / 3
    this.faceCount = triangles.length / 3
    this.cornerCount = triangles.length
    this.around = near ? this.zone(near) : Array.from({ length: this.pointCount }, () => [])
    if (!near) for (let i = 0; i < triangles.length; i++) this.around[triangles[i]].push((i / 3) | 0)
  }

  private zone(near: readonly number[]): number[][] {
    const mesh = { positions: this.points, triangles: this.corners } as unknown as TriMesh
    const { start, list } = vertexTriangles(mesh)
    let zone = new Set<number>()
    for (const t of near) for (let c = 0; c < 3; c++) zone.add(this.corners[3 * t + c])
    for (let ring = 0; ring < 3; ring++) {
      const wider = new Set(zone)
      for (const v of zone)
        for (let i = start[v]; i < start[v + 1]; i++)
          for (let c = 0; c < 3; c++) wider.add(this.corners[3 * list[i] + c])
      zone = wider
    }
    const around = new Array<number[]>(this.pointCount).fill(PolygonEdit.far)
    for (const v of zone) around[v] = Array.from(list.subarray(start[v], start[v + 1]))
    return around
  }

  /** Whether one of the vertices cannot be changed. */
  outOfReach(...v: number[]): boolean {
    return v.some((i) => this.around[i] === PolygonEdit.far)
  }

  startOf(f: number): number {
    return this.starts ? this.starts[f] : 3 * f
  }
  sizeOf(f: number): number {
    return this.sizes ? this.sizes[f] : 3
  }
  alive(f: number): boolean {
    return this.corners[this.startOf(f)] >= 0
  }
  /** The vertices of a face, in order. */
  loop(f: number): number[] {
    const s = this.startOf(f)
    const n = this.sizeOf(f)
    const out = new Array<number>(n)
    for (let c = 0; c < n; c++) out[c] = this.corners[s + c]
    return out
  }

  faceAt(h: number): number {
    return this.faces ? this.faces[h] : (h / 3) | 0
  }
  origin(h: number): number {
    return this.corners[h]
  }
  next(h: number): number {
    const f = this.faceAt(h),
      s = this.startOf(f)
    return h + 1 < s + this.sizeOf(f) ? h + 1 : s
  }
  prev(h: number): number {
    const f = this.faceAt(h),
      s = this.startOf(f)
    return h > s ? h - 1 : s + this.sizeOf(f) - 1
  }
  /** The half-edge of a face that runs from a to b, or -1. */
  halfOf(f: number, a: number, b: number): number {
    const s = this.startOf(f),
      n = this.sizeOf(f)
    for (let c = 0; c < n; c++)
      if (this.corners[s + c] === a && this.corners[c + 1 < n ? s + c + 1 : s] === b) return s + c
    return -1
  }
  /** The half-edge over the same edge the other way; -1 at a rim, -2 where the edge has more than two faces or two that run one way. */
  twin(h: number): number {
    const a = this.corners[h],
      b = this.corners[this.next(h)]
    let found = -1
    for (const f of this.around[b]) {
      if (f !== this.faceAt(h) && this.halfOf(f, a, b) >= 0) return -2
      const w = this.halfOf(f, b, a)
      if (w < 0) continue
      if (found >= 0) return -2
      found = w
    }
    return found
  }

  has(f: number, v: number): boolean {
    const k = this.corners
    if (!this.sizes) return k[3 * f] === v || k[3 * f + 1] === v || k[3 * f + 2] === v
    const s = this.startOf(f)
    for (let c = 0; c < this.sizeOf(f); c++) if (k[s + c] === v) return true
    return false
  }
  /** Faces that hold both vertices. */
  shared(a: number, b: number): number[] {
    return this.around[a].filter((f) => this.has(f, b))
  }
  /** The face with a half-edge from a to b, the latest of several; -1 when there is none. */
  faceFrom(a: number, b: number): number {
    const list = this.around[a]
    for (let i = list.length - 1; i >= 0; i--) if (this.halfOf(list[i], a, b) >= 0) return list[i]
    return -1
  }
  /** The corner of a triangle that is neither a nor b, or -1. */
  third(t: number, a: number, b: number): number {
    const s = this.startOf(t)
    for (let c = 0; c < 3; c++) {
      const v = this.corners[s + c]
      if (v !== a && v !== b) return v
    }
    return -1
  }
  /** Vertices that share a face with v. */
  neighbours(v: number): Set<number> {
    const out = new Set<number>()
    for (const f of this.around[v]) {
      const s = this.startOf(f)
      for (let c = 0; c < this.sizeOf(f); c++) out.add(this.corners[s + c])
    }
    out.delete(v)
    return out
  }
  /** Whether an edge at v has only one face (of triangles). */
  onRim(v: number): boolean {
    const count = new Map<number, number>()
    for (const f of this.around[v]) {
      const s = this.startOf(f)
      for (let c = 0; c < 3; c++) {
        const u = this.corners[s + c]
        if (u !== v) count.set(u, (count.get(u) ?? 0) + 1)
      }
    }
    for (const n of count.values()) if (n === 1) return true
    return false
  }

  square(a: number, b: number): number {
    const p = this.points
    return (p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2
  }
  edge(a: number, b: number): number {
    const p = this.points
    return Math.hypot(p[3 * a] - p[3 * b], p[3 * a + 1] - p[3 * b + 1], p[3 * a + 2] - p[3 * b + 2])
  }
  /** Normal of three vertices, twice their area long. */
  crossOf(a: number, b: number, c: number): [number, number, number] {
    const p = this.points
    const ux = p[3 * b] - p[3 * a],
      uy = p[3 * b + 1] - p[3 * a + 1],
      uz = p[3 * b + 2] - p[3 * a + 2]
    const vx = p[3 * c] - p[3 * a],
      vy = p[3 * c + 1] - p[3 * a + 1],
      vz = p[3 * c + 2] - p[3 * a + 2]
    return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
  }
  /** Normal of a triangle, twice its area long; as if vertex `moved` were at x y z. */
  cross(t: number, moved = -1, x = 0, y = 0, z = 0): [number, number, number] {
    const k = this.corners,
      p = this.points
    const s = this.startOf(t)
    const at = (v: number, a: number) => (v === moved ? (a === 0 ? x : a === 1 ? y : z) : p[3 * v + a])
    const a = k[s],
      b = k[s + 1],
      c = k[s + 2]
    const ux = at(b, 0) - at(a, 0),
      uy = at(b, 1) - at(a, 1),
      uz = at(b, 2) - at(a, 2)
    const vx = at(c, 0) - at(a, 0),
      vy = at(c, 1) - at(a, 1),
      vz = at(c, 2) - at(a, 2)
    return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
  }

  addPoint(x: number, y: number, z: number): number {
    const v = this.pointCount++
    if (3 * v + 3 > this.points.length) {
      const more = new Float64Array(grown(this.points.length, 3 * v + 3))
      more.set(this.points)
      this.points = more
    }
    this.points[3 * v] = x
    this.points[3 * v + 1] = y
    this.points[3 * v + 2] = z
    this.around.push([])
    return v
  }

  /** From here on faces may have any number of corners. */
  private openUp(): void {
    if (this.starts) return
    const n = this.faceCount
    this.starts = Int32Array.from({ length: n }, (_, f) => 3 * f)
    this.sizes = new Int32Array(n).fill(3)
    this.faces = Int32Array.from({ length: this.corners.length }, (_, h) => (h / 3) | 0)
  }

  /** The corners of all triangles, three each; dead ones hold -1. */
  get triangles(): Int32Array {
    return this.corners.subarray(0, this.cornerCount)
  }

  /** A new face; gives its number. */
  addFace(loop: readonly number[]): number {
    const f = this.room(loop.length)
    this.put(f, loop)
    return f
  }

  /** Room for a face of so many corners; gives its number. */
  private room(size: number): number {
    if (size !== 3) this.openUp()
    const f = this.faceCount++,
      s = this.cornerCount
    this.cornerCount += size
    if (this.cornerCount > this.corners.length) {
      const more = new Int32Array(grown(this.corners.length, this.cornerCount)).fill(-1)
      more.set(this.corners)
      this.corners = more
    }
    if (this.starts) {
      const longer = (a: Int32Array, need: number) => {
        if (need <= a.length) return a
        const more = new Int32Array(grown(a.length, need))
        more.set(a)
        return more
      }
      this.starts = longer(this.starts, f + 1)
      this.sizes = longer(this.sizes!, f + 1)
      this.faces = longer(this.faces!, this.corners.length)
      this.starts[f] = s
      this.sizes[f] = size
      this.faces.fill(f, s, s + size)
    }
    return f
  }

  /** Gives a dead face corners again, as many as it has room for. */
  put(f: number, loop: readonly number[]): void {
    const s = this.startOf(f)
    for (let c = 0; c < loop.length; c++) {
      this.corners[s + c] = loop[c]
      this.around[loop[c]].push(f)
    }
  }

  kill(f: number): void {
    const s = this.startOf(f)
    for (let c = 0; c < this.sizeOf(f); c++) {
      const list = this.around[this.corners[s + c]]
      const i = list.indexOf(f)
      if (i >= 0) list.splice(i, 1)
      this.corners[s + c] = -1
    }
  }

  /** Puts vertex b in the place of a in one face. */
  swap(f: number, a: number, b: number): void {
    const s = this.startOf(f)
    for (let c = 0; c < this.sizeOf(f); c++) if (this.corners[s + c] === a) this.corners[s + c] = b
    this.around[b].push(f)
  }

  /** How many vertices a and b have as common neighbours: as many as faces go with their edge, when the skin stays a manifold (link condition, Dey et al. 1999). */
  commonNeighbours(a: number, b: number): number {
    const nb = this.neighbours(b)
    let common = 0
    for (const v of this.neighbours(a)) if (nb.has(v)) common++
    return common
  }

  /** Pulls vertex a into b: the triangles over their edge go, the others of a come to b. */
  pull(a: number, b: number, gone: readonly number[]): void {
    for (const t of gone) this.kill(t)
    for (const t of this.around[a]) this.swap(t, a, b)
    this.around[a] = []
  }

  /** The two triangles that stand for s and t after their edge ab is turned; null when the two do not run the same way round. */
  turned(a: number, b: number, s: number, t: number, c: number, d: number): [number[], number[]] | null {
    const forward = this.halfOf(s, a, b) >= 0
    if (forward === this.halfOf(t, a, b) >= 0) return null
    // With a -> b forward in s, the two become (c a d) and (d b c); otherwise mirrored.
    return forward
      ? [
          [c, a, d],
          [d, b, c],
        ]
      : [
          [d, a, c],
          [c, b, d],
        ]
  }

  /** Splits edge ab of triangles at a new vertex m: each of its triangles keeps a, a fresh one has b. */
  splitAt(a: number, b: number, m: number): void {
    for (const t of this.shared(a, b)) {
      const fresh = this.room(3)
      const from = this.startOf(t),
        to = this.startOf(fresh)
      for (let c = 0; c < 3; c++) {
        const v = this.corners[from + c]
        this.corners[to + c] = v === a ? m : v
        if (v === b) this.corners[from + c] = m
      }
      this.around[b][this.around[b].indexOf(t)] = fresh
      this.around[this.third(t, a, m)].push(fresh)
      this.around[m].push(t, fresh)
    }
  }
}
