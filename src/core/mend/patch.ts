/** A patch that fills a hole: refined to the edge length round its rim, then faired (Liepa 2003). */
import { conjugateGradient } from '@/core/math/conjugate-gradient'

const key = (a: number, b: number) => a * 67108864 + b

/** Triangles over a list of points; the first `rim` points are fixed and belong to the mesh around. */
export class Patch {
  readonly points: number[]
  readonly triangles: number[] = []
  private readonly edge = new Map<number, number>()

  constructor(rimPoints: ArrayLike<number>, readonly rim: number, triangles: readonly number[], private readonly taken: (a: number, b: number) => boolean) {
    this.points = Array.from(rimPoints)
    for (let i = 0; i < triangles.length; i += 3) this.put(this.triangles.length / 3, triangles[i], triangles[i + 1], triangles[i + 2])
  }

  private put(t: number, a: number, b: number, c: number): void {
    this.triangles[3 * t] = a
    this.triangles[3 * t + 1] = b
    this.triangles[3 * t + 2] = c
    this.edge.set(key(a, b), t)
    this.edge.set(key(b, c), t)
    this.edge.set(key(c, a), t)
  }

  private drop(t: number): void {
    const [a, b, c] = [this.triangles[3 * t], this.triangles[3 * t + 1], this.triangles[3 * t + 2]]
    for (const k of [key(a, b), key(b, c), key(c, a)]) if (this.edge.get(k) === t) this.edge.delete(k)
  }

  private gap(a: number, b: number): number {
    const p = this.points
    return Math.hypot(p[3 * a] - p[3 * b], p[3 * a + 1] - p[3 * b + 1], p[3 * a + 2] - p[3 * b + 2])
  }

  private opposite(t: number, a: number, b: number): number {
    for (let c = 0; c < 3; c++) {
      const v = this.triangles[3 * t + c]
      if (v !== a && v !== b) return v
    }
    return -1
  }

  /** Cosine of the angle at c over the edge ab. */
  private cosine(c: number, a: number, b: number): number {
    const p = this.points
    const ux = p[3 * a] - p[3 * c], uy = p[3 * a + 1] - p[3 * c + 1], uz = p[3 * a + 2] - p[3 * c + 2]
    const vx = p[3 * b] - p[3 * c], vy = p[3 * b + 1] - p[3 * c + 1], vz = p[3 * b + 2] - p[3 * c + 2]
    const l = Math.hypot(ux, uy, uz) * Math.hypot(vx, vy, vz)
    return l > 0 ? (ux * vx + uy * vy + uz * vz) / l : 1
  }

  private normal(a: number, b: number, c: number): [number, number, number] {
    const p = this.points
    const ux = p[3 * b] - p[3 * a], uy = p[3 * b + 1] - p[3 * a + 1], uz = p[3 * b + 2] - p[3 * a + 2]
    const vx = p[3 * c] - p[3 * a], vy = p[3 * c + 1] - p[3 * a + 1], vz = p[3 * c + 2] - p[3 * a + 2]
    return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
  }

  /** Flips inner edges whose opposite angles add to over 180 degrees, until none is left or `passes` is used up. */
  relax(passes = 12): number {
    let all = 0
    for (let pass = 0; pass < passes; pass++) {
      let flips = 0
      for (let t = 0; 3 * t < this.triangles.length; t++) {
        for (let c = 0; c < 3; c++) {
          const a = this.triangles[3 * t + c], b = this.triangles[3 * t + ((c + 1) % 3)]
          const u = this.edge.get(key(b, a))
          if (u === undefined || u === t) continue
          const x = this.opposite(t, a, b), y = this.opposite(u, a, b)
          if (x < 0 || y < 0 || x === y) continue
          const ca = this.cosine(x, a, b), cb = this.cosine(y, a, b)
          // The angles add to over 180 degrees when the sine of the sum is negative.
          const sum = Math.acos(Math.max(-1, Math.min(1, ca))) + Math.acos(Math.max(-1, Math.min(1, cb)))
          if (sum <= Math.PI + 1e-6) continue
          if (this.edge.has(key(x, y)) || this.edge.has(key(y, x)) || this.taken(x, y)) continue
          const before = this.normal(a, b, x), n1 = this.normal(x, a, y), n2 = this.normal(y, b, x)
          if (before[0] * n1[0] + before[1] * n1[1] + before[2] * n1[2] <= 0 || before[0] * n2[0] + before[1] * n2[1] + before[2] * n2[2] <= 0) continue
          this.drop(t)
          this.drop(u)
          this.put(t, x, a, y)
          this.put(u, y, b, x)
          flips++
          break
        }
      }
      all += flips
      if (!flips) break
    }
    return all
  }

