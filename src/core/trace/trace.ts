/** Traces rows of places into a drawing of lines, arcs, circles, ellipses and splines, each within its tolerance. */
import { checkStop, quiet, span, type Work } from '@/core/base/work'
import type { Curve, CurveKind, Drawing, Place } from '@/core/outline/drawing'
import { fitEllipse, fromEllipse, geometricCircle, Sums, type FittedEllipse } from './fits'
import { fitPieces, junction, makeTangent, type Piece } from './pieces'
import { leanSpline } from './lean-spline'
import { corners, type Row } from './rows'
import { divide, mostSpan, onCircle, turnsOf, type Run, type RunChoice } from './runs'

/** Greatest distance of a traced curve from its places, mm, for each kind; a kind that is left out is not used. */
export type TraceChoice = Partial<Record<CurveKind, number>>

export interface TracedCurve {
  /** Number of the curve in the drawing. */
  readonly curve: number
  /** Number of the row it follows. */
  readonly row: number
  readonly places: number
  readonly most: number
}

export interface Traced {
  readonly drawing: Drawing
  readonly curves: readonly TracedCurve[]
  readonly most: number
  readonly rms: number
  /** Rows that none of the kinds asked for could hold. */
  readonly left: readonly number[]
}

/** A turn of more than this at one place, degrees, is a corner for a spline. */
const cornerOver = 35
/** How much narrower a tolerance is tried on data that may be exact. */
const narrower = 32
/** A piece whose places leave it by less than this share of the tolerance follows what was meant. */
const strain = 0.06
/** A piece of fewer edges than this says nothing of its own between strained ones; one of fewer than that only where it is exact. */
const fewEdges = 6,
  unclearEdges = 20

interface Sketch {
  points: Place[]
  curves: Curve[]
  traced: TracedCurve[]
  square: number
  counted: number
}

/**
 * @param rows in mm in one plane
 * @param choice tolerance for each kind that may be used
 */
export function trace(rows: readonly Row[], choice: TraceChoice, work: Work = quiet): Traced {
  const s: Sketch = { points: [], curves: [], traced: [], square: 0, counted: 0 }
  const left: number[] = []
  rows.forEach((row, i) => {
    checkStop(work)
    work.progress(i / rows.length, 'tracing')
    const size = row.places.reduce((m, p) => Math.max(m, Math.abs(p[0]) + Math.abs(p[1])), 1e-9)
    const clean = corners(row, 1e-9 * size)
    if (clean.places.length < 2 || !traceRow(s, clean, i, choice, span(work, i / rows.length, (i + 1) / rows.length)))
      left.push(i)
  })
  return {
    drawing: { points: s.points, curves: s.curves },
    curves: s.traced,
    most: s.traced.reduce((m, c) => Math.max(m, c.most), 0),
    rms: s.counted ? Math.sqrt(s.square / s.counted) : 0,
    left,
  }
}

function put(s: Sketch, curve: Curve, row: number, offs: readonly number[]): void {
  s.curves.push(curve)
  s.traced.push({
    curve: s.curves.length - 1,
    row,
    places: offs.length,
    most: offs.reduce((m, v) => Math.max(m, v), 0),
  })
  for (const v of offs) s.square += v * v
  s.counted += offs.length
}

function traceRow(s: Sketch, row: Row, number: number, choice: TraceChoice, work: Work): boolean {
  const { places, closed } = row
  const n = places.length
  const far = (p: Place, q: Place) => Math.hypot(p[0] - q[0], p[1] - q[1])
  // The whole as one curve.
  if (closed && choice.circle !== undefined && n >= 8) {
    const first = new Sums(places).circle(0, n - 1)
    if (first) {
      const circle = geometricCircle(places, first)
      if (onCircle(places, 0, n, circle, choice.circle)) {
        s.points.push(circle.centre)
        const offs = places.map((p) => Math.abs(far(p, circle.centre) - circle.radius))
        put(s, { kind: 'circle', centre: s.points.length - 1, radius: circle.radius }, number, offs)
        return true
      }
    }
  }
  if (closed && choice.ellipse !== undefined && n >= 8) {
    const e = fitEllipse(places)
    if (e && e.long < 50 * e.short) {
      const offs = places.map((p) => fromEllipse(e, p))
      if (roundIt(places, e) && offs.every((v) => v <= choice.ellipse!)) {
        s.points.push(e.centre)
        const { long, short, turn } = e
        const centre = s.points.length - 1
        put(s, { kind: 'ellipse', centre, long, short, turn: (turn * 180) / Math.PI }, number, offs)
        return true
      }
    }
  }
  // Pieces brought together at their joints may miss places by more than each did alone: then shorter ones are laid.
  for (const share of [1, 0.7, 0.5]) {
    const before = { points: s.points.length, curves: s.curves.length, square: s.square, counted: s.counted }
    if (!traceParts(s, row, number, choice, share, work)) return false
    const within = s.traced
      .slice(before.curves)
      .every((c) => c.most <= 1.02 * (choice[s.curves[c.curve].kind] ?? Infinity))
    if (within || share === 0.5) break
    s.points.length = before.points
    s.curves.length = s.traced.length = before.curves
    s.square = before.square
    s.counted = before.counted
  }
  return true
}

