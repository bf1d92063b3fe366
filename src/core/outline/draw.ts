/** Curves added to a drawing, each with the constraints that make it what it is called. */
import { wayOut } from './along'
import type { Constraint } from './constraint'
import type { Curve, Drawing, Place } from './drawing'
import type { Lettering } from './lettering-schema'

/** A place to draw to: a free one, a point that is there, or one on a curve or in its middle. */
export interface Anchor {
  readonly at: Place
  readonly point?: number
  readonly onCurve?: number
  readonly middleOf?: number
}

/** Adds to a drawing; `drawing()` gives what it has become. */
export class Drawer {
  private readonly points: Place[]
  private readonly curves: Curve[]
  private readonly constraints: Constraint[]
  constructor(private readonly from: Drawing) {
    this.points = [...from.points]
    this.curves = [...from.curves]
    this.constraints = [...(from.constraints ?? [])]
  }

  point(a: Anchor): number {
    if (a.point !== undefined) return a.point
    const i = this.points.push(a.at) - 1
    if (a.middleOf !== undefined) this.hold('midpoint', [i], [a.middleOf])
    else if (a.onCurve !== undefined) this.hold('onCurve', [i], [a.onCurve])
    return i
  }
  free(at: Place): number {
    return this.points.push(at) - 1
  }
  curve(c: Curve): number {
    return this.curves.push(c) - 1
  }
  hold(kind: Constraint['kind'], points: number[], curves: number[]): void {
    this.constraints.push({ kind, points, curves })
  }
  at(i: number): Place {
    return this.points[i]
  }
  drawing(): Drawing {
    return {
      ...this.from,
      points: this.points,
      curves: this.curves,
      ...(this.constraints.length ? { constraints: this.constraints } : {}),
    }
  }
}

const far = (a: Place, b: Place) => Math.hypot(a[0] - b[0], a[1] - b[1])
const samePlace = (a: Place, b: Place) => far(a, b) < 1e-9

/** A line; `level` holds it horizontal or vertical. Null for one without length. */
export function drawLine(d: Drawing, a: Anchor, b: Anchor, level?: 'horizontal' | 'vertical' | null): Drawing | null {
  if (samePlace(a.at, b.at)) return null
  const w = new Drawer(d)
  const [from, to] = [w.point(a), w.point(b)]
  if (from === to) return null
  const i = w.curve({ kind: 'line', from, to })
  if (level) w.hold(level, [], [i])
  return w.drawing()
}

/** The circle through three places; null where they lie on a line. */
export function circleThrough(a: Place, b: Place, c: Place): { centre: Place; radius: number } | null {
  const [bx, by, cx, cy] = [b[0] - a[0], b[1] - a[1], c[0] - a[0], c[1] - a[1]]
  const det = 2 * (bx * cy - by * cx)
  const size = Math.max(Math.hypot(bx, by), Math.hypot(cx, cy))
  if (!(Math.abs(det) > 1e-9 * size * size)) return null
  const [b2, c2] = [bx * bx + by * by, cx * cx + cy * cy]
  const [x, y] = [(cy * b2 - by * c2) / det, (bx * c2 - cx * b2) / det]
  return { centre: [a[0] + x, a[1] + y], radius: Math.hypot(x, y) }
}

/** An arc from one place to another through a third. */
export function drawArcThrough(d: Drawing, a: Anchor, b: Anchor, through: Place): Drawing | null {
  const c = circleThrough(a.at, through, b.at)
  if (!c) return null
  const w = new Drawer(d)
  const [from, to] = [w.point(a), w.point(b)]
  if (from === to) return null
  const turn = (through[0] - a.at[0]) * (b.at[1] - a.at[1]) - (through[1] - a.at[1]) * (b.at[0] - a.at[0])
  w.curve({ kind: 'arc', from, to, centre: w.free(c.centre), ccw: turn > 0 })
  return w.drawing()
}