  /** Splits triangles at their middle until edges match the length wanted at each corner (Pfeifle & Seidel 1996; density factor sqrt 2). */
  refine(wanted: readonly number[], most = 60000): void {
    const sigma = [...wanted]
    for (let round = 0; round < 40; round++) {
      let split = 0
      const count = this.triangles.length / 3
      for (let t = 0; t < count; t++) {
        const [a, b, c] = [this.triangles[3 * t], this.triangles[3 * t + 1], this.triangles[3 * t + 2]]
        const p = this.points
        const m = [0, 1, 2].map((k) => (p[3 * a + k] + p[3 * b + k] + p[3 * c + k]) / 3)
        const s = (sigma[a] + sigma[b] + sigma[c]) / 3
        const enough = [a, b, c].some((v) => {
          const d = Math.SQRT2 * Math.hypot(m[0] - p[3 * v], m[1] - p[3 * v + 1], m[2] - p[3 * v + 2])
          return d <= s || d <= sigma[v]
        })
        if (enough) continue
        if (this.points.length / 3 >= most) return
        const v = this.points.length / 3
        this.points.push(m[0], m[1], m[2])
        sigma.push(s)
        this.drop(t)
        this.put(t, a, b, v)
        this.put(this.triangles.length / 3, b, c, v)
        this.put(this.triangles.length / 3, c, a, v)
        split++
      }
      this.relax(4)
      if (!split) break
    }
    this.relax(20)
  }

  /**
   * Fairs the inner points: least bending, the squared Laplacian over inner and rim points with weights by inverse edge length
   * (Liepa 2003; the rim's Laplacian brings in one ring of the mesh around, so the patch leaves it tangent).
   * @param outer for each rim point its neighbours in the mesh around, as x y z
   */
  fair(outer: readonly (readonly number[])[]): void {
    const total = this.points.length / 3
    const inner = total - this.rim
    if (inner < 1) return
    const neighbours: Set<number>[] = Array.from({ length: total }, () => new Set())
    for (let i = 0; i < this.triangles.length; i += 3) {
      for (let c = 0; c < 3; c++) {
        const a = this.triangles[i + c], b = this.triangles[i + ((c + 1) % 3)]
        neighbours[a].add(b)
        neighbours[b].add(a)
      }
    }
    for (let round = 0; round < 2; round++) {
      const weights = neighbours.map((set, v) => Array.from(set, (u) => 1 / Math.max(this.gap(u, v), 1e-9)))
      const lists = neighbours.map((set) => Array.from(set))
      const outerWeights = outer.map((list, v) => {
        const w: number[] = []
        for (let i = 0; i < list.length; i += 3) w.push(1 / Math.max(Math.hypot(list[i] - this.points[3 * v], list[i + 1] - this.points[3 * v + 1], list[i + 2] - this.points[3 * v + 2]), 1e-9))
        return w
      })
      const sums = weights.map((w, v) => w.reduce((s, x) => s + x, 0) + (v < this.rim ? outerWeights[v].reduce((s, x) => s + x, 0) : 0))
      const laplace = (x: Float64Array, fixed: Float64Array, out: Float64Array) => {
        // x: inner values; fixed: contribution of what does not move, per point.
        for (let v = 0; v < total; v++) {
          let s = fixed[v]
          const list = lists[v], w = weights[v]
          for (let i = 0; i < list.length; i++) if (list[i] >= this.rim) s += (w[i] / sums[v]) * x[list[i] - this.rim]
          if (v >= this.rim) s -= x[v - this.rim]
          out[v] = s
        }
      }
      const transpose = (y: Float64Array, out: Float64Array) => {
        out.fill(0)
        for (let v = 0; v < total; v++) {
          const list = lists[v], w = weights[v]
          for (let i = 0; i < list.length; i++) if (list[i] >= this.rim) out[list[i] - this.rim] += (w[i] / sums[v]) * y[v]
          if (v >= this.rim) out[v - this.rim] -= y[v]
        }
      }
      const none = new Float64Array(total), mid = new Float64Array(total)
      const apply = (v: Float64Array, out: Float64Array) => {
        laplace(v, none, mid)
        transpose(mid, out)
      }
      const diagonal = new Float64Array(inner).fill(1)
      for (let v = 0; v < total; v++) lists[v].forEach((u, i) => { if (u >= this.rim) diagonal[u - this.rim] += (weights[v][i] / sums[v]) ** 2 })
      for (let axis = 0; axis < 3; axis++) {
        const fixed = new Float64Array(total)
        for (let v = 0; v < total; v++) {
          lists[v].forEach((u, i) => { if (u < this.rim) fixed[v] += (weights[v][i] / sums[v]) * this.points[3 * u + axis] })
          if (v < this.rim) {
            outerWeights[v].forEach((w, i) => { fixed[v] += (w / sums[v]) * outer[v][3 * i + axis] })
            fixed[v] -= this.points[3 * v + axis]
          }
        }
        const b = new Float64Array(inner)
        transpose(fixed, b)
        for (let i = 0; i < inner; i++) b[i] = -b[i]
        const start = Float64Array.from({ length: inner }, (_, i) => this.points[3 * (this.rim + i) + axis])
        const x = conjugateGradient(inner, apply, diagonal, b, start, { tolerance: 1e-7, iterations: Math.min(2000, 6 * inner + 60) })
        for (let i = 0; i < inner; i++) this.points[3 * (this.rim + i) + axis] = x[i]
      }
      if (round === 0 && !this.relax(6)) break
      if (round === 0) {
        neighbours.forEach((s) => s.clear())
        for (let i = 0; i < this.triangles.length; i += 3) for (let c = 0; c < 3; c++) {
          const a = this.triangles[i + c], b = this.triangles[i + ((c + 1) % 3)]
          neighbours[a].add(b)
          neighbours[b].add(a)
        }
      }
    }
  }
}