function traceParts(s: Sketch, row: Row, number: number, choice: TraceChoice, share: number, work: Work): boolean {
  const { places, closed } = row
  const n = places.length
  const turns = turnsOf(places, closed)
  let pieces: Piece[] | null = null
  if (choice.line !== undefined || choice.arc !== undefined) {
    const kinds = {
      line: choice.line === undefined ? null : share * choice.line,
      arc: choice.arc === undefined ? null : share * choice.arc,
    }
    // A closed row is opened at its sharpest corner; where it has none, where a first division found a joint.
    let start = closed ? turns.reduce((best, t, i) => (Math.abs(t) > Math.abs(turns[best]) ? i : best), 0) : 0
    const openAt = (kinds: RunChoice, part: Work) => {
      const runs = divide(places, closed, start, kinds, span(part, 0, 0.5))
      if (!closed || !runs || runs.length < 2 || Math.abs(turns[start]) >= cornerOver) return runs
      start = longestEnd(runs) % n
      return divide(places, closed, start, kinds, span(part, 0.5, 1)) ?? runs
    }
    let runs = openAt(kinds, span(work, 0, 0.4))
    // Exact data needs hardly more pieces under a far narrower tolerance, and says better there where they meet; bends and noise need many.
    if (runs && share === 1) {
      const narrow = {
        line: kinds.line === null ? null : kinds.line / narrower,
        arc: kinds.arc === null ? null : kinds.arc / narrower,
      }
      const wide = start
      const exact = openAt(narrow, span(work, 0.4, 0.8))
      if (exact && exact.length <= 2 * runs.length) runs = exact
      else start = wide
    }
    if (runs) pieces = makeTangent(places, fitPieces(places, runs), closed, Math.max(kinds.line ?? 0, kinds.arc ?? 0))
  }
  if (choice.spline !== undefined)
    pieces = pieces ? withSplines(pieces, places, turns, closed, choice) : splinesAlone(turns, n, closed)
  if (!pieces) return false
  return draw(s, row, number, pieces, choice)
}

/** Whether a closed row runs round an ellipse without an edge that spans much of it: else it only passes through some places of one. */
function roundIt(places: readonly Place[], e: FittedEllipse): boolean {
  const [cos, sin] = [Math.cos(e.turn), Math.sin(e.turn)]
  const angles = places.map(([x, y]) => {
    const [dx, dy] = [x - e.centre[0], y - e.centre[1]]
    return (Math.atan2((-sin * dx + cos * dy) / e.short, (cos * dx + sin * dy) / e.long) * 180) / Math.PI
  })
  return angles.every((a, i) => {
    const step = angles[(i + 1) % angles.length] - a
    return Math.abs(step - 360 * Math.round(step / 360)) <= mostSpan
  })
}

/** Where the longest run ends: a joint that any division has. */
const longestEnd = (runs: readonly Run[]): number =>
  runs.reduce((best, r) => (r.to - r.from > best.to - best.from ? r : best)).to

/** Stretches between corners, each one spline. */
function splinesAlone(turns: readonly number[], n: number, closed: boolean): Piece[] {
  const corners = turns.flatMap((t, i) => (Math.abs(t) > cornerOver ? [i] : []))
  if (!closed) {
    const ends = [0, ...corners, n - 1]
    return ends.slice(1).map((to, i) => ({ kind: 'spline', from: ends[i], to }))
  }
  if (!corners.length) return [{ kind: 'spline', from: 0, to: n }]
  return corners.map((from, i) => ({
    kind: 'spline',
    from,
    to: i + 1 < corners.length ? corners[i + 1] : corners[0] + n,
  }))
}

