import { wayOut } from '../../along'
import { by, cosine, minus, norm, over, plus, sine, times } from '../../dual'
import type { ConstraintLaw, Equation } from '../constraint-law'
import { cross, size, sub, type Formula, type Get, type Pair } from '../formula'
import { isRound, type Terms } from '../terms'

export const tangent: ConstraintLaw = {
  needs: 'two curves of which at least one is not straight',
  equations(t, { points, curves }) {
    if (curves.length !== 2 || points.length || t.all(curves, 'line')) return null
    const [a, b] = curves
    const meet = t.meeting(a, b)
    if (meet) return [atMeeting(t, a, b, meet)]
    const [line, other] = t.curve(a).kind === 'line' ? [a, b] : [b, a]
    if (t.curve(line).kind === 'line') {
      if (isRound(t.curve(other))) return [lineAtRound(t, line, other)]
      return t.curve(other).kind === 'ellipse' ? [lineAtEllipse(t, line, other)] : null
    }
    return curves.every((i) => isRound(t.curve(i))) ? [roundAtRound(t, a, b)] : null
  },
}

/** Two curves that meet run the same way there. */
function atMeeting(t: Terms, a: number, b: number, [onA, onB]: [number, number]): Equation {
  const both = (g: Get) => [t.out(g, a, onA), t.out(g, b, onB)]
  if (both(t.standing).every((w) => w))
    return (g) => {
      const [v, w] = both(g) as [Pair, Pair]
      return by(over(cross(v, w), times(size(v), size(w))), t.reach)
    }
  // Splines through points have their ways only as measured.
  return {
    numbers: [...t.curveNumbers(a), ...t.curveNumbers(b)],
    measure(d) {
      const [v, w] = [wayOut(d, d.curves[a], onA), wayOut(d, d.curves[b], onB)]
      return v && w ? (v[0] * w[1] - v[1] * w[0]) * t.reach : 0
    },
  }
}

function lineAtRound(t: Terms, line: number, round: number): Formula {
  const off = t.positive((g) => t.offLine(g, t.centre(g, round), line))
  return (g) => minus(off(g), t.radius(g, round))
}

function lineAtEllipse(t: Terms, line: number, ellipse: number): Formula {
  const off = t.positive((g) => t.offLine(g, t.centre(g, ellipse), line))
  return (g) => {
    // An ellipse reaches this far across a direction (its support function).
    const k = t.ownNumber(ellipse)
    const w = t.along(g, line)
    const long = size(w)
    const [cos, sin] = [cosine(g(k + 2)), sine(g(k + 2))]
    const across = over(minus(times(w.x, sin), times(w.y, cos)), long),
      along = over(plus(times(w.x, cos), times(w.y, sin)), long)
    return minus(off(g), norm(times(g(k), across), times(g(k + 1), along)))
  }
}

/** From outside or from within, as is nearer. */
function roundAtRound(t: Terms, a: number, b: number): Formula {
  const apart: Formula = (g) => size(sub(t.centre(g, a), t.centre(g, b)))
  const within = t.positive((g) => minus(t.radius(g, a), t.radius(g, b)))
  const outside: Formula = (g) => plus(t.radius(g, a), t.radius(g, b))
  const here = t.now(apart)
  const chosen = Math.abs(here - t.now(outside)) <= Math.abs(here - t.now(within)) ? outside : within
  return (g) => minus(apart(g), chosen(g))
}
