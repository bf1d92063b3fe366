/** What constraints and dimensions ask of a drawing, as equations: each is zero where it holds, in mm, with its derivatives. */
import { StepError } from '@/core/base/step-error'
import { constraintWords, dimensionWords, type Constraint, type Dimension } from './constraint'
import { endsOf, pointsOf, type Curve, type Drawing, type Place } from './drawing'
import { offSpline, wayOut } from './along'
import { angleOf, by, cosine, minus, norm, over, plus, shift, sine, times, variable, type Dual } from './dual'
import { extentOf } from './extent'
import {
  cross,
  dot,
  formulaLaw,
  measuredLaw,
  size,
  sub,
  type Formula,
  type Get,
  type Law,
  type Owner,
  type Pair,
} from './formula'
import { lengthOf, sampleCurve } from './sample'
import { numbersOf, numbersOfCurve, unknownsOf, withNumbers, type Unknowns } from './unknowns'

const round = (c: Curve) => c.kind === 'circle' || c.kind === 'arc'
const centred = (c: Curve): c is Extract<Curve, { centre: number }> => 'centre' in c

/** Builds the laws of one drawing; signs and senses are those of the drawing as it stands. */
class Builder {
  readonly u: Unknowns
  readonly x: Float64Array
  /** Angles count as the way that they move something a quarter of the drawing away. */
  readonly reach: number
  private readonly same: Int32Array

  constructor(readonly d: Drawing) {
    this.u = unknownsOf(d)
    this.x = numbersOf(d, this.u)
    this.reach = extentOf(d) / 4
    this.same = Int32Array.from(d.points, (_, i) => i)
    const find = (i: number): number => (this.same[i] === i ? i : (this.same[i] = find(this.same[i])))
    for (const c of d.constraints ?? [])
      if (c.kind === 'coincident') for (const p of c.points) this.same[find(p)] = find(c.points[0])
    for (let i = 0; i < this.same.length; i++) find(i)
  }

  private now(f: Formula): number {
    return f((k) => variable(this.x[k], -1, 0)).v
  }
  private p(get: Get, i: number): Pair {
    return { x: get(2 * i), y: get(2 * i + 1) }
  }
  private line(i: number) {
    const c = this.d.curves[i]
    if (c.kind !== 'line') throw new Error('no line')
    return c
  }
  private way(get: Get, i: number): Pair {
    const c = this.line(i)
    return sub(this.p(get, c.to), this.p(get, c.from))
  }
  private radius(get: Get, i: number): Dual {
    const c = this.d.curves[i]
    return c.kind === 'arc' ? size(sub(this.p(get, c.from), this.p(get, c.centre))) : get(this.u.own[i])
  }
  private centre(get: Get, i: number): Pair {
    return this.p(get, (this.d.curves[i] as Extract<Curve, { centre: number }>).centre)
  }
  /** Signed distance of a place from an endless line. */
  private offLine(get: Get, at: Pair, i: number): Dual {
    const w = this.way(get, i)
    return over(cross(w, sub(at, this.p(get, this.line(i).from))), size(w))
  }
  /** The formula, or its opposite, so that it is above zero as the drawing stands. */
  private positive(f: Formula): Formula {
    return this.now(f) < 0 ? (get) => by(f(get), -1) : f
  }

  /** The end that two curves share, as a number on each; null where they share none. */
  private shared(a: number, b: number): [number, number] | null {
    for (const i of endsOf(this.d.curves[a]) ?? [])
      for (const j of endsOf(this.d.curves[b]) ?? []) if (this.same[i] === this.same[j]) return [i, j]
    return null
  }