/**
 * Whether a piece was only the longest that the tolerance allows over a freely bending stretch: its places leave it by a good share of the
 * tolerance, and each on the side of the one before, as noise does not (autocorrelation of the residuals).
 */
function strained(p: Piece, at: (i: number) => Place, tolerance: number): 'yes' | 'no' | 'perhaps' {
  if (p.kind === 'spline') return 'no'
  const few = p.to - p.from < fewEdges
  let most = 0,
    square = 0,
    along = 0,
    last = 0
  for (let i = p.from; i <= p.to; i++) {
    const q = at(i)
    const off =
      p.kind === 'line'
        ? (q[0] - p.line.at[0]) * p.line.way[1] - (q[1] - p.line.at[1]) * p.line.way[0]
        : Math.hypot(q[0] - p.circle.centre[0], q[1] - p.circle.centre[1]) - p.circle.radius
    most = Math.max(most, Math.abs(off))
    square += off * off
    along += off * last
    last = off
  }
  if (most <= strain * tolerance) return few ? 'perhaps' : 'no'
  if (along > 0.15 * square) return 'yes'
  // Of a dozen places it cannot be told.
  return p.to - p.from < unclearEdges ? 'perhaps' : 'no'
}

/** Two strained pieces or more in a row that meet without a corner become one spline, with the short ones between them. */
function withSplines(
  pieces: readonly Piece[],
  places: readonly Place[],
  turns: readonly number[],
  closed: boolean,
  choice: TraceChoice,
): Piece[] {
  const n = places.length
  const at = (i: number) => places[((i % n) + n) % n]
  const state = pieces.map((p) => strained(p, at, (p.kind === 'line' ? choice.line : choice.arc) ?? 0))
  const bent = state.map((x) => x === 'yes'),
    loose = state.map((x) => x !== 'no')
  const cornered = (i: number) => Math.abs(turns[((i % n) + n) % n]) > cornerOver
  /** Whether one spline holds a stretch, with hardly more to it than the pieces whose place it takes. */
  const fits = (from: number, to: number, count: number, whole = false) => {
    const row = Array.from({ length: to - from + (whole ? 0 : 1) }, (_, k) => at(from + k))
    const f = leanSpline(row, whole, choice.spline!)
    return !!f && f.most <= choice.spline! && f.spline.control.length <= 2.6 * count + 4
  }
  // A round that has no corner and no piece that is meant is one spline.
  const smooth = closed && turns.every((t) => Math.abs(t) <= cornerOver)
  if (smooth && loose.every(Boolean) && bent.filter(Boolean).length >= 3 && fits(0, n, pieces.length, true))
    return [{ kind: 'spline', from: 0, to: n }]
  const out: Piece[] = []
  for (let i = 0; i < pieces.length;) {
    let j = i
    while (loose[j] && j + 1 < pieces.length && loose[j + 1] && !cornered(pieces[j].to)) j++
    const many = bent.slice(i, j + 1).filter(Boolean).length
    if (loose[i] && many >= 2 && j - i >= 2 && fits(pieces[i].from, pieces[j].to, j - i + 1))
      out.push({ kind: 'spline', from: pieces[i].from, to: pieces[j].to })
    else out.push(...pieces.slice(i, j + 1))
    i = j + 1
  }
  // A closed row may have been opened within such a stretch.
  const [first, last] = [out[0], out[out.length - 1]]
  if (
    closed &&
    out.length > 1 &&
    first.kind === 'spline' &&
    last.kind === 'spline' &&
    !cornered(first.from) &&
    fits(last.from - n, first.to, pieces.length)
  ) {
    out.pop()
    out[0] = { kind: 'spline', from: last.from - n, to: first.to }
  }
  return out
}