/** An arc round a centre from a place to the direction of another. */
export function drawArcAround(d: Drawing, centre: Anchor, a: Anchor, b: Anchor, ccw: boolean): Drawing | null {
  const r = far(centre.at, a.at),
    l = far(centre.at, b.at)
  if (!(r > 1e-9) || !(l > 1e-9)) return null
  const w = new Drawer(d)
  const m = w.point(centre)
  const from = w.point(a)
  const end: Place = [
    centre.at[0] + ((b.at[0] - centre.at[0]) * r) / l,
    centre.at[1] + ((b.at[1] - centre.at[1]) * r) / l,
  ]
  // A point that is there already is met by the arc once the drawing is solved.
  const to = b.point !== undefined ? b.point : w.free(end)
  if (to === from || samePlace(end, a.at)) return null
  w.curve({ kind: 'arc', from, to, centre: m, ccw })
  return w.drawing()
}

/** An arc that goes on tangent from the end of a curve to a place. */
export function drawTangentArc(d: Drawing, curve: number, end: number, b: Anchor): Drawing | null {
  const into = wayOut(d, d.curves[curve], end)
  const p = d.points[end]
  if (!into) return null
  const way: Place = [-into[0], -into[1]]
  const [dx, dy] = [b.at[0] - p[0], b.at[1] - p[1]]
  const side = way[0] * dy - way[1] * dx
  if (!(Math.abs(side) > 1e-9 * Math.hypot(dx, dy))) return null
  const r = (dx * dx + dy * dy) / (2 * side)
  const w = new Drawer(d)
  const to = w.point(b)
  if (to === end) return null
  const centre = w.free([p[0] - r * way[1], p[1] + r * way[0]])
  const i = w.curve({ kind: 'arc', from: end, to, centre, ccw: r > 0 })
  w.hold('tangent', [], [curve, i])
  return w.drawing()
}

export function drawCircle(d: Drawing, centre: Anchor, radius: number): Drawing | null {
  if (!(radius > 1e-9)) return null
  const w = new Drawer(d)
  w.curve({ kind: 'circle', centre: w.point(centre), radius })
  return w.drawing()
}

/** An ellipse by its centre, an end of one diameter, and how far it reaches to the side. */
export function drawEllipse(d: Drawing, centre: Anchor, end: Place, side: number): Drawing | null {
  const a = far(centre.at, end),
    b = Math.abs(side)
  if (!(a > 1e-9) || !(b > 1e-9)) return null
  const turn = (Math.atan2(end[1] - centre.at[1], end[0] - centre.at[0]) * 180) / Math.PI
  const w = new Drawer(d)
  w.curve({
    kind: 'ellipse',
    centre: w.point(centre),
    long: Math.max(a, b),
    short: Math.min(a, b),
    turn: b > a ? turn + 90 : turn,
  })
  return w.drawing()
}

/** A rectangle along the plane's directions between two opposite corners. */
export function drawRectangle(d: Drawing, a: Anchor, b: Anchor): Drawing | null {
  const [p, q] = [a.at, b.at]
  if (Math.abs(p[0] - q[0]) < 1e-9 || Math.abs(p[1] - q[1]) < 1e-9) return null
  const w = new Drawer(d)
  const corners = [w.point(a), w.free([q[0], p[1]]), w.point(b), w.free([p[0], q[1]])]
  corners.forEach((from, i) => {
    const k = w.curve({ kind: 'line', from, to: corners[(i + 1) % 4] })
    w.hold(i % 2 ? 'vertical' : 'horizontal', [], [k])
  })
  return w.drawing()
}