  /**
   * The point at which two curves touch, as a number on each: an end they share, or an end of one that is held on the other, round one.
   * Told by a distance, a touch at such a point would be a double root, which no solver finds to the last digit.
   */
  private meeting(a: number, b: number): [number, number] | null {
    const on = (curve: number, round_: number): [number, number] | null => {
      if (!round(this.d.curves[round_])) return null
      const ends = endsOf(this.d.curves[curve]) ?? []
      for (const c of this.d.constraints ?? [])
        if (c.kind === 'onCurve' && c.curves[0] === round_)
          for (const e of ends) if (c.points.some((p) => this.same[p] === this.same[e])) return [e, e]
      return null
    }
    return this.shared(a, b) ?? on(a, b) ?? on(b, a)
  }

  /** The way a curve sets out from one of its ends, of any length. */
  private out(get: Get, i: number, end: number): Pair | null {
    const c = this.d.curves[i]
    if (c.kind === 'line') return sub(this.p(get, c.from === end ? c.to : c.from), this.p(get, end))
    if (c.kind === 'arc' || c.kind === 'circle') {
      const r = sub(this.p(get, end), this.p(get, c.centre))
      const s = c.kind === 'circle' || (c.from === end) === c.ccw ? 1 : -1
      return { x: by(r.y, -s), y: by(r.x, s) }
    }
    if (c.kind === 'spline' && c.control) {
      const list = c.control[0] === end ? c.control : [...c.control].reverse()
      return sub(this.p(get, list[1]), this.p(get, list[0]))
    }
    return null
  }

  private curveNumbers(i: number): number[] {
    return numbersOfCurve(this.d, this.u, i, pointsOf(this.d.curves[i]))
  }

  private measured(owner: Owner, numbers: number[], measure: (d: Drawing) => number): Law {
    return measuredLaw(owner, [...new Set(numbers)], (x) => measure(withNumbers(this.d, this.u, x)))
  }

  arcs(): Law[] {
    return this.d.curves.flatMap((c, index) =>
      c.kind === 'arc'
        ? [
            formulaLaw(
              { of: 'arc', index },
              (g) =>
                minus(
                  size(sub(this.p(g, c.from), this.p(g, c.centre))),
                  size(sub(this.p(g, c.to), this.p(g, c.centre))),
                ),
              this.x,
            ),
          ]
        : [],
    )
  }

