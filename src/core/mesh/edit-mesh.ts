/** A mesh that can be changed triangle by triangle: collapse, flip, move. Vertices keep their numbers until `done`. */
import { vertexTriangles } from './topology'
import { keepTriangles, type TriMesh } from './tri-mesh'

export class EditMesh {
  readonly positions: Float64Array
  readonly triangles: Int32Array
  /** Triangles around each vertex, in no order. */
  readonly around: number[][]

  /** @param near only the corners within three rings of these triangles can be changed; all when left out */
  constructor(mesh: TriMesh, near?: readonly number[]) {
    this.positions = Float64Array.from(mesh.positions)
    this.triangles = Int32Array.from(mesh.triangles)
    const count = mesh.positions.length / 3
    if (!near) {
      this.around = Array.from({ length: count }, () => [])
      for (let i = 0; i < this.triangles.length; i++) this.around[this.triangles[i]].push((i / 3) | 0)
      return
    }
    const { start, list } = vertexTriangles(mesh)
    let zone = new Set<number>()
    for (const t of near) for (let c = 0; c < 3; c++) zone.add(mesh.triangles[3 * t + c])
    for (let ring = 0; ring < 3; ring++) {
      const wider = new Set(zone)
      for (const v of zone)
        for (let i = start[v]; i < start[v + 1]; i++)
          for (let c = 0; c < 3; c++) wider.add(mesh.triangles[3 * list[i] + c])
      zone = wider
    }
    this.around = new Array<number[]>(count).fill(EditMesh.far)
    for (const v of zone) this.around[v] = Array.from(list.subarray(start[v], start[v + 1]))
  }

  /** Stands for the triangles around a corner that is out of reach. */
  private static readonly far: number[] = Object.freeze([]) as unknown as number[]

  private outOfReach(...v: number[]): boolean {
    return v.some((i) => this.around[i] === EditMesh.far)
  }

  alive(t: number): boolean {
    return this.triangles[3 * t] >= 0
  }

  /** Triangles that hold both vertices. */
  shared(a: number, b: number): number[] {
    return this.around[a].filter((t) => this.has(t, b))
  }

  has(t: number, v: number): boolean {
    const k = this.triangles
    return k[3 * t] === v || k[3 * t + 1] === v || k[3 * t + 2] === v
  }

  /** The corner of t that is neither a nor b. */
  third(t: number, a: number, b: number): number {
    for (let c = 0; c < 3; c++) {
      const v = this.triangles[3 * t + c]
      if (v !== a && v !== b) return v
    }
    return -1
  }

  neighbours(v: number): Set<number> {
    const out = new Set<number>()
    for (const t of this.around[v]) for (let c = 0; c < 3; c++) out.add(this.triangles[3 * t + c])
    out.delete(v)
    return out
  }

  onRim(v: number): boolean {
    const count = new Map<number, number>()
    for (const t of this.around[v])
      for (let c = 0; c < 3; c++) {
        const u = this.triangles[3 * t + c]
        if (u !== v) count.set(u, (count.get(u) ?? 0) + 1)
      }
    for (const n of count.values()) if (n === 1) return true
    return false
  }

  cross(t: number, moved = -1, x = 0, y = 0, z = 0): [number, number, number] {
    const k = this.triangles,
      p = this.positions
    const at = (v: number, a: number) => (v === moved ? (a === 0 ? x : a === 1 ? y : z) : p[3 * v + a])
    const a = k[3 * t],
      b = k[3 * t + 1],
      c = k[3 * t + 2]
    const ux = at(b, 0) - at(a, 0),
      uy = at(b, 1) - at(a, 1),
      uz = at(b, 2) - at(a, 2)
    const vx = at(c, 0) - at(a, 0),
      vy = at(c, 1) - at(a, 1),
      vz = at(c, 2) - at(a, 2)
    return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
  }

  edge(a: number, b: number): number {
    const p = this.positions
    return Math.hypot(p[3 * a] - p[3 * b], p[3 * a + 1] - p[3 * b + 1], p[3 * a + 2] - p[3 * b + 2])
  }