function draw(
  s: Sketch,
  { places, closed }: Row,
  number: number,
  pieces: readonly Piece[],
  choice: TraceChoice,
): boolean {
  const n = places.length
  const at = (i: number) => places[((i % n) + n) % n]
  const gap = (a: Place, b: Place) => Math.hypot(a[0] - b[0], a[1] - b[1])
  const only = pieces[0]
  if (pieces.length === 1 && only.kind === 'spline' && closed) {
    const f = leanSpline(places, true, choice.spline!)
    if (!f) return false
    const base = s.points.length
    s.points.push(...f.spline.control)
    const control = f.spline.control.map((_, i) => base + i)
    put(s, { kind: 'spline', control, closed: true }, number, [f.most])
    return true
  }
  const first = s.points.length
  const joints: number[] = []
  const reach = Math.max(...Object.values(choice)) * 4
  pieces.forEach((p, i) => {
    const before = i > 0 ? pieces[i - 1] : closed ? pieces[pieces.length - 1] : null
    const shared = at(p.from)
    const wide = reach + Math.min(gap(at(p.from), at(p.from + 1)), gap(at(p.from), at(p.from - 1)))
    s.points.push(before && pieces.length > 1 ? junction(before, p, shared, wide) : ownEnd(p, shared))
    joints.push(first + i)
  })
  if (closed) joints.push(first)
  else {
    const last = pieces[pieces.length - 1]
    s.points.push(ownEnd(last, at(last.to)))
    joints.push(first + pieces.length)
  }
  pieces.forEach((p, i) => {
    const [from, to] = [joints[i], joints[i + 1]]
    const [a, b] = [s.points[from], s.points[to]]
    const own = Array.from({ length: p.to - p.from + 1 }, (_, k) => at(p.from + k))
    if (p.kind === 'line') {
      const l = gap(a, b) || 1
      const offs = own.map((q) => Math.abs((q[0] - a[0]) * (b[1] - a[1]) - (q[1] - a[1]) * (b[0] - a[0])) / l)
      put(s, { kind: 'line', from, to }, number, offs)
    } else if (p.kind === 'arc') {
      const centre = throughEnds(p.circle.centre, a, b, own)
      s.points.push(centre)
      const r = gap(centre, a)
      put(
        s,
        { kind: 'arc', from, to, centre: s.points.length - 1, ccw: p.ccw },
        number,
        own.slice(1, -1).map((q) => Math.abs(gap(q, centre) - r)),
      )
    } else {
      const f = leanSpline([a, ...own.slice(1, -1), b], false, choice.spline!)
      if (!f) {
        put(s, { kind: 'spline', through: [from, to] }, number, [])
        return
      }
      const base = s.points.length
      const { control, knots } = f.spline
      s.points.push(...control.slice(1, -1))
      const list = control.map((_, k) => (k === 0 ? from : k === control.length - 1 ? to : base + k - 1))
      put(s, { kind: 'spline', control: list, knots: [...knots] }, number, [f.most])
    }
  })
  return true
}

/** Where a piece begins or ends that has no neighbour there. */
function ownEnd(p: Piece, place: Place): Place {
  if (p.kind === 'line') {
    const { at, way } = p.line
    const t = (place[0] - at[0]) * way[0] + (place[1] - at[1]) * way[1]
    return [at[0] + t * way[0], at[1] + t * way[1]]
  }
  if (p.kind === 'spline') return place
  const { centre, radius } = p.circle
  const d = Math.hypot(place[0] - centre[0], place[1] - centre[1]) || 1
  return [centre[0] + ((place[0] - centre[0]) * radius) / d, centre[1] + ((place[1] - centre[1]) * radius) / d]
}

/** The centre that is as far from both ends: the fitted one where it is, else moved along the middle line until the places are held best. */
function throughEnds(centre: Place, a: Place, b: Place, own: readonly Place[]): Place {
  const [mx, my] = [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]
  const [ux, uy] = [b[0] - a[0], b[1] - a[1]]
  const l = Math.hypot(ux, uy)
  if (!(l > 0)) return centre
  const h = (-(centre[0] - mx) * uy + (centre[1] - my) * ux) / l
  const at = (k: number): Place => [mx - (k * uy) / l, my + (k * ux) / l]
  const r = Math.hypot(centre[0] - a[0], centre[1] - a[1])
  if (Math.abs(Math.hypot(centre[0] - b[0], centre[1] - b[1]) - r) < 1e-9 * r) return at(h)
  const worst = (k: number) => {
    const c = at(k)
    const radius = Math.hypot(c[0] - a[0], c[1] - a[1])
    return own.reduce((m, q) => Math.max(m, Math.abs(Math.hypot(q[0] - c[0], q[1] - c[1]) - radius)), 0)
  }
  let low = h - 0.3 * r,
    high = h + 0.3 * r
  for (let i = 0; i < 50; i++) {
    const [x, y] = [low + (high - low) / 3, high - (high - low) / 3]
    if (worst(x) < worst(y)) high = y
    else low = x
  }
  const found = (low + high) / 2
  return at(worst(found) < worst(h) ? found : h)
}