  constraint(c: Constraint, index: number): Law[] {
    const owner: Owner = { of: 'constraint', index }
    const law = (...formulas: Formula[]) => formulas.map((f) => formulaLaw(owner, f, this.x))
    const kinds = c.curves.map((i) => this.d.curves[i].kind)
    const only = (kind: Curve['kind']) => kinds.every((k) => k === kind)
    const refuse = (needs: string): never => {
      throw new StepError('bad-constraint', `Constraint ${index + 1}, ${constraintWords[c.kind]}, needs ${needs}.`, {
        tryThis: 'Name other points or curves, or leave it out.',
      })
    }
    const [a, b] = c.curves,
      [p, q] = c.points
    const onLine =
      (point: number, line: number): Formula =>
      (g) =>
        this.offLine(g, this.p(g, point), line)
    const level =
      (axis: 0 | 1, i: number, j: number): Formula =>
      (g) =>
        minus(g(2 * i + axis), g(2 * j + axis))
    const together = (i: number, j: number) => [level(0, i, j), level(1, i, j)]
    switch (c.kind) {
      case 'fixed':
        return c.points.length + c.curves.length ? [] : refuse('a point or a curve')
      case 'coincident':
        if (c.points.length < 2 || c.curves.length) return refuse('two points')
        return c.points.slice(1).flatMap((i) => law(...together(i, p)))
      case 'horizontal':
      case 'vertical': {
        const axis = c.kind === 'horizontal' ? 1 : 0
        if (!only('line') || c.points.length === 1 || c.points.length + c.curves.length === 0)
          return refuse('a line or two points')
        return law(
          ...c.curves.map((i) => level(axis, this.line(i).to, this.line(i).from)),
          ...c.points.slice(1).map((i) => level(axis, i, p)),
        )
      }
      case 'parallel':
        if (c.curves.length < 2 || !only('line') || c.points.length) return refuse('two lines')
        return law(
          ...c.curves.slice(1).map((i): Formula => (g) => {
            const [v, w] = [this.way(g, a), this.way(g, i)]
            return by(over(cross(v, w), times(size(v), size(w))), this.reach)
          }),
        )
      case 'collinear':
        if (c.curves.length < 2 || !only('line') || c.points.length) return refuse('two lines')
        return law(...c.curves.slice(1).flatMap((i) => [onLine(this.line(i).from, a), onLine(this.line(i).to, a)]))
      case 'perpendicular': {
        if (c.curves.length !== 2 || c.points.length) return refuse('two curves')
        const meet = this.shared(a, b)
        const ways = (g: Get): (Pair | null)[] =>
          only('line')
            ? [this.way(g, a), this.way(g, b)]
            : meet
              ? [this.out(g, a, meet[0]), this.out(g, b, meet[1])]
              : [null]
        if (ways((k) => variable(this.x[k], -1, 0)).every((w) => w))
          return law((g) => {
            const [v, w] = ways(g) as [Pair, Pair]
            return by(over(dot(v, w), times(size(v), size(w))), this.reach)
          })
        const li = kinds.indexOf('line'),
          ro = c.curves.findIndex((i) => round(this.d.curves[i]))
        if (li >= 0 && ro >= 0) return law((g) => this.offLine(g, this.centre(g, c.curves[ro]), c.curves[li]))
        if (c.curves.every((i) => round(this.d.curves[i])))
          return law((g) =>
            minus(size(sub(this.centre(g, a), this.centre(g, b))), norm(this.radius(g, a), this.radius(g, b))),
          )
        return refuse('two lines, a line and a circle or arc, or two curves that meet')
      }
      case 'equal': {
        if (c.curves.length < 2 || c.points.length) return refuse('two lines or two round curves')
        const rest = c.curves.slice(1)
        if (only('line'))
          return law(
            ...rest.map(
              (i): Formula =>
                (g) =>
                  minus(size(this.way(g, i)), size(this.way(g, a))),
            ),
          )
        if (c.curves.every((i) => round(this.d.curves[i])))
          return law(
            ...rest.map(
              (i): Formula =>
                (g) =>
                  minus(this.radius(g, i), this.radius(g, a)),
            ),
          )
        if (only('ellipse'))
          return law(
            ...rest.flatMap((i) =>
              [0, 1].map(
                (k): Formula =>
                  (g) =>
                    minus(g(this.u.own[i] + k), g(this.u.own[a] + k)),
              ),
            ),
          )
        return refuse('curves of one sort: lines, round ones or ellipses')
      }
      case 'concentric': {
        if (
          c.curves.length + c.points.length < 2 ||
          !c.curves.length ||
          !c.curves.every((i) => centred(this.d.curves[i]))
        )
          return refuse('two curves with a centre')
        const middles = [...c.curves.map((i) => (this.d.curves[i] as { centre: number }).centre), ...c.points]
        return law(...middles.slice(1).flatMap((m) => (m === middles[0] ? [] : together(m, middles[0]))))
      }
      case 'onCurve':
        if (c.points.length < 1 || c.curves.length !== 1) return refuse('a point and a curve')
        return c.points.flatMap((i) => this.onCurve(owner, i, a))
      case 'midpoint': {
        if (c.points.length !== 1 || c.curves.length !== 1) return refuse('a point and a line or arc')
        const curve = this.d.curves[a]
        if (curve.kind === 'line')
          return law(
            ...[0, 1].map(
              (k): Formula =>
                (g) =>
                  minus(by(plus(g(2 * curve.from + k), g(2 * curve.to + k)), 0.5), g(2 * p + k)),
            ),
          )
        if (curve.kind !== 'arc') return refuse('a point and a line or arc')
        return [
          ...this.onCurve(owner, p, a),
          ...law((g) =>
            minus(size(sub(this.p(g, p), this.p(g, curve.from))), size(sub(this.p(g, p), this.p(g, curve.to)))),
          ),
        ]
      }
      case 'symmetric': {
        const about = c.curves.at(-1)
        if (c.points.length === 3 && !c.curves.length)
          return law(
            ...[0, 1].map(
              (k): Formula =>
                (g) =>
                  minus(by(plus(g(2 * p + k), g(2 * q + k)), 0.5), g(2 * c.points[2] + k)),
            ),
          )
        if (about === undefined || this.d.curves[about].kind !== 'line')
          return refuse('two points or curves, and last a line to be symmetric about')
        const mirrored = (i: number, j: number): Formula[] => [
          (g) => {
            const w = this.way(g, about)
            const s = this.p(g, this.line(about).from)
            const [m, n] = [sub(this.p(g, i), s), sub(this.p(g, j), s)]
            return by(over(cross(w, { x: plus(m.x, n.x), y: plus(m.y, n.y) }), size(w)), 0.5)
          },
          (g) => {
            const w = this.way(g, about)
            return over(dot(sub(this.p(g, i), this.p(g, j)), w), size(w))
          },
        ]
        if (c.points.length === 2 && c.curves.length === 1) return law(...mirrored(p, q))
        if (c.curves.length !== 3 || c.points.length) return refuse('two points or two curves, and last a line')
        const [s, t] = [this.d.curves[a], this.d.curves[b]]
        if (s.kind === 'line' && t.kind === 'line') {
          const swap = this.farFrom(s.from, t.from, about) + this.farFrom(s.to, t.to, about)
          const across = this.farFrom(s.from, t.to, about) + this.farFrom(s.to, t.from, about)
          const [k, l] = swap <= across ? [t.from, t.to] : [t.to, t.from]
          return law(...mirrored(s.from, k), ...mirrored(s.to, l))
        }
        if (s.kind === 'arc' && t.kind === 'arc') {
          // A mirrored arc runs the other way.
          const [k, l] = s.ccw === t.ccw ? [t.to, t.from] : [t.from, t.to]
          return law(...mirrored(s.centre, t.centre), ...mirrored(s.from, k), mirrored(s.to, l)[1])
        }
        if (round(s) && round(t))
          return law(...mirrored((s as { centre: number }).centre, (t as { centre: number }).centre), (g) =>
            minus(this.radius(g, a), this.radius(g, b)),
          )
        return refuse('two points, two lines or two round curves, and last a line')
      }
      case 'tangent':
        if (c.curves.length !== 2 || c.points.length || only('line'))
          return refuse('two curves of which at least one is not straight')
        return this.tangent(owner, a, b) ?? refuse('two curves of which at least one is not straight')
    }
  }

