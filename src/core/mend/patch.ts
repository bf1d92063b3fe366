/** A patch that fills a hole: refined to the edge length round its rim, then faired (Liepa 2003). */
import { conjugateGradient } from '@/core/math/conjugate-gradient'
import { PolygonEdit } from '@/core/mesh/polygon-edit'

/** Triangles over a list of points; the first `rim` points are fixed and belong to the mesh around. */
export class Patch extends PolygonEdit {
  constructor(
    rimPoints: ArrayLike<number>,
    readonly rim: number,
    /** The triangles it began with, between corners of the rim. */
    readonly start: readonly number[],
    private readonly taken: (a: number, b: number) => boolean,
  ) {
    super(rimPoints, start)
  }

  private area(): number {
    let s = 0
    for (let t = 0; t < this.faceCount; t++) s += Math.hypot(...this.cross(t)) / 2
    return s
  }

  /** Cosine of the angle at c over the edge ab. */
  private cosine(c: number, a: number, b: number): number {
    const p = this.points
    const ux = p[3 * a] - p[3 * c],
      uy = p[3 * a + 1] - p[3 * c + 1],
      uz = p[3 * a + 2] - p[3 * c + 2]
    const vx = p[3 * b] - p[3 * c],
      vy = p[3 * b + 1] - p[3 * c + 1],
      vz = p[3 * b + 2] - p[3 * c + 2]
    const l = Math.hypot(ux, uy, uz) * Math.hypot(vx, vy, vz)
    return l > 0 ? (ux * vx + uy * vy + uz * vz) / l : 1
  }

  /** Flips inner edges whose opposite angles add to over 180 degrees, until none is left or `passes` is used up. */
  relax(passes = 12): number {
    let all = 0
    for (let pass = 0; pass < passes; pass++) {
      let flips = 0
      for (let t = 0; t < this.faceCount; t++) {
        for (let c = 0; c < 3; c++) {
          const a = this.corners[3 * t + c],
            b = this.corners[3 * t + ((c + 1) % 3)]
          const u = this.faceFrom(b, a)
          if (u < 0 || u === t) continue
          const x = this.third(t, a, b),
            y = this.third(u, a, b)
          if (x < 0 || y < 0 || x === y) continue
          // Two angles add to over 180 degrees exactly when their cosines add to less than zero.
          if (this.cosine(x, a, b) + this.cosine(y, a, b) >= -1e-6) continue
          if (this.shared(x, y).length || this.taken(x, y)) continue
          const before = this.crossOf(a, b, x),
            n1 = this.crossOf(x, a, y),
            n2 = this.crossOf(y, b, x)
          if (
            before[0] * n1[0] + before[1] * n1[1] + before[2] * n1[2] <= 0 ||
            before[0] * n2[0] + before[1] * n2[1] + before[2] * n2[2] <= 0
          )
            continue
          this.kill(t)
          this.kill(u)
          this.put(t, [x, a, y])
          this.put(u, [y, b, x])
          flips++
          break
        }
      }
      all += flips
      if (!flips) break
    }
    return all
  }

  /**
   * Splits triangles at their middle until edges match the length wanted at each corner (Pfeifle & Seidel 1996; density factor sqrt 2).
   * `after` runs after each round: fairing coarse patches first leaves little to do on the fine one.
   */
  refine(
    wanted: readonly number[],
    { most = 12000, after = () => {} }: { most?: number; after?: () => void } = {},
  ): void {
    const sigma = [...wanted]
    // A wide hole with a fine rim gets coarser towards its middle, or it would drown in triangles.
    const expected = this.area() / (0.87 * (wanted.reduce((s, v) => s + v, 0) / wanted.length) ** 2)
    const grade = expected > 3 * most ? 1.5 : expected > most / 2 ? 1.25 : 1
    for (let round = 0; round < 40; round++) {
      let split = 0
      const count = this.faceCount
      for (let t = 0; t < count; t++) {
        const [a, b, c] = this.loop(t)
        const p = this.points
        const m = [0, 1, 2].map((k) => (p[3 * a + k] + p[3 * b + k] + p[3 * c + k]) / 3)
        const s = (grade * (sigma[a] + sigma[b] + sigma[c])) / 3
        const enough = [a, b, c].some((v) => {
          const d = Math.SQRT2 * Math.hypot(m[0] - p[3 * v], m[1] - p[3 * v + 1], m[2] - p[3 * v + 2])
          return d <= s || d <= sigma[v]
        })
        if (enough) continue
        if (this.pointCount >= most) return
        const v = this.addPoint(m[0], m[1], m[2])
        sigma.push(s)
        this.kill(t)
        this.put(t, [a, b, v])
        this.addFace([b, c, v])
        this.addFace([c, a, v])
        split++
      }
      this.relax(4)
      if (!split) break
      after()
    }
    this.relax(20)
  }

