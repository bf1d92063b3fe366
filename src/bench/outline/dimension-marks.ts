/** Where the lines and the figure of a dimension stand, in the plane of the drawing. */
import type { Dimension } from '@/core/outline/constraint'
import { endsOf, type Curve, type Drawing, type Place } from '@/core/outline/drawing'
import { alongOf, nearestOn } from '@/core/outline/parametric'

type Line = Extract<Curve, { kind: 'line' }>
type Circle = Extract<Curve, { kind: 'circle' }>
type Arc = Extract<Curve, { kind: 'arc' }>

export interface DimensionMarks {
  readonly lines: readonly (readonly Place[])[]
  /** Ends of the measured way. */
  readonly ends: readonly Place[]
  /** Where the figure stands. */
  readonly at: Place
}

const mid = (a: Place, b: Place): Place => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2]
const far = (a: Place, b: Place) => Math.hypot(a[0] - b[0], a[1] - b[1])

function middleOf(d: Drawing): Place {
  const n = d.points.length || 1
  return [d.points.reduce((s, p) => s + p[0], 0) / n, d.points.reduce((s, p) => s + p[1], 0) / n]
}

/** The two places that a straight dimension runs between. */
function endsFor(d: Drawing, c: Dimension): [Place, Place] | null {
  const [a, b] = c.curves
  const [p, q] = c.points
  if (c.points.length === 2) return [d.points[p], d.points[q]]
  const place = (i: number): Place => {
    const k = d.curves[i]
    return 'centre' in k ? d.points[k.centre] : alongOf(d, k)(0.5)
  }
  if (c.points.length === 1) return [d.points[p], nearestOn(d, d.curves[a], d.points[p]).at]
  if (b !== undefined) {
    const [first, second] = [d.curves[a], d.curves[b]]
    if (second.kind === 'line' && first.kind !== 'line') return [place(a), footOn(d, b, place(a))]
    if (first.kind === 'line') return [footOn(d, a, place(b)), place(b)]
    return [place(a), place(b)]
  }
  const k = d.curves[a]
  const ends = endsOf(k)
  return k.kind === 'line' && ends ? [d.points[ends[0]], d.points[ends[1]]] : null
}

/** The foot of a place on the endless line of a curve. */
function footOn(d: Drawing, line: number, p: Place): Place {
  const c = d.curves[line] as { from: number; to: number }
  const [s, e] = [d.points[c.from], d.points[c.to]]
  const w: Place = [e[0] - s[0], e[1] - s[1]]
  const t = ((p[0] - s[0]) * w[0] + (p[1] - s[1]) * w[1]) / (w[0] * w[0] + w[1] * w[1] || 1)
  return [s[0] + t * w[0], s[1] + t * w[1]]
}

/** A place beyond another, seen from a third; `r`: how far from that. */
function beyondOf(from: Place, through: Place, r: number): Place {
  const l = far(through, from) || 1
  return [from[0] + ((through[0] - from[0]) / l) * r, from[1] + ((through[1] - from[1]) / l) * r]
}

/** The line of a radius or diameter, through the rim and on to the figure. */
function marksOfRound(d: Drawing, c: Dimension, curve: Circle | Arc, px: number): DimensionMarks {
  const m = d.points[curve.centre]
  const r = curve.kind === 'circle' ? curve.radius : far(d.points[curve.from], m)
  const toward = curve.kind === 'arc' ? alongOf(d, curve)(0.5) : ([m[0] + r * 0.7, m[1] + r * 0.7] as Place)
  const at: Place = c.place ?? beyondOf(m, toward, r + 40 * px)
  const rim = beyondOf(m, at, r)
  const other: Place = c.kind === 'diameter' ? [2 * m[0] - rim[0], 2 * m[1] - rim[1]] : m
  return { lines: [[other, rim, at]], ends: [other, rim], at }
}

/** Where two endless lines meet; halfway along the first where they never do. */
function meetingOf([s, e]: readonly [Place, Place], [o, p]: readonly [Place, Place]): Place {
  const [v, w]: [Place, Place] = [
    [e[0] - s[0], e[1] - s[1]],
    [p[0] - o[0], p[1] - o[1]],
  ]
  const det = v[0] * w[1] - v[1] * w[0]
  const t = Math.abs(det) > 1e-12 ? ((o[0] - s[0]) * w[1] - (o[1] - s[1]) * w[0]) / det : 0.5
  return [s[0] + t * v[0], s[1] + t * v[1]]
}

