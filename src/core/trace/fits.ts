/** Lines, circles and ellipses nearest to runs of places, from sums that are made once for the whole row. */
import { solveDense } from '@/core/math/least-squares'
import type { Place } from '@/core/outline/drawing'

export interface FittedLine {
  readonly at: Place
  readonly way: Place
}
export interface FittedCircle {
  readonly centre: Place
  readonly radius: number
}
export interface FittedEllipse {
  readonly centre: Place
  readonly long: number
  readonly short: number
  /** Of the long way, radians. */
  readonly turn: number
}

/** Sums of powers of x and y along a row, so that any run of it is fitted at once. Runs may go past the end of a closed row. */
export class Sums {
  private readonly s: Float64Array
  private readonly mx: number
  private readonly my: number

  constructor(private readonly places: readonly Place[]) {
    const n = places.length
    // About the middle, which keeps the differences of sums exact.
    this.mx = places.reduce((s, p) => s + p[0], 0) / n
    this.my = places.reduce((s, p) => s + p[1], 0) / n
    this.s = new Float64Array(9 * (2 * n + 1))
    for (let i = 0; i < 2 * n; i++) {
      const x = places[i % n][0] - this.mx,
        y = places[i % n][1] - this.my
      const z = x * x + y * y
      const terms = [x, y, x * x, x * y, y * y, x * z, y * z, z * z, 1]
      for (let k = 0; k < 9; k++) this.s[9 * (i + 1) + k] = this.s[9 * i + k] + terms[k]
    }
  }

  /** Centred moments of places from..to: xx xy yy xz yz zz about the run's middle, then x y z of the middle and the count. */
  private readonly m = new Float64Array(10)
  private moments(from: number, to: number): Float64Array {
    const { s, m } = this
    const i = 9 * from,
      j = 9 * (to + 1)
    const n = s[j + 8] - s[i + 8]
    const x = (s[j] - s[i]) / n,
      y = (s[j + 1] - s[i + 1]) / n
    const xx = s[j + 2] - s[i + 2],
      xy = s[j + 3] - s[i + 3],
      yy = s[j + 4] - s[i + 4]
    const z = (xx + yy) / n
    m[0] = xx - n * x * x
    m[1] = xy - n * x * y
    m[2] = yy - n * y * y
    m[3] = s[j + 5] - s[i + 5] - n * x * z
    m[4] = s[j + 6] - s[i + 6] - n * y * z
    m[5] = s[j + 7] - s[i + 7] - n * z * z
    m[6] = x
    m[7] = y
    m[8] = z
    m[9] = n
    return m
  }

  /** Sum of squared distances of places from..to from the line nearest to them. */
  offLine(from: number, to: number): number {
    const m = this.moments(from, to)
    return Math.max(0, (m[0] + m[2]) / 2 - Math.hypot((m[0] - m[2]) / 2, m[1]))
  }

  /** The line nearest to places from..to. */
  line(from: number, to: number): FittedLine {
    const m = this.moments(from, to)
    const turn = 0.5 * Math.atan2(2 * m[1], m[0] - m[2])
    let way: Place = [Math.cos(turn), Math.sin(turn)]
    const p = this.places[from % this.places.length],
      q = this.places[to % this.places.length]
    if ((q[0] - p[0]) * way[0] + (q[1] - p[1]) * way[1] < 0) way = [-way[0], -way[1]]
    return { at: [this.mx + m[6], this.my + m[7]], way }
  }

  /** About the sum of squared distances of places from..to from the circle nearest to them; Infinity when they lie on a line. */
  offCircle(from: number, to: number): number {
    const m = this.moments(from, to)
    const det = m[0] * m[2] - m[1] * m[1]
    if (m[9] < 3 || !(det > 1e-14 * (m[0] + m[2]) ** 2)) return Infinity
    const a = (m[3] * m[2] - m[4] * m[1]) / det,
      b = (m[4] * m[0] - m[3] * m[1]) / det
    const square = m[8] - a * m[6] - b * m[7] + (a * a + b * b) / 4
    return square > 0 ? Math.max(0, m[5] - a * m[3] - b * m[4]) / (4 * square) : Infinity
  }

  /** The circle nearest to places from..to by Kasa's algebraic distance (1976); null when they lie on a line. */
  circle(from: number, to: number): FittedCircle | null {
    const m = this.moments(from, to)
    const det = m[0] * m[2] - m[1] * m[1]
    if (m[9] < 3 || !(det > 1e-14 * (m[0] + m[2]) ** 2)) return null
    const a = (m[3] * m[2] - m[4] * m[1]) / det,
      b = (m[4] * m[0] - m[3] * m[1]) / det
    const square = m[8] - a * m[6] - b * m[7] + (a * a + b * b) / 4
    return square > 0 ? { centre: [this.mx + a / 2, this.my + b / 2], radius: Math.sqrt(square) } : null
  }
}