  /**
   * Fairs the inner points: least bending, the squared Laplacian over inner and rim points with weights by inverse edge length
   * (Liepa 2003; the rim's Laplacian brings in one ring of the mesh around, so the patch leaves it tangent).
   * @param outer for each rim point its neighbours in the mesh around, as x y z
   * @param iterations of the conjugate gradients, at most
   */
  fair(outer: readonly (readonly number[])[], iterations: number): void {
    const total = this.pointCount
    const inner = total - this.rim
    if (inner < 1) return
    const { start, list, weight, fixed } = this.laplacian(outer)
    // One system for x, y and z at once: values interleaved, one walk over the neighbours an application.
    const mid = new Float64Array(3 * total)
    const laplace = (x: Float64Array) => {
      for (let v = 0; v < total; v++) {
        let a = 0,
          b = 0,
          c = 0
        for (let i = start[v]; i < start[v + 1]; i++) {
          const u = 3 * (list[i] - this.rim)
          if (u < 0) continue
          a += weight[i] * x[u]
          b += weight[i] * x[u + 1]
          c += weight[i] * x[u + 2]
        }
        const o = 3 * (v - this.rim)
        if (o >= 0) {
          a -= x[o]
          b -= x[o + 1]
          c -= x[o + 2]
        }
        mid[3 * v] = a
        mid[3 * v + 1] = b
        mid[3 * v + 2] = c
      }
    }
    const transpose = (y: Float64Array, out: Float64Array) => {
      out.fill(0)
      for (let v = 0; v < total; v++) {
        for (let i = start[v]; i < start[v + 1]; i++) {
          const u = 3 * (list[i] - this.rim)
          if (u < 0) continue
          out[u] += weight[i] * y[3 * v]
          out[u + 1] += weight[i] * y[3 * v + 1]
          out[u + 2] += weight[i] * y[3 * v + 2]
        }
        const o = 3 * (v - this.rim)
        if (o >= 0) for (let k = 0; k < 3; k++) out[o + k] -= y[3 * v + k]
      }
    }
    const diagonal = new Float64Array(3 * inner).fill(1)
    for (let i = 0; i < list.length; i++)
      if (list[i] >= this.rim) for (let k = 0; k < 3; k++) diagonal[3 * (list[i] - this.rim) + k] += weight[i] ** 2
    const right = new Float64Array(3 * inner)
    transpose(fixed, right)
    for (let i = 0; i < right.length; i++) right[i] = -right[i]
    const begin = this.points.slice(3 * this.rim, 3 * this.pointCount)
    const x = conjugateGradient(
      3 * inner,
      (v, out) => {
        laplace(v)
        transpose(mid, out)
      },
      diagonal,
      right,
      begin,
      { tolerance: 1e-6, iterations },
    )
    for (let i = 0; i < x.length; i++) this.points[3 * this.rim + i] = x[i]
  }

  /** Neighbours with weights that add to one (compressed rows), and what fixed points add to each Laplacian. */
  private laplacian(outer: readonly (readonly number[])[]): {
    start: Uint32Array
    list: Uint32Array
    weight: Float64Array
    fixed: Float64Array
  } {
    const total = this.pointCount
    const p = this.points
    const sets: number[][] = Array.from({ length: total }, () => [])
    for (let t = 0; t < this.faceCount; t++)
      for (let c = 0; c < 3; c++) {
        const a = this.corners[3 * t + c],
          b = this.corners[3 * t + ((c + 1) % 3)]
        if (!sets[a].includes(b)) sets[a].push(b)
        if (!sets[b].includes(a)) sets[b].push(a)
      }
    const start = new Uint32Array(total + 1)
    sets.forEach((s, v) => {
      start[v + 1] = start[v] + s.length
    })
    const list = new Uint32Array(start[total]),
      weight = new Float64Array(start[total]),
      fixed = new Float64Array(3 * total)
    for (let v = 0; v < total; v++) {
      const around = v < this.rim ? outer[v] : []
      let sum = 0
      const far: number[] = []
      sets[v].forEach((u, i) => {
        list[start[v] + i] = u
        sum += weight[start[v] + i] = 1 / Math.max(this.edge(u, v), 1e-9)
      })
      for (let i = 0; i < around.length; i += 3) {
        const w =
          1 /
          Math.max(Math.hypot(around[i] - p[3 * v], around[i + 1] - p[3 * v + 1], around[i + 2] - p[3 * v + 2]), 1e-9)
        far.push(w)
        sum += w
      }
      for (let i = start[v]; i < start[v + 1]; i++) {
        weight[i] /= sum
        if (list[i] < this.rim) for (let k = 0; k < 3; k++) fixed[3 * v + k] += weight[i] * p[3 * list[i] + k]
      }
      for (let k = 0; k < 3; k++) {
        far.forEach((w, i) => {
          fixed[3 * v + k] += (w / sum) * around[3 * i + k]
        })
        if (v < this.rim) fixed[3 * v + k] -= p[3 * v + k]
      }
    }
    return { start, list, weight, fixed }
  }
}