/** The arc of an angle, between two lines or a line and level. */
function marksOfAngle(d: Drawing, c: Dimension, line: Line, second: Line | null, px: number): DimensionMarks {
  const [s, e] = [d.points[line.from], d.points[line.to]]
  const [o, p]: [Place, Place] = second ? [d.points[second.from], d.points[second.to]] : [s, [s[0] + 1, s[1]]]
  const m = meetingOf([s, e], [o, p])
  const side = (q: Place, r: Place) => {
    const f = far(q, m) > far(r, m) ? q : r
    return Math.atan2(f[1] - m[1], f[0] - m[0])
  }
  const from = side(s, e)
  let sweep = (second ? side(o, p) : 0) - from
  while (sweep > Math.PI) sweep -= 2 * Math.PI
  while (sweep < -Math.PI) sweep += 2 * Math.PI
  const r = c.place ? Math.max(far(c.place, m), 12 * px) : 44 * px
  const row = Array.from({ length: 17 }, (_, i): Place => {
    const g = from + (sweep * i) / 16
    return [m[0] + r * Math.cos(g), m[1] + r * Math.sin(g)]
  })
  const g = from + sweep / 2
  return {
    lines: second ? [row] : [row, [m, [m[0] + r + 8 * px, m[1]]]],
    ends: [row[0], row[16]],
    at: c.place ?? [m[0] + (r + 14 * px) * Math.cos(g), m[1] + (r + 14 * px) * Math.sin(g)],
  }
}

/** The way along which a straight dimension measures. */
function alongWay(c: Dimension, p: Place, q: Place): Place {
  if (c.along === 'x') return [1, 0]
  if (c.along === 'y') return [0, 1]
  const l = far(p, q)
  return l > 0 ? [(q[0] - p[0]) / l, (q[1] - p[1]) / l] : [1, 0]
}

/** The line of a straight dimension beside what it measures, and the two that lead there. */
function marksOfLength(c: Dimension, [p, q]: readonly [Place, Place], centre: Place, px: number): DimensionMarks {
  const along = alongWay(c, p, q)
  const across: Place = [-along[1], along[0]]
  const m = mid(p, q)
  const height = (v: Place) => (v[0] - m[0]) * across[0] + (v[1] - m[1]) * across[1]
  const outward = height(centre) > 1e-9 ? -1 : 1
  const reach = Math.max(Math.abs(height(p)), Math.abs(height(q)))
  const h = c.place ? height(c.place) : outward * (reach + 24 * px)
  const level = (v: Place): Place => [v[0] + (h - height(v)) * across[0], v[1] + (h - height(v)) * across[1]]
  const [u, w] = [level(p), level(q)]
  const beyond = (v: Place, x: Place): Place => beyondOf(v, x, far(v, x) + 5 * px)
  return {
    lines: [
      [u, w],
      [p, beyond(p, u)],
      [q, beyond(q, w)],
    ],
    ends: [u, w],
    at: c.place ? level(c.place) : mid(u, w),
  }
}

/** The marks of a dimension; `px`: mm that a pixel is. */
export function marksOf(d: Drawing, c: Dimension, px: number): DimensionMarks {
  const centre = middleOf(d)
  const [a, b] = c.curves
  const curve = a === undefined ? undefined : d.curves[a]
  if ((c.kind === 'radius' || c.kind === 'diameter') && curve && (curve.kind === 'circle' || curve.kind === 'arc'))
    return marksOfRound(d, c, curve, px)
  if (c.kind === 'angle' && curve?.kind === 'line') {
    const second = b === undefined ? null : d.curves[b]
    return marksOfAngle(d, c, curve, second?.kind === 'line' ? second : null, px)
  }
  const ends = endsFor(d, c)
  if (ends) return marksOfLength(c, ends, centre, px)
  // The length of a curve: the figure stands outside, at a line from the curve.
  const on = curve ? alongOf(d, curve)(0.3) : centre
  const at: Place = c.place ?? beyondOf(centre, on, far(on, centre) + 26 * px)
  return { lines: [[on, at]], ends: [on], at }
}