  kill(t: number): void {
    for (let c = 0; c < 3; c++) {
      const list = this.around[this.triangles[3 * t + c]]
      const i = list.indexOf(t)
      if (i >= 0) list.splice(i, 1)
      this.triangles[3 * t + c] = -1
    }
  }

  /**
   * Pulls vertex a into b when the skin stays a manifold (link condition, Dey et al. 1999) and no triangle with area turns over.
   * @returns whether it was done
   */
  collapse(a: number, b: number): boolean {
    if (this.outOfReach(a, b)) return false
    const gone = this.shared(a, b)
    if (!gone.length || gone.length > 2) return false
    const na = this.neighbours(a),
      nb = this.neighbours(b)
    let common = 0
    for (const v of na) if (nb.has(v)) common++
    if (common !== gone.length) return false
    if (gone.length === 2 && this.onRim(a) && this.onRim(b)) return false
    if (gone.length === 2) {
      const c = this.third(gone[0], a, b),
        d = this.third(gone[1], a, b)
      if (c === d) return false
      // Where a and b both have a triangle over c and d, the two would come to lie on each other.
      const over = (v: number) => this.around[v].some((t) => this.has(t, c) && this.has(t, d))
      if (over(a) && over(b)) return false
    }
    if (this.onRim(a) && !this.onRim(b)) return false
    const p = this.positions
    for (const t of this.around[a]) {
      if (gone.includes(t)) continue
      const before = this.cross(t)
      const after = this.cross(t, a, p[3 * b], p[3 * b + 1], p[3 * b + 2])
      if (before[0] * after[0] + before[1] * after[1] + before[2] * after[2] < 0) return false
    }
    for (const t of gone) this.kill(t)
    for (const t of this.around[a]) {
      for (let c = 0; c < 3; c++) if (this.triangles[3 * t + c] === a) this.triangles[3 * t + c] = b
      this.around[b].push(t)
    }
    this.around[a] = []
    return true
  }

  /** Turns the edge ab of two triangles to join their other corners; refused where that edge exists already or the two do not run the same way round. */
  flip(a: number, b: number): boolean {
    const two = this.shared(a, b)
    if (two.length !== 2) return false
    const [s, t] = two
    const c = this.third(s, a, b),
      d = this.third(t, a, b)
    if (c === d || c < 0 || d < 0 || this.outOfReach(a, b, c, d) || this.shared(c, d).length) return false
    const k = this.triangles
    const ia = [0, 1, 2].find((i) => k[3 * s + i] === a)!
    const forward = k[3 * s + ((ia + 1) % 3)] === b
    const ja = [0, 1, 2].find((i) => k[3 * t + i] === a)!
    if (forward === (k[3 * t + ((ja + 1) % 3)] === b)) return false
    this.kill(s)
    this.kill(t)
    // With a -> b forward in s, the two become (c a d) and (d b c); otherwise mirrored.
    const first = forward ? [c, a, d] : [d, a, c],
      second = forward ? [d, b, c] : [c, b, d]
    this.revive(s, first)
    this.revive(t, second)
    return true
  }

  private revive(t: number, v: number[]): void {
    for (let c = 0; c < 3; c++) {
      this.triangles[3 * t + c] = v[c]
      this.around[v[c]].push(t)
    }
  }

  /** The changed mesh, dead triangles and unused vertices dropped, with the old number of each triangle. */
  done(): { mesh: TriMesh; triangleFrom: Uint32Array } {
    const n = this.triangles.length / 3
    const keep = new Uint8Array(n)
    const triangles = new Uint32Array(3 * n)
    for (let t = 0; t < n; t++) {
      if (!this.alive(t)) continue
      keep[t] = 1
      for (let c = 0; c < 3; c++) triangles[3 * t + c] = this.triangles[3 * t + c]
    }
    return keepTriangles({ positions: Float32Array.from(this.positions), triangles }, keep)
  }
}