  /** How far two points are from being symmetric about a line, mm. */
  private farFrom(i: number, j: number, about: number): number {
    const c = this.line(about)
    const [p, q, s, e] = [i, j, c.from, c.to].map((k) => this.d.points[k])
    const w: Place = [e[0] - s[0], e[1] - s[1]]
    const l = w[0] * w[0] + w[1] * w[1] || 1
    const k = (2 * (w[0] * (p[0] - s[0]) + w[1] * (p[1] - s[1]))) / l
    const m: Place = [2 * s[0] + k * w[0] - p[0], 2 * s[1] + k * w[1] - p[1]]
    return Math.hypot(m[0] - q[0], m[1] - q[1])
  }

  private onCurve(owner: Owner, point: number, curve: number): Law[] {
    const c = this.d.curves[curve]
    const law = (f: Formula) => [formulaLaw(owner, f, this.x)]
    switch (c.kind) {
      case 'line':
        return law((g) => this.offLine(g, this.p(g, point), curve))
      case 'circle':
      case 'arc':
        return law((g) => minus(size(sub(this.p(g, point), this.p(g, c.centre))), this.radius(g, curve)))
      case 'ellipse':
        return law((g) => {
          const k = this.u.own[curve]
          const r = sub(this.p(g, point), this.p(g, c.centre))
          const [cos, sin] = [cosine(g(k + 2)), sine(g(k + 2))]
          const u = over(plus(times(r.x, cos), times(r.y, sin)), g(k)),
            v = over(minus(times(r.y, cos), times(r.x, sin)), g(k + 1))
          return times(shift(norm(u, v), -1), g(k + 1))
        })
      case 'spline':
        return [
          this.measured(owner, [...this.curveNumbers(curve), 2 * point, 2 * point + 1], (d) =>
            offSpline(d, d.curves[curve] as typeof c, d.points[point]),
          ),
        ]
    }
  }