/** The circle nearest by true distances, from a first guess (Gauss-Newton; Gander, Golub & Strebel 1994). */
export function geometricCircle(places: readonly Place[], first: FittedCircle): FittedCircle {
  let { centre: c, radius: r } = first
  for (let round = 0; round < 12; round++) {
    const a = [0, 1, 2].map(() => [0, 0, 0])
    const b = [0, 0, 0]
    for (const [x, y] of places) {
      const d = Math.hypot(x - c[0], y - c[1])
      if (!(d > 0)) continue
      const g = [(c[0] - x) / d, (c[1] - y) / d, -1]
      const off = d - r
      for (let i = 0; i < 3; i++) {
        b[i] -= g[i] * off
        for (let j = 0; j < 3; j++) a[i][j] += g[i] * g[j]
      }
    }
    const step = solveDense(a, b)
    if (!step?.every(Number.isFinite)) break
    c = [c[0] + step[0], c[1] + step[1]]
    r += step[2]
    if (Math.hypot(...step) < 1e-12 * r) break
  }
  return r > 0 && Number.isFinite(r) ? { centre: c, radius: r } : first
}

/** The ellipse nearest to places by algebraic distance, about their middle (conic with x² + y² weights fixed); null when it is none. */
export function fitEllipse(places: readonly Place[]): FittedEllipse | null {
  const n = places.length
  if (n < 6) return null
  const mx = places.reduce((s, p) => s + p[0], 0) / n,
    my = places.reduce((s, p) => s + p[1], 0) / n
  const size = Math.sqrt(places.reduce((s, p) => s + (p[0] - mx) ** 2 + (p[1] - my) ** 2, 0) / n) || 1
  // (x² + y²) = A (x² - y²) + B 2xy + C x + D y + E (Sampson's normalisation a + c = 1).
  const a = Array.from({ length: 5 }, () => [0, 0, 0, 0, 0])
  const b = [0, 0, 0, 0, 0]
  for (const p of places) {
    const x = (p[0] - mx) / size,
      y = (p[1] - my) / size
    const row = [x * x - y * y, 2 * x * y, x, y, 1]
    for (let i = 0; i < 5; i++) {
      b[i] += row[i] * (x * x + y * y)
      for (let j = 0; j < 5; j++) a[i][j] += row[i] * row[j]
    }
  }
  const s = solveDense(a, b)
  if (!s) return null
  const [A, B, C, D, E] = s
  // (1 - A) x² - 2B xy + (1 + A) y² - C x - D y - E = 0
  const det = (1 - A) * (1 + A) - B * B
  if (!(det > 1e-9)) return null
  const cx = (C * (1 + A) + D * B) / (2 * det),
    cy = (D * (1 - A) + C * B) / (2 * det)
  const level = E + (C * cx + D * cy) / 2
  const spread = Math.hypot(A, B)
  const [least, most] = [1 - spread, 1 + spread]
  if (!(level > 0) || !(least > 0)) return null
  return {
    centre: [mx + size * cx, my + size * cy],
    long: size * Math.sqrt(level / least),
    short: size * Math.sqrt(level / most),
    turn: 0.5 * Math.atan2(B, A),
  }
}

/** Distance of a place from an ellipse, by Newton's steps on the nearest angle. */
export function fromEllipse(e: FittedEllipse, p: Place): number {
  const [cos, sin] = [Math.cos(e.turn), Math.sin(e.turn)]
  const dx = p[0] - e.centre[0],
    dy = p[1] - e.centre[1]
  const x = Math.abs(cos * dx + sin * dy),
    y = Math.abs(-sin * dx + cos * dy)
  let a = Math.atan2(e.long * y, e.short * x)
  for (let i = 0; i < 12; i++) {
    const c = Math.cos(a),
      s = Math.sin(a)
    const f = (e.long ** 2 - e.short ** 2) * c * s - x * e.long * s + y * e.short * c
    const g = (e.long ** 2 - e.short ** 2) * (c * c - s * s) - x * e.long * c - y * e.short * s
    if (!(Math.abs(g) > 1e-300)) break
    const next = Math.max(0, Math.min(Math.PI / 2, a - f / g))
    if (Math.abs(next - a) < 1e-14) break
    a = next
  }
  // Within the evolute there are several; the ends of the quarter stand for those it may have missed.
  return Math.min(...[a, 0, Math.PI / 2].map((b) => Math.hypot(e.long * Math.cos(b) - x, e.short * Math.sin(b) - y)))
}
