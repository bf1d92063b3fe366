/** The skin while its edges are collapsed: places and triangles as they are now, what is fixed, and the lines that are kept. */
import { buildTopology, nextIn } from '@/core/mesh/topology'
import { compact, triangleCount, vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossInto } from '@/core/mesh/triangle'

export interface CollapseAim {
  readonly triangles: number
  /** 1 for vertices that stay where they are. */
  readonly locked?: Uint8Array
  /** Rims stay as they are; else they are simplified along themselves. */
  readonly lockRims: boolean
  /** Edges that bend by more than this are kept as lines, degrees. */
  readonly keepEdges?: number
}

export class CollapsingSkin {
  /** Places of the vertices, three numbers each. */
  readonly places: Float64Array
  /** Vertices of the triangles, three each; those of dead triangles mean nothing. */
  readonly corners: Int32Array
  /** Triangles round each vertex; none round one that is gone. */
  readonly around: number[][]
  /** 1 for vertices that stay where they are. */
  readonly fixed: Uint8Array
  /** 1 for vertices on an open rim, or on an edge of several triangles. */
  readonly rim: Uint8Array
  /** How often each vertex was moved: what was priced before is out of date. */
  readonly stamps: Int32Array
  /** Triangles that are left. */
  alive: number
  /** Of the first skin: the half-edge beyond each, negative where there is none or are several. */
  readonly twin: Int32Array
  private readonly dead: Uint8Array
  /** Neighbours along lines that are kept: rims, and edges that bend. */
  private readonly lines = new Map<number, number[]>()

  constructor(mesh: TriMesh, { locked, lockRims, keepEdges }: CollapseAim) {
    const vertices = vertexCount(mesh)
    this.places = Float64Array.from(mesh.positions)
    this.corners = Int32Array.from(mesh.triangles)
    this.alive = triangleCount(mesh)
    this.dead = new Uint8Array(this.alive)
    this.stamps = new Int32Array(vertices)
    this.rim = new Uint8Array(vertices)
    this.fixed = new Uint8Array(vertices)
    if (locked) this.fixed.set(locked)
    this.around = Array.from({ length: vertices }, () => [])
    for (let i = 0; i < this.corners.length; i++) this.around[this.corners[i]].push((i / 3) | 0)
    this.twin = buildTopology(mesh).twin
    this.findLines(vertices, lockRims, keepEdges === undefined ? -2 : Math.cos((keepEdges * Math.PI) / 180))
  }

  /** Vertices that a line leads to from v. */
  linesAt(v: number): readonly number[] {
    return this.lines.get(v) ?? []
  }

  /** Whether triangle t has the vertex v. */
  has(t: number, v: number): boolean {
    const { corners } = this
    return corners[3 * t] === v || corners[3 * t + 1] === v || corners[3 * t + 2] === v
  }

  sharesTriangle(a: number, b: number): boolean {
    for (const t of this.around[a]) if (this.has(t, b)) return true
    return false
  }

  /** Makes `keep` and `gone` one vertex at a place. */
  merge(keep: number, gone: number, at: Float64Array): void {
    this.mergeTriangles(keep, gone)
    this.places.set(at, 3 * keep)
    if (this.rim[gone]) this.rim[keep] = 1
    this.mergeLines(keep, gone)
    this.stamps[keep]++
  }

  /** Vertices of the triangles round v, itself among them. */
  ring(v: number): Set<number> {
    const ring = new Set<number>()
    for (const t of this.around[v]) for (let c = 0; c < 3; c++) ring.add(this.corners[3 * t + c])
    return ring
  }

  /** What is left, without vertices that nothing uses. */
  mesh(): TriMesh {
    const triangles = new Uint32Array(3 * this.alive)
    let o = 0
    for (let t = 0; t < this.dead.length; t++)
      if (!this.dead[t]) for (let c = 0; c < 3; c++) triangles[o++] = this.corners[3 * t + c]
    return compact({ positions: Float32Array.from(this.places), triangles })
  }

  private findLines(vertices: number, lockRims: boolean, cosine: number): void {
    const { corners, twin, fixed, rim, places } = this
    const keys = new Set<number>()
    const n = new Float64Array(3),
      m = new Float64Array(3)
    for (let h = 0; h < twin.length; h++) {
      const beyond = twin[h]
      const a = corners[h],
        b = corners[nextIn(h)]
      const key = a < b ? a * vertices + b : b * vertices + a
      if (beyond < 0) {
        // Rims, and edges of several triangles, which no collapse may touch.
        if (beyond === -2 || lockRims) fixed[a] = fixed[b] = 1
        rim[a] = rim[b] = 1
        keys.add(key)
        continue
      }
      if (beyond < h || cosine < -1) continue
      const l = crossInto(places, corners, (h / 3) | 0, n) * crossInto(places, corners, (beyond / 3) | 0, m)
      if (l > 0 && (n[0] * m[0] + n[1] * m[1] + n[2] * m[2]) / l < cosine) keys.add(key)
    }
    for (const key of keys) {
      const a = Math.floor(key / vertices),
        b = key % vertices
      this.lineList(a).push(b)
      this.lineList(b).push(a)
    }
  }

  private lineList(v: number): number[] {
    let list = this.lines.get(v)
    if (!list) this.lines.set(v, (list = []))
    return list
  }

  private mergeTriangles(keep: number, gone: number): void {
    const { corners, around, dead } = this
    const left: number[] = []
    for (const t of around[keep]) {
      if (this.has(t, gone)) {
        dead[t] = 1
        this.alive--
      } else left.push(t)
    }
    for (const t of around[gone]) {
      if (dead[t]) {
        for (let c = 0; c < 3; c++) {
          const v = corners[3 * t + c]
          if (v !== keep && v !== gone) takeOut(around[v], t)
        }
        continue
      }
      for (let c = 0; c < 3; c++) if (corners[3 * t + c] === gone) corners[3 * t + c] = keep
      left.push(t)
    }
    around[keep] = left
    around[gone] = []
  }

  private mergeLines(keep: number, gone: number): void {
    const ways = new Set([...this.linesAt(keep), ...this.linesAt(gone)])
    ways.delete(keep)
    ways.delete(gone)
    if (ways.size) {
      for (const u of this.linesAt(gone)) {
        const list = this.lineList(u)
        takeOut(list, gone)
        if (u !== keep && !list.includes(keep)) list.push(keep)
      }
      this.lines.set(keep, [...ways])
    } else this.lines.delete(keep)
    this.lines.delete(gone)
  }
}

function takeOut(list: number[], value: number): void {
  const at = list.indexOf(value)
  if (at >= 0) list.splice(at, 1)
}