  private tangent(owner: Owner, a: number, b: number): Law[] | null {
    const law = (f: Formula) => [formulaLaw(owner, f, this.x)]
    const [s, t] = [this.d.curves[a], this.d.curves[b]]
    const meet = this.meeting(a, b)
    if (meet) {
      const probe = (get: Get) => [this.out(get, a, meet[0]), this.out(get, b, meet[1])]
      const [m, n] = probe((k) => variable(this.x[k], -1, 0))
      if (m && n)
        return law((g) => {
          const [v, w] = probe(g) as [Pair, Pair]
          return by(over(cross(v, w), times(size(v), size(w))), this.reach)
        })
      // Splines through points have their ways only as measured.
      return [
        this.measured(owner, [...this.curveNumbers(a), ...this.curveNumbers(b)], (d) => {
          const [v, w] = [wayOut(d, d.curves[a], meet[0]), wayOut(d, d.curves[b], meet[1])]
          if (!v || !w) return 0
          return (v[0] * w[1] - v[1] * w[0]) * this.reach
        }),
      ]
    }
    const [li, ro] = s.kind === 'line' ? [a, b] : [b, a]
    const [l, r] = [this.d.curves[li], this.d.curves[ro]]
    if (l.kind === 'line' && round(r)) {
      const off = this.positive((g) => this.offLine(g, this.centre(g, ro), li))
      return law((g) => minus(off(g), this.radius(g, ro)))
    }
    if (l.kind === 'line' && r.kind === 'ellipse') {
      const off = this.positive((g) => this.offLine(g, this.centre(g, ro), li))
      return law((g) => {
        // An ellipse reaches this far across a direction (its support function).
        const k = this.u.own[ro]
        const w = this.way(g, li)
        const long = size(w)
        const [cos, sin] = [cosine(g(k + 2)), sine(g(k + 2))]
        const across = over(minus(times(w.x, sin), times(w.y, cos)), long),
          along = over(plus(times(w.x, cos), times(w.y, sin)), long)
        return minus(off(g), norm(times(g(k), across), times(g(k + 1), along)))
      })
    }
    if (round(s) && round(t)) {
      const apart: Formula = (g) => size(sub(this.centre(g, a), this.centre(g, b)))
      const within = this.positive((g) => minus(this.radius(g, a), this.radius(g, b)))
      const outer: Formula = (g) => plus(this.radius(g, a), this.radius(g, b))
      const here = this.now(apart)
      const chosen = Math.abs(here - this.now(outer)) <= Math.abs(here - this.now(within)) ? outer : within
      return law((g) => minus(apart(g), chosen(g)))
    }
    return null
  }

