/** A B-spline surface of any degree, rational or not, evaluated with its first derivatives. */
import { raiseBasis } from './spline-basis'

export interface SplineNet {
  readonly degree: readonly [number, number]
  /** Knots, each as often as it counts: as many as poles, the degree and one. */
  readonly knots: readonly [Float64Array, Float64Array]
  /** Poles in space times their weight, and the weight: x y z w, those of the second parameter next to each other. */
  readonly poles: Float64Array
}

/** Basis functions of one parameter, and their slopes, at the place they were last asked for. */
class Basis {
  first = 0
  readonly value: Float64Array
  readonly slope: Float64Array
  private last = NaN
  private span: number
  constructor(
    private readonly degree: number,
    private readonly knots: Float64Array,
  ) {
    this.value = new Float64Array(degree + 1)
    this.slope = new Float64Array(degree + 1)
    this.span = degree
  }

  private findSpan(t: number): void {
    const { knots, degree } = this
    const most = knots.length - degree - 2
    let k = this.span
    while (k < most && t >= knots[k + 1]) k++
    while (k > degree && t < knots[k]) k--
    // A span without length at the end is none.
    while (k > degree && knots[k + 1] === knots[k]) k--
    this.span = k
  }

  at(t: number): void {
    if (t === this.last) return
    this.last = t
    this.findSpan(t)
    const { degree: p, knots, value: n, slope, span } = this
    this.first = span - p
    n[0] = 1
    for (let j = 1; j <= p; j++) {
      if (j === p) this.slopes(n, slope)
      raiseBasis(n, j, knots, span, t)
    }
  }

  /** Slopes, from the functions of one degree less (Piegl and Tiller, 2.3). */
  private slopes(lower: Float64Array, slope: Float64Array): void {
    const { degree: p, knots, span } = this
    for (let r = 0; r <= p; r++) {
      const i = span - p + r
      const before = r > 0 ? lower[r - 1] / (knots[i + p] - knots[i]) : 0
      const after = r < p ? lower[r] / (knots[i + p + 1] - knots[i + 1]) : 0
      slope[r] = p * (before - after)
    }
  }
}

export class SplineSurface {
  private readonly u: Basis
  private readonly v: Basis
  private readonly across: number
  private readonly sum = new Float64Array(12)
  constructor(private readonly net: SplineNet) {
    this.u = new Basis(net.degree[0], net.knots[0])
    this.v = new Basis(net.degree[1], net.knots[1])
    this.across = net.knots[1].length - net.degree[1] - 1
  }

  /** Place and its slopes along both parameters into `out`: x y z, x y z by u, x y z by v. Beyond its ends the last spans go on. */
  at(u: number, v: number, out: Float64Array): void {
    const { sum, across } = this
    const { poles, degree } = this.net
    this.u.at(u)
    this.v.at(v)
    sum.fill(0)
    for (let i = 0; i <= degree[0]; i++) {
      const [a, da] = [this.u.value[i], this.u.slope[i]]
      const row = 4 * ((this.u.first + i) * across + this.v.first)
      for (let j = 0; j <= degree[1]; j++) {
        const [b, db] = [this.v.value[j], this.v.slope[j]]
        const [w, wu, wv] = [a * b, da * b, a * db]
        for (let k = 0; k < 4; k++) {
          const p = poles[row + 4 * j + k]
          sum[k] += w * p
          sum[4 + k] += wu * p
          sum[8 + k] += wv * p
        }
      }
    }
    const w = sum[3]
    for (let k = 0; k < 3; k++) {
      const p = sum[k] / w
      out[k] = p
      // The quotient's rule (the same book, 4.20).
      out[3 + k] = (sum[4 + k] - sum[7] * p) / w
      out[6 + k] = (sum[8 + k] - sum[11] * p) / w
    }
  }
}
