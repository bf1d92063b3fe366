/** A mesh that is mended triangle by triangle: collapse and flip where the skin stays sound. */
import { PolygonEdit } from './polygon-edit'
import { keepTriangles, type TriMesh } from './tri-mesh'

export class EditMesh extends PolygonEdit {
  /** @param near only the corners within three rings of these triangles can be changed; all when left out */
  constructor(mesh: TriMesh, near?: readonly number[]) {
    super(mesh.positions, mesh.triangles, near)
  }

  /**
   * Pulls vertex a into b when the skin stays a manifold (link condition, Dey et al. 1999) and no triangle with area turns over.
   * @returns whether it was done
   */
  collapse(a: number, b: number): boolean {
    if (this.outOfReach(a, b)) return false
    const gone = this.shared(a, b)
    if (!gone.length || gone.length > 2) return false
    if (this.commonNeighbours(a, b) !== gone.length) return false
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
    const p = this.points
    for (const t of this.around[a]) {
      if (gone.includes(t)) continue
      const before = this.cross(t)
      const after = this.cross(t, a, p[3 * b], p[3 * b + 1], p[3 * b + 2])
      if (before[0] * after[0] + before[1] * after[1] + before[2] * after[2] < 0) return false
    }
    this.pull(a, b, gone)
    return true
  }

  /** How far the skin round vertex a moves when a is pulled into b: b's distance from the planes of what stays there, mm. */
  pullsBy(a: number, b: number): number {
    const p = this.points
    const way = [0, 1, 2].map((k) => p[3 * b + k] - p[3 * a + k])
    const gone = this.shared(a, b)
    let most = 0
    for (const t of this.around[a]) {
      if (gone.includes(t)) continue
      const n = this.cross(t)
      const l = Math.hypot(n[0], n[1], n[2])
      if (l > 0) most = Math.max(most, Math.abs(n[0] * way[0] + n[1] * way[1] + n[2] * way[2]) / l)
    }
    return Math.min(most, Math.hypot(way[0], way[1], way[2]))
  }

  /** Turns the edge ab of two triangles to join their other corners; refused where that edge exists already or the two do not run the same way round. */
  flip(a: number, b: number): boolean {
    const two = this.shared(a, b)
    if (two.length !== 2) return false
    const [s, t] = two
    const c = this.third(s, a, b),
      d = this.third(t, a, b)
    if (c === d || c < 0 || d < 0 || this.outOfReach(a, b, c, d) || this.shared(c, d).length) return false
    const made = this.turned(a, b, s, t, c, d)
    if (!made) return false
    this.kill(s)
    this.kill(t)
    this.put(s, made[0])
    this.put(t, made[1])
    return true
  }

  /** The changed mesh, dead triangles and unused vertices dropped, with the old number of each triangle. */
  done(): { mesh: TriMesh; triangleFrom: Uint32Array } {
    const n = this.faceCount
    const keep = new Uint8Array(n)
    const triangles = new Uint32Array(3 * n)
    for (let t = 0; t < n; t++) {
      if (!this.alive(t)) continue
      keep[t] = 1
      for (let c = 0; c < 3; c++) triangles[3 * t + c] = this.corners[3 * t + c]
    }
    return keepTriangles({ positions: Float32Array.from(this.points), triangles }, keep)
  }
}