  /** What a dimension measures: mm, or radians of an angle. */
  measure(c: Dimension, index: number): { formula?: Formula; law?: (value: number, owner: Owner) => Law; now: number } {
    const refuse = (needs: string): never => {
      throw new StepError('bad-constraint', `Dimension ${index + 1}, ${dimensionWords[c.kind]}, needs ${needs}.`, {
        tryThis: 'Name other points or curves, or leave it out.',
      })
    }
    const [a, b] = c.curves,
      [p, q] = c.points
    const is = (i: number, kind: Curve['kind']) => this.d.curves[i].kind === kind
    const exact = (f: Formula) => ({ formula: f, now: this.now(f) })
    const bySample = (curve: number) => {
      const measure = (d: Drawing) => lengthOf(sampleCurve(d, d.curves[curve], extentOf(d) * 1e-5))
      return {
        law: (value: number, owner: Owner) => this.measured(owner, this.curveNumbers(curve), (d) => measure(d) - value),
        now: measure(this.d),
      }
    }
    const far = (i: number, j: number) => {
      const axis = c.along === 'x' ? 0 : 1
      return c.along
        ? exact(this.positive((g) => minus(g(2 * j + axis), g(2 * i + axis))))
        : exact((g) => size(sub(this.p(g, i), this.p(g, j))))
    }
    const whole = (i: number) => {
      const curve = this.d.curves[i]
      if (curve.kind === 'line') return far(curve.from, curve.to)
      if (curve.kind === 'circle') return exact((g) => by(this.radius(g, i), 2 * Math.PI))
      if (curve.kind !== 'arc') return bySample(i)
      const sense = curve.ccw ? 1 : -1
      return exact((g) => {
        const [v, w] = [curve.from, curve.to].map((k) => sub(this.p(g, k), this.p(g, curve.centre)))
        const turn = by(angleOf(cross(v, w), dot(v, w)), sense)
        return times(size(v), turn.v <= 1e-9 ? shift(turn, 2 * Math.PI) : turn)
      })
    }
    switch (c.kind) {
      case 'length':
        return c.curves.length === 1 && !c.points.length ? whole(a) : refuse('one curve')
      case 'arcLength':
        return c.curves.length === 1 && !c.points.length && !is(a, 'line') ? whole(a) : refuse('one arc or spline')
      case 'radius':
      case 'diameter': {
        if (c.curves.length !== 1 || c.points.length || !round(this.d.curves[a])) return refuse('one circle or arc')
        return exact(c.kind === 'radius' ? (g) => this.radius(g, a) : (g) => by(this.radius(g, a), 2))
      }
      case 'longRadius':
      case 'shortRadius':
        if (c.curves.length !== 1 || c.points.length || !is(a, 'ellipse')) return refuse('one ellipse')
        return exact((g) => g(this.u.own[a] + (c.kind === 'longRadius' ? 0 : 1)))
      case 'distance': {
        if (c.points.length === 2 && !c.curves.length) return far(p, q)
        if (!c.points.length && c.curves.length === 1 && is(a, 'line')) return far(this.line(a).from, this.line(a).to)
        const ofCurve = (point: (g: Get) => Pair, curve: number) =>
          is(curve, 'line')
            ? exact(this.positive((g) => this.offLine(g, point(g), curve)))
            : round(this.d.curves[curve])
              ? exact(this.positive((g) => minus(size(sub(point(g), this.centre(g, curve))), this.radius(g, curve))))
              : refuse('two points, a point and a line or round curve, or two lines')
        if (c.points.length === 1 && c.curves.length === 1) return ofCurve((g) => this.p(g, p), a)
        if (c.points.length || c.curves.length !== 2) return refuse('two points, a point and a curve, or two lines')
        const [line, other] = is(b, 'line') ? [b, a] : [a, b]
        if (is(line, 'line') && is(other, 'line')) {
          const mid = this.line(other)
          return ofCurve((g) => this.p(g, mid.from), line)
        }
        if (!centred(this.d.curves[other])) return refuse('two points, a point and a curve, or two lines')
        if (is(line, 'line')) return ofCurve((g) => this.centre(g, other), line)
        const [m, n] = c.curves.map((i) => (this.d.curves[i] as { centre: number }).centre)
        return far(m, n)
      }
      case 'angle': {
        if (c.points.length || !c.curves.length || c.curves.length > 2 || !c.curves.every((i) => is(i, 'line')))
          return refuse('two lines, or one line against the first direction')
        const meet = b === undefined ? null : this.shared(a, b)
        const two = (g: Get): [Pair, Pair] | [Pair] =>
          b === undefined
            ? [this.way(g, a)]
            : meet
              ? [this.out(g, a, meet[0])!, this.out(g, b, meet[1])!]
              : [this.way(g, a), this.way(g, b)]
        return exact(
          this.positive((g) => {
            const [v, w] = two(g)
            return w ? angleOf(cross(v, w), dot(v, w)) : angleOf(v.y, v.x)
          }),
        )
      }
    }
  }

