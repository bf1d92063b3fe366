/** The words in which laws of a drawing are written: places, ways, radii and distances as formulas of its numbers. */
import { DisjointSets } from '@/core/math/disjoint-sets'
import { endsOf, pointsOf, type Curve, type Drawing, type Place } from '../drawing'
import { by, over, variable, type Dual } from '../dual'
import { extentOf } from '../extent'
import { numbersOf, numbersOfCurve, unknownsOf, type Unknowns } from '../unknowns'
import { cross, size, sub, type Formula, type Get, type Pair } from './formula'

export type Centred = Extract<Curve, { centre: number }>
export const isRound = (c: Curve): boolean => c.kind === 'circle' || c.kind === 'arc'
export const isCentred = (c: Curve): c is Centred => 'centre' in c

/** A law that can only be measured on a drawing. */
export interface Measured {
  /** Numbers it speaks of. */
  readonly numbers: readonly number[]
  measure(d: Drawing): number
}

/** Signs and senses are those of the drawing as it stands. */
export class Terms {
  readonly unknowns: Unknowns
  /** The drawing's numbers as it stands. */
  readonly numbers: Float64Array
  /** Angles count as the way that they move something a quarter of the drawing away. */
  readonly reach: number
  /** Points that are one by constraint. */
  private readonly same: DisjointSets

  constructor(readonly drawing: Drawing) {
    this.unknowns = unknownsOf(drawing)
    this.numbers = numbersOf(drawing, this.unknowns)
    this.reach = extentOf(drawing) / 4
    this.same = new DisjointSets(drawing.points.length)
    for (const c of drawing.constraints ?? [])
      if (c.kind === 'coincident') for (const p of c.points) this.same.unite(p, c.points[0])
  }

  /** A number as it stands. */
  readonly standing: Get = (number) => variable(this.numbers[number], -1, 0)

  /** Value of a formula as the drawing stands. */
  now(f: Formula): number {
    return f(this.standing).v
  }

  curve(i: number): Curve {
    return this.drawing.curves[i]
  }

  /** Whether all of some curves are of a kind. */
  all(curves: readonly number[], kind: Curve['kind']): boolean {
    return curves.every((i) => this.curve(i).kind === kind)
  }

  line(i: number): Extract<Curve, { kind: 'line' }> {
    const c = this.curve(i)
    if (c.kind !== 'line') throw new Error('no line')
    return c
  }

  point(get: Get, i: number): Pair {
    return { x: get(2 * i), y: get(2 * i + 1) }
  }

  /** From the beginning of a line to its end. */
  along(get: Get, i: number): Pair {
    const c = this.line(i)
    return sub(this.point(get, c.to), this.point(get, c.from))
  }

  /** Of a circle or arc. */
  radius(get: Get, i: number): Dual {
    const c = this.curve(i)
    return c.kind === 'arc' ? size(sub(this.point(get, c.from), this.point(get, c.centre))) : get(this.ownNumber(i))
  }

  centre(get: Get, i: number): Pair {
    return this.point(get, (this.curve(i) as Centred).centre)
  }

  /** The first of the numbers that a curve has beside its points: a circle's radius, an ellipse's radii and angle. */
  ownNumber(i: number): number {
    return this.unknowns.own[i]
  }

  /** Signed distance of a place from an endless line. */
  offLine(get: Get, at: Pair, i: number): Dual {
    const w = this.along(get, i)
    return over(cross(w, sub(at, this.point(get, this.line(i).from))), size(w))
  }

  /** The formula, or its opposite, so that it is above zero as the drawing stands. */
  positive(f: Formula): Formula {
    return this.now(f) < 0 ? (get) => by(f(get), -1) : f
  }

  /** The end that two curves share, as a number on each; null where they share none. */
  shared(a: number, b: number): [number, number] | null {
    for (const i of endsOf(this.curve(a)) ?? [])
      for (const j of endsOf(this.curve(b)) ?? []) if (this.same.find(i) === this.same.find(j)) return [i, j]
    return null
  }

  /**
   * The point at which two curves touch, as a number on each: an end they share, or an end of one that is held on the other, round one.
   * Told by a distance, a touch at such a point would be a double root, which no solver finds to the last digit.
   */
  meeting(a: number, b: number): [number, number] | null {
    return this.shared(a, b) ?? this.endOn(a, b) ?? this.endOn(b, a)
  }

  /** The way a curve sets out from one of its ends, of any length; null where it can only be measured. */
  out(get: Get, i: number, end: number): Pair | null {
    const c = this.curve(i)
    if (c.kind === 'line') return sub(this.point(get, c.from === end ? c.to : c.from), this.point(get, end))
    if (c.kind === 'arc' || c.kind === 'circle') {
      const r = sub(this.point(get, end), this.point(get, c.centre))
      const s = c.kind === 'circle' || (c.from === end) === c.ccw ? 1 : -1
      return { x: by(r.y, -s), y: by(r.x, s) }
    }
    if (c.kind === 'spline' && c.control) {
      const list = c.control[0] === end ? c.control : [...c.control].reverse()
      return sub(this.point(get, list[1]), this.point(get, list[0]))
    }
    return null
  }

  /** All numbers that tell a curve. */
  curveNumbers(i: number): number[] {
    return numbersOfCurve(this.drawing, this.unknowns, i, pointsOf(this.curve(i)))
  }

  /** How far two points are from being symmetric about a line as the drawing stands, mm. */
  offMirror(i: number, j: number, about: number): number {
    const c = this.line(about)
    const [p, q, s, e] = [i, j, c.from, c.to].map((k) => this.drawing.points[k])
    const w: Place = [e[0] - s[0], e[1] - s[1]]
    const l = w[0] * w[0] + w[1] * w[1] || 1
    const k = (2 * (w[0] * (p[0] - s[0]) + w[1] * (p[1] - s[1]))) / l
    const m: Place = [2 * s[0] + k * w[0] - p[0], 2 * s[1] + k * w[1] - p[1]]
    return Math.hypot(m[0] - q[0], m[1] - q[1])
  }

  /** An end of a curve that is held on a round one. */
  private endOn(curve: number, round: number): [number, number] | null {
    if (!isRound(this.curve(round))) return null
    for (const c of this.drawing.constraints ?? [])
      if (c.kind === 'onCurve' && c.curves[0] === round)
        for (const e of endsOf(this.curve(curve)) ?? [])
          if (c.points.some((p) => this.same.find(p) === this.same.find(e))) return [e, e]
    return null
  }
}
