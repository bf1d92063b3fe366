/** Curves cut into pieces, exactly: arcs of circles, pieces of splines. Pieces of an ellipse become splines that follow it. */
import type { Curve, Drawing, Place } from './drawing'
import { endsOf } from './drawing'
import { alongOf } from './parametric'
import { splineOf } from './sample'
import { endOf, fitSpline, pieceOf, type Spline } from './spline'

/** Adds points and curves to a drawing, one after the other. */
export class Draft {
  readonly points: Place[]
  readonly curves: Curve[]
  constructor(d: Drawing) {
    this.points = [...d.points]
    this.curves = [...d.curves]
  }
  point(p: Place): number {
    this.points.push(p)
    return this.points.length - 1
  }
}

/** A cubic with points of its own between two that are there. */
function splineBetween(draft: Draft, s: Spline, from: number, to: number): Curve {
  const inner = s.control.slice(1, -1).map((p) => draft.point(p))
  return { kind: 'spline', control: [from, ...inner, to], knots: [...s.knots] }
}

/**
 * The pieces of a curve between shares of its length, in order; each is given the numbers of its end points.
 * @param ends numbers of the points at the shares, as many as there are shares
 */
export function piecesBetween(
  draft: Draft,
  d: Drawing,
  c: Curve,
  shares: readonly number[],
  ends: readonly number[],
): Curve[] {
  const guide = c.construction ? { construction: true } : {}
  const out: Curve[] = []
  const closed = !endsOf(c)
  const last = closed ? shares.length : shares.length - 1
  for (let i = 0; i < last; i++) {
    const t = shares[i],
      u = i + 1 < shares.length ? shares[i + 1] : shares[0] + 1
    const [from, to] = [ends[i], ends[(i + 1) % ends.length]]
    if (c.kind === 'line') out.push({ kind: 'line', from, to, ...guide })
    else if (c.kind === 'arc') out.push({ ...c, from, to })
    else if (c.kind === 'circle') out.push({ kind: 'arc', from, to, centre: c.centre, ccw: true, ...guide })
    else if (c.kind === 'spline') {
      const s = splineOf(d, c)
      if (s) out.push({ ...splineBetween(draft, pieceOf(s, t * endOf(s), u * endOf(s)), from, to), ...guide })
    } else {
      const along = alongOf(d, c)
      const n = Math.max(12, Math.min(240, Math.ceil((u - t) * 120)))
      const row = Array.from({ length: n + 1 }, (_, k) => along((((t + ((u - t) * k) / n) % 1) + 1) % 1))
      const fit = row.every((p) => p.every(Number.isFinite))
        ? fitSpline(row, Math.max(4, Math.ceil(n / 2.5)), false)
        : null
      if (fit) out.push({ ...splineBetween(draft, fit.spline, from, to), ...guide })
    }
  }
  return out
}

/** A drawing whose curve `i` is cut at shares of its length; the first piece keeps its number, the others come last. */
export function splitAt(
  d: Drawing,
  i: number,
  at: readonly number[],
): { drawing: Drawing; pieces: number[]; cuts: number[] } {
  const c = d.curves[i]
  const own = endsOf(c)
  const shares = [...new Set(at)].filter((t) => !own || (t > 1e-9 && t < 1 - 1e-9)).sort((a, b) => a - b)
  if (!shares.length || (!own && shares.length < 2)) return { drawing: d, pieces: [i], cuts: [] }
  const draft = new Draft(d)
  const along = alongOf(d, c)
  const cuts = shares.map((t) => draft.point(along(t)))
  const made = own
    ? piecesBetween(draft, d, c, [0, ...shares, 1], [own[0], ...cuts, own[1]])
    : piecesBetween(draft, d, c, shares, cuts)
  draft.curves[i] = made[0]
  const pieces = [i]
  for (const m of made.slice(1)) {
    draft.curves.push(m)
    pieces.push(draft.curves.length - 1)
  }
  return { drawing: { ...d, points: draft.points, curves: draft.curves }, pieces, cuts }
}