  dimension(c: Dimension, index: number, value: number): Law {
    const owner: Owner = { of: 'dimension', index }
    const m = this.measure(c, index)
    if (m.law) return m.law(value, owner)
    const f = m.formula!
    if (c.kind !== 'angle') return formulaLaw(owner, (g) => shift(f(g), -value), this.x)
    return formulaLaw(
      owner,
      (g) => {
        const off = shift(f(g), (-value * Math.PI) / 180)
        return by(shift(off, -2 * Math.PI * Math.round(off.v / (2 * Math.PI))), this.reach)
      },
      this.x,
    )
  }
}

/** Throws StepError `bad-drawing` where a curve, constraint or dimension names a number that is not there. */
export function inRange(d: Drawing): void {
  const refuse = (what: string, n: number, k: number) => {
    throw new StepError('bad-drawing', `${what} ${n + 1} names ${k} that is not there.`, {
      tryThis: 'Numbers begin at 0 and run to one less than there are.',
    })
  }
  d.curves.forEach((c, i) => {
    for (const p of pointsOf(c)) if (p >= d.points.length) refuse('Curve', i, p)
  })
  const each = (what: string, list: readonly { points: number[]; curves: number[] }[]) =>
    list.forEach((c, i) => {
      for (const p of c.points) if (p >= d.points.length) refuse(what, i, p)
      for (const k of c.curves) if (k >= d.curves.length) refuse(what, i, k)
    })
  each('Constraint', d.constraints ?? [])
  each('Dimension', d.dimensions ?? [])
  d.lettering?.forEach((l, i) => {
    if (l.at >= d.points.length) refuse('Lettering', i, l.at)
    if (l.around !== undefined && l.around >= d.curves.length) refuse('Lettering', i, l.around)
  })
}

export interface Laws {
  readonly unknowns: Unknowns
  /** Arcs first, then constraints, then dimensions, each in its order. */
  readonly laws: readonly Law[]
  /** Numbers that keep their value. */
  readonly held: ReadonlySet<number>
}

/**
 * The laws of a drawing. `values`: what each dimension is to be, mm or degrees; null for one that is only measured.
 * Throws StepError `bad-drawing` for a number that names nothing, `bad-constraint` for points and curves that a constraint cannot take.
 */
export function lawsOf(d: Drawing, values: readonly (number | null)[]): Laws {
  inRange(d)
  const b = new Builder(d)
  const held = new Set<number>()
  d.constraints?.forEach((c) => {
    if (c.kind !== 'fixed') return
    for (const p of c.points) held.add(2 * p).add(2 * p + 1)
    for (const i of c.curves) for (const k of numbersOfCurve(d, b.u, i, pointsOf(d.curves[i]))) held.add(k)
  })
  return {
    unknowns: b.u,
    held,
    laws: [
      ...b.arcs(),
      ...(d.constraints ?? []).flatMap((c, i) => b.constraint(c, i)),
      ...(d.dimensions ?? []).flatMap((c, i) => {
        const v = values[i]
        if (v !== null && v !== undefined) return [b.dimension(c, i, v)]
        b.measure(c, i) // it is checked all the same
        return []
      }),
    ],
  }
}

/** What each dimension measures on the drawing as it stands, mm or degrees. */
export function measuresOf(d: Drawing): number[] {
  inRange(d)
  const b = new Builder(d)
  return (d.dimensions ?? []).map((c, i) => {
    const { now } = b.measure(c, i)
    return c.kind === 'angle' ? (now * 180) / Math.PI : now
  })
}

/** Whether a constraint or dimension can take these points and curves. */
export function canHold(d: Drawing, what: Constraint | Dimension): boolean {
  const b = new Builder(d)
  try {
    if (what.kind in constraintWords) b.constraint(what as Constraint, 0)
    else b.measure(what as Dimension, 0)
    return true
  } catch {
    return false
  }
}