/** A slot: two half circles round two places, joined by tangent lines. */
export function drawSlot(d: Drawing, a: Anchor, b: Anchor, radius: number): Drawing | null {
  const l = far(a.at, b.at)
  if (!(l > 1e-9) || !(radius > 1e-9)) return null
  const n: Place = [(-(b.at[1] - a.at[1]) * radius) / l, ((b.at[0] - a.at[0]) * radius) / l]
  const w = new Drawer(d)
  const [m, k] = [w.point(a), w.point(b)]
  const at = (p: Place, s: number) => w.free([p[0] + s * n[0], p[1] + s * n[1]])
  const [p, q, r, s] = [at(a.at, -1), at(b.at, -1), at(b.at, 1), at(a.at, 1)]
  const under = w.curve({ kind: 'line', from: p, to: q })
  const right = w.curve({ kind: 'arc', from: q, to: r, centre: k, ccw: true })
  const over = w.curve({ kind: 'line', from: r, to: s })
  const left = w.curve({ kind: 'arc', from: s, to: p, centre: m, ccw: true })
  w.hold('tangent', [], [under, right])
  w.hold('tangent', [], [right, over])
  w.hold('tangent', [], [over, left])
  w.hold('tangent', [], [left, under])
  w.hold('equal', [], [right, left])
  return w.drawing()
}

/** A regular polygon round a centre, one corner at a place; its corners lie on a construction circle. */
export function drawPolygon(d: Drawing, centre: Anchor, corner: Anchor, sides: number): Drawing | null {
  const r = far(centre.at, corner.at)
  if (!(r > 1e-9) || sides < 3 || sides > 200) return null
  const start = Math.atan2(corner.at[1] - centre.at[1], corner.at[0] - centre.at[0])
  const w = new Drawer(d)
  const m = w.point(centre)
  const corners = Array.from({ length: sides }, (_, i) => {
    if (!i) return w.point(corner)
    const a = start + (2 * Math.PI * i) / sides
    return w.free([centre.at[0] + r * Math.cos(a), centre.at[1] + r * Math.sin(a)])
  })
  const lines = corners.map((from, i) => w.curve({ kind: 'line', from, to: corners[(i + 1) % sides] }))
  const round = w.curve({ kind: 'circle', centre: m, radius: r, construction: true })
  w.hold('onCurve', corners, [round])
  w.hold('equal', [], lines)
  return w.drawing()
}

/** A spline through places, or with them as control points. */
export function drawSpline(
  d: Drawing,
  anchors: readonly Anchor[],
  sort: 'through' | 'control',
  closed: boolean,
): Drawing | null {
  if (anchors.length < (sort === 'control' ? 4 : closed ? 3 : 2)) return null
  const w = new Drawer(d)
  const list = anchors.map((a) => w.point(a))
  if (sort === 'through') w.curve({ kind: 'spline', through: list, ...(closed ? { closed } : {}) })
  else if (closed) w.curve({ kind: 'spline', control: list, closed })
  else {
    const inner = list.length - 4
    const knots = [0, 0, 0, 0, ...Array.from({ length: inner }, (_, i) => (i + 1) / (inner + 1)), 1, 1, 1, 1]
    w.curve({ kind: 'spline', control: list, knots })
  }
  return w.drawing()
}

export function drawPoint(d: Drawing, a: Anchor): Drawing | null {
  if (a.point !== undefined) return null
  const w = new Drawer(d)
  w.point(a)
  return w.drawing()
}

/** Words at a place; where that is on a circle or arc, they run round it. */
export function drawLettering(
  d: Drawing,
  a: Anchor,
  l: Pick<Lettering, 'text' | 'size' | 'font' | 'align'>,
): Drawing | null {
  if (!l.text.trim() || !(l.size > 0)) return null
  const w = new Drawer(d)
  const on = a.onCurve
  const round = on !== undefined && (d.curves[on].kind === 'circle' || d.curves[on].kind === 'arc')
  const at = w.point(a)
  return {
    ...w.drawing(),
    lettering: [...(d.lettering ?? []), { ...l, at, spacing: 0, turn: 0, ...(round ? { around: on } : {}) }],
  }
}
