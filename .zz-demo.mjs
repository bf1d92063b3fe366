// src/core/formats/format.ts
var certainty = { bytes: 4, length: 3, heading: 2, words: 1, none: 0 }
var defineFormat = (format) => format

// src/core/base/step-error.ts
var StepError = class extends Error {
  constructor(code, message, details = {}) {
    super(message)
    this.code = code
    this.details = details
    this.name = 'StepError'
  }
  code
  details
}

// src/core/base/say.ts
var many = (n) =>
  Math.round(n)
    .toString()
    .replace(/\B(?=(\d{3})+$)/g, '\u202F')
var plural = (n, one, more = `${one}s`) => `${many(n)} ${n === 1 ? one : more}`

// src/core/formats/model.ts
var damaged = (what, where, tryThis) =>
  new StepError('damaged-file', `The file is damaged: ${what} (${where}).`, tryThis ? { tryThis } : {})

// src/core/outline/drawing.ts
import { z as z3 } from 'zod'

// src/core/outline/constraint.ts
import { z } from 'zod'
var index = z.int().min(0)
var constraintWords = {
  coincident: 'coincident',
  onCurve: 'on curve',
  midpoint: 'midpoint',
  horizontal: 'horizontal',
  vertical: 'vertical',
  parallel: 'parallel',
  perpendicular: 'perpendicular',
  tangent: 'tangent',
  equal: 'equal',
  concentric: 'concentric',
  collinear: 'collinear',
  symmetric: 'symmetric',
  fixed: 'fixed',
}
var constraintKinds = Object.keys(constraintWords)
var dimensionWords = {
  length: 'length',
  distance: 'distance',
  radius: 'radius',
  diameter: 'diameter',
  angle: 'angle',
  arcLength: 'arc length',
  longRadius: 'long radius',
  shortRadius: 'short radius',
}
var dimensionKinds = Object.keys(dimensionWords)
var parts = { points: z.array(index).max(50).default([]), curves: z.array(index).max(50).default([]) }
var constraintSchema = z.object({ kind: z.enum(constraintKinds), ...parts }).strict()
var dimensionSchema = z
  .object({
    kind: z.enum(dimensionKinds),
    ...parts,
    /** mm or degrees, or arithmetic with named values; left out: what is measured. */
    value: z.union([z.number().finite(), z.string().trim().min(1).max(200)]).optional(),
    /** By which other dimensions and steps speak of it. */
    name: z.string().max(40).optional(),
    /** Of a distance between two points: only across or only up. */
    along: z.enum(['x', 'y']).optional(),
    /** Only measured, not held to. */
    driven: z.boolean().optional(),
    /** Where its figure stands, mm in the plane. */
    place: z.tuple([z.number(), z.number()]).optional(),
  })
  .strict()

// src/core/outline/lettering-schema.ts
import { z as z2 } from 'zod'
var letteringFonts = { text: 'Text', heading: 'Heading', figures: 'Figures' }
var letteringSchema = z2
  .object({
    text: z2.string().min(1).max(500),
    /** The point it begins at, or is centred on. */
    at: z2.int().min(0),
    /** Height of a capital letter, mm. */
    size: z2.number().positive().max(1e4),
    font: z2.enum(Object.keys(letteringFonts)).default('text'),
    /** Between letters, more than the font has, mm. */
    spacing: z2.number().min(-100).max(1e3).default(0),
    /** Against the first direction, degrees. */
    turn: z2.number().default(0),
    align: z2.enum(['left', 'centre', 'right']).default('left'),
    /** A circle or arc that the letters stand on, by number; `at` then tells where. */
    around: z2.int().min(0).optional(),
    /** Inside of the circle, reading the other way. */
    inside: z2.boolean().optional(),
  })
  .strict()

// src/core/outline/drawing.ts
var index2 = z3.int().min(0)
var common = { construction: z3.boolean().optional() }
var lineSchema = z3.object({ kind: z3.literal('line'), from: index2, to: index2, ...common })
var arcSchema = z3.object({
  kind: z3.literal('arc'),
  from: index2,
  to: index2,
  centre: index2,
  ccw: z3.boolean(),
  ...common,
})
var circleSchema = z3.object({ kind: z3.literal('circle'), centre: index2, radius: z3.number().positive(), ...common })
var ellipseSchema = z3.object({
  kind: z3.literal('ellipse'),
  centre: index2,
  /** Half the long and half the short width, mm. */
  long: z3.number().positive(),
  short: z3.number().positive(),
  /** Of the long way against the first direction, degrees. */
  turn: z3.number(),
  ...common,
})
var splineSchema = z3.object({
  kind: z3.literal('spline'),
  /** Points the curve runs through; or control points of a cubic. */
  through: z3.array(index2).min(2).optional(),
  control: z3.array(index2).min(3).optional(),
  /** Of a cubic with control points: its knots. Left out for one that runs round smoothly with even knots. */
  knots: z3.array(z3.number()).optional(),
  closed: z3.boolean().optional(),
  ...common,
})
var curveSchema = z3.discriminatedUnion('kind', [
  lineSchema,
  arcSchema,
  circleSchema,
  ellipseSchema,
  splineSchema.refine(
    (s) => !!s.through !== !!s.control,
    'a spline has either points it runs through or control points',
  ),
])
var place = z3.tuple([z3.number(), z3.number()])
var drawingSchema = z3.object(
  {
    points: z3.array(place),
    curves: z3.array(curveSchema),
    constraints: z3.array(constraintSchema).optional(),
    dimensions: z3.array(dimensionSchema).optional(),
    lettering: z3.array(letteringSchema).max(500).optional(),
  },
  { error: (issue) => (issue.input === void 0 ? 'nothing is drawn yet' : void 0) },
)
function endsOf(c) {
  if (c.kind === 'line' || c.kind === 'arc') return [c.from, c.to]
  if (c.kind === 'circle' || c.kind === 'ellipse' || c.closed) return null
  const list = c.through ?? c.control ?? []
  return [list[0], list[list.length - 1]]
}

// src/core/math/banded.ts
function solveBanded(count, round, rows, want, held) {
  const start = new Int32Array(count)
  for (let i = 0; i < count; i++) start[i] = i
  const at2 = (i) => (round ? i % count : i)
  for (const r of rows)
    for (let i = 0; i < 4; i++)
      for (let j = 0; j < 4; j++) {
        if (!r.n[i] || !r.n[j]) continue
        const a = at2(r.first + i),
          b = at2(r.first + j)
        if (b < start[a]) start[a] = b
      }
  const row = Array.from({ length: count }, (_, i) => new Float64Array(i - start[i] + 1))
  const x = new Float64Array(count),
    y = new Float64Array(count)
  rows.forEach((r, k) => {
    for (let i = 0; i < 4; i++) {
      if (!r.n[i]) continue
      const a = at2(r.first + i)
      x[a] += r.n[i] * want[k][0]
      y[a] += r.n[i] * want[k][1]
      for (let j = 0; j < 4; j++) {
        const b = at2(r.first + j)
        if (r.n[j] && b <= a) row[a][b - start[a]] += r.n[i] * r.n[j]
      }
    }
  })
  const get = (i, j) => (j >= start[i] && j <= i ? row[i][j - start[i]] : 0)
  held.forEach((h, k) => {
    const [hx, hy] = want[k === 0 ? 0 : want.length - 1]
    for (let i = 0; i < count; i++) {
      const w = i >= h ? get(i, h) : get(h, i)
      if (i === h || !w) continue
      x[i] -= w * hx
      y[i] -= w * hy
      if (i > h) row[i][h - start[i]] = 0
      else row[h][i - start[h]] = 0
    }
    row[h][h - start[h]] = 1
    x[h] = hx
    y[h] = hy
  })
  for (let i = 0; i < count; i++) {
    for (let j = start[i]; j < i; j++) {
      let s = row[i][j - start[i]]
      for (let k = Math.max(start[i], start[j]); k < j; k++) s -= row[i][k - start[i]] * row[j][k - start[j]]
      row[i][j - start[i]] = s / row[j][j - start[j]]
    }
    let d = row[i][i - start[i]]
    for (let k = start[i]; k < i; k++) d -= row[i][k - start[i]] ** 2
    if (!(d > 1e-13)) return null
    row[i][i - start[i]] = Math.sqrt(d)
  }
  for (let i = 0; i < count; i++) {
    for (let k = start[i]; k < i; k++) {
      x[i] -= row[i][k - start[i]] * x[k]
      y[i] -= row[i][k - start[i]] * y[k]
    }
    x[i] /= row[i][i - start[i]]
    y[i] /= row[i][i - start[i]]
  }
  for (let i = count - 1; i >= 0; i--) {
    x[i] /= row[i][i - start[i]]
    y[i] /= row[i][i - start[i]]
    for (let k = start[i]; k < i; k++) {
      x[k] -= row[i][k - start[i]] * x[i]
      y[k] -= row[i][k - start[i]] * y[i]
    }
  }
  return Array.from(x, (v, i) => [v, y[i]])
}

// src/core/math/even-cubics.ts
var evenBasis = (t) => {
  const s = 1 - t
  return [(s * s * s) / 6, (3 * t * t * t - 6 * t * t + 4) / 6, (3 * s * s * s - 6 * s * s + 4) / 6, (t * t * t) / 6]
}

// src/core/outline/spline.ts
var degree = 3
function spanOf(knots, count, t) {
  if (t >= knots[count]) return count - 1
  let low = degree,
    high = count
  while (high - low > 1) {
    const mid = (low + high) >> 1
    if (t < knots[mid]) high = mid
    else low = mid
  }
  return low
}
function basis(knots, span, t) {
  const n = [1, 0, 0, 0]
  const left = [0, 0, 0, 0],
    right = [0, 0, 0, 0]
  for (let j = 1; j <= degree; j++) {
    left[j] = t - knots[span + 1 - j]
    right[j] = knots[span + j] - t
    let saved = 0
    for (let r = 0; r < j; r++) {
      const w = n[r] / (right[r + 1] + left[j - r])
      n[r] = saved + right[r + 1] * w
      saved = left[j - r] * w
    }
    n[j] = saved
  }
  return n
}
function roundBasis(count, t) {
  const span = Math.min(count - 1, Math.max(0, Math.floor(t)))
  return { first: span, n: evenBasis(t - span) }
}
var endOf = (s) => (s.closed ? s.control.length : s.knots[s.control.length])
function at(s, t) {
  const count = s.control.length
  let first, n
  if (s.closed) ({ first, n } = roundBasis(count, t))
  else {
    const span = spanOf(s.knots, count, t)
    first = span - degree
    n = basis(s.knots, span, t)
  }
  let x = 0,
    y = 0
  for (let i = 0; i < 4; i++) {
    const c = s.control[(first + i) % count]
    x += n[i] * c[0]
    y += n[i] * c[1]
  }
  return [x, y]
}
function blossom(s, span, u) {
  const knot = (i) => (s.closed ? i - degree : s.knots[i])
  const count = s.control.length
  const d = [0, 1, 2, 3].map((i) => s.control[(span - degree + i + (s.closed ? count : 0)) % count])
  for (let r = 1; r <= degree; r++)
    for (let j = degree; j >= r; j--) {
      const i = span - degree + j
      const a = (u[r - 1] - knot(i)) / (knot(i + degree - r + 1) - knot(i))
      d[j] = [(1 - a) * d[j - 1][0] + a * d[j][0], (1 - a) * d[j - 1][1] + a * d[j][1]]
    }
  return d[degree]
}
function pieceOf(s, from, to) {
  const inner = []
  if (s.closed) {
    for (let k = Math.floor(from) + 1; k < to - 1e-12; k++) if (k > from + 1e-12) inner.push(k)
  } else for (const k of s.knots) if (k > from + 1e-12 && k < to - 1e-12) inner.push(k)
  const knots = [from, from, from, from, ...inner, to, to, to, to]
  const control = []
  for (let i = 0; i < knots.length - degree - 1; i++) {
    let j = i
    while (!(knots[j + 1] > knots[j])) j++
    const middle = (knots[j] + knots[j + 1]) / 2
    const span = s.closed ? Math.floor(middle) + degree : spanOf(s.knots, s.control.length, middle)
    control.push(blossom(s, span, [knots[i + 1], knots[i + 2], knots[i + 3]]))
  }
  return { control, knots: knots.map((k) => (k - from) / (to - from)), closed: false }
}
function chordParameters(points, closed = false) {
  const t = [0]
  const many2 = closed ? points.length : points.length - 1
  for (let i = 0; i < many2; i++) {
    const a = points[i],
      b = points[(i + 1) % points.length]
    t.push(t[i] + Math.hypot(b[0] - a[0], b[1] - a[1]))
  }
  const whole = t[many2] || 1
  return t.map((v) => v / whole)
}
function knotsFor(t, count) {
  const knots = [0, 0, 0, 0]
  const inner = count - degree - 1
  const d = t.length / (inner + 1)
  for (let j = 1; j <= inner; j++) {
    const i = Math.min(t.length - 1, Math.floor(j * d))
    const a = j * d - i
    knots.push((1 - a) * t[Math.max(0, i - 1)] + a * t[i])
  }
  return [...knots, 1, 1, 1, 1]
}
function fitSpline(points, count, closed, rounds = 3) {
  if (count < degree + 1 || count > points.length) return null
  let t = chordParameters(points, closed)
  const scaleT = closed ? count : 1
  t = t.slice(0, points.length).map((v) => v * scaleT)
  const knots = closed ? [] : knotsFor(t, count)
  for (let i = 0; !closed && i + degree < knots.length - 1; i++) if (!(knots[i + 4] > knots[i])) return null
  let best = null
  for (let round = 0; ; round++) {
    const rows = points.map((_, i) => {
      if (closed) {
        const { first, n } = roundBasis(count, t[i])
        return { first, n }
      }
      const span = spanOf(knots, count, t[i])
      return { first: span - degree, n: basis(knots, span, t[i]) }
    })
    const control = solveBanded(count, closed, rows, points, closed ? [] : [0, count - 1])
    if (!control) return best
    const spline = { control, knots, closed }
    let most = 0,
      square = 0
    const next = points.map((p, i) => {
      const near = nearestTo(spline, p, t[i], scaleT / (4 * count))
      most = Math.max(most, near.distance)
      square += near.distance ** 2
      return near.t
    })
    if (!best || most < best.most) best = { spline, most, square }
    if (round >= rounds) return best
    for (let i = 1; i < next.length; i++) if (next[i] <= next[i - 1]) next[i] = t[i] > next[i - 1] ? t[i] : next[i - 1]
    if (!closed) {
      next[0] = 0
      next[next.length - 1] = 1
    }
    t = next
  }
}
function nearestTo(s, p, t, reach) {
  const end = endOf(s)
  const wrap = (v) => (s.closed ? ((v % end) + end) % end : Math.max(0, Math.min(end, v)))
  const far = (v) => {
    const q = at(s, wrap(v))
    return Math.hypot(q[0] - p[0], q[1] - p[1])
  }
  let low = t - reach,
    high = t + reach
  for (let i = 0; i < 18; i++) {
    const a = low + (high - low) / 3,
      b = high - (high - low) / 3
    if (far(a) < far(b)) high = b
    else low = a
  }
  const here = (low + high) / 2
  return far(here) < far(t) ? { t: wrap(here), distance: far(here) } : { t: wrap(t), distance: far(t) }
}
function throughSpline(points, closed) {
  const n = points.length
  if (n < 2) return null
  if (closed && n >= 3) {
    const rows2 = points.map((_, i) => ({ first: i, n: [1 / 6, 4 / 6, 1 / 6, 0] }))
    const control2 = solveBanded(n, true, rows2, points, [])
    if (!control2) return null
    return { control: control2, knots: [], closed: true }
  }
  const t = chordParameters(points)
  const knots = [0, 0, 0, ...t, 1, 1, 1]
  const count = n + 2
  const rows = []
  const want = []
  points.forEach((p, i) => {
    const span = spanOf(knots, count, t[i])
    rows.push({ first: span - degree, n: i === n - 1 ? [0, 0, 0, 1] : basis(knots, span, t[i]) })
    want.push(p)
    const end = i === 0 ? 4 : i === n - 2 ? -1 : 0
    if (end === 4) {
      const a = knots[4],
        b = knots[5]
      rows.push({ first: 0, n: [1 / a, -(1 / a + 1 / b), 1 / b, 0] })
      want.push([0, 0])
    }
    if (end === -1 || (n === 2 && i === 0)) {
      const m = knots.length - 1
      const a = 1 - knots[m - 4],
        b = 1 - knots[m - 5]
      rows.push({ first: count - 4, n: [0, 1 / b, -(1 / a + 1 / b), 1 / a] })
      want.push([0, 0])
    }
  })
  const control = solveBanded(count, false, rows, want, [])
  return control ? { control, knots, closed: false } : null
}

// src/core/outline/sample.ts
function sweepOf(d, c) {
  const [p, q, m] = [d.points[c.from], d.points[c.to], d.points[c.centre]]
  const a = Math.atan2(p[1] - m[1], p[0] - m[0]),
    b = Math.atan2(q[1] - m[1], q[0] - m[0])
  let turn = ((b - a) * 180) / Math.PI
  if (c.ccw) while (turn <= 1e-9) turn += 360
  else while (turn >= -1e-9) turn -= 360
  return turn
}
var evenKnots = (count) => Array.from({ length: count + 4 }, (_, i) => Math.max(0, Math.min(count - 3, i - 3)))
function splineOf(d, c) {
  const places = (c.through ?? c.control ?? []).map((i) => d.points[i])
  if (c.through) return throughSpline(places, !!c.closed)
  if (c.closed) return places.length >= 4 ? { control: places, knots: [], closed: true } : null
  if (places.length < 4) return null
  const knots = c.knots ?? evenKnots(places.length)
  const [first, last] = [knots[0], knots[knots.length - 1]]
  if (knots.length !== places.length + 4 || !(last > first)) return null
  return { control: places, knots: knots.map((k) => (k - first) / (last - first)), closed: false }
}
var steps = (sweep, radius, chord) =>
  Math.max(2, Math.min(2e3, Math.ceil(sweep / (2 * Math.acos(Math.max(0, 1 - chord / Math.max(radius, chord)))))))
function sampleCurve(d, c, chord) {
  const round = (m, from, sweep, long, short, turn) => {
    const n = steps(Math.abs(sweep), Math.max(long, short), chord)
    const [cos, sin] = [Math.cos(turn), Math.sin(turn)]
    return Array.from({ length: n + 1 }, (_, i) => {
      const a = from + (sweep * i) / n
      const [x, y] = [long * Math.cos(a), short * Math.sin(a)]
      return [m[0] + cos * x - sin * y, m[1] + sin * x + cos * y]
    })
  }
  switch (c.kind) {
    case 'line':
      return [d.points[c.from], d.points[c.to]]
    case 'arc': {
      const [p, m] = [d.points[c.from], d.points[c.centre]]
      const r = Math.hypot(p[0] - m[0], p[1] - m[1])
      const out = round(m, Math.atan2(p[1] - m[1], p[0] - m[0]), (sweepOf(d, c) * Math.PI) / 180, r, r, 0)
      out[0] = p
      out[out.length - 1] = d.points[c.to]
      return out
    }
    case 'circle':
      return round(d.points[c.centre], 0, 2 * Math.PI, c.radius, c.radius, 0)
    case 'ellipse':
      return round(d.points[c.centre], 0, 2 * Math.PI, c.long, c.short, (c.turn * Math.PI) / 180)
    case 'spline': {
      const s = splineOf(d, c)
      if (!s) return (c.through ?? c.control ?? []).map((i) => d.points[i])
      const end = endOf(s)
      const spans = s.closed ? s.control.length : s.control.length - 3
      const out = [at(s, 0)]
      const add2 = (a, b, p, q, depth) => {
        const m = at(s, (a + b) / 2)
        const l = Math.hypot(q[0] - p[0], q[1] - p[1])
        const off =
          l > 1e-12
            ? Math.abs((q[0] - p[0]) * (m[1] - p[1]) - (q[1] - p[1]) * (m[0] - p[0])) / l
            : Math.hypot(m[0] - p[0], m[1] - p[1])
        if (depth < 10 && (off > chord || depth < 1)) {
          add2(a, (a + b) / 2, p, m, depth + 1)
          add2((a + b) / 2, b, m, q, depth + 1)
        } else out.push(q)
      }
      for (let i = 0; i < spans; i++) {
        const a = (end * i) / spans,
          b = (end * (i + 1)) / spans
        add2(a, b, at(s, a), at(s, b), 0)
      }
      return out
    }
  }
}

// src/core/outline/parametric.ts
function alongRow(row) {
  const last = row.length - 1
  return (t) => {
    const i = Math.max(0, Math.min(last - 1, Math.floor(t * last)))
    const [p, q] = [row[i], row[Math.min(last, i + 1)]]
    const share = Math.max(0, Math.min(1, t * last - i))
    return [p[0] + share * (q[0] - p[0]), p[1] + share * (q[1] - p[1])]
  }
}
function alongOf(d, c) {
  switch (c.kind) {
    case 'line': {
      const [p, q] = [d.points[c.from], d.points[c.to]]
      return (t) => (t <= 0 ? p : t >= 1 ? q : [p[0] + t * (q[0] - p[0]), p[1] + t * (q[1] - p[1])])
    }
    case 'arc': {
      const [p, q, m] = [d.points[c.from], d.points[c.to], d.points[c.centre]]
      const r = Math.hypot(p[0] - m[0], p[1] - m[1])
      const from = Math.atan2(p[1] - m[1], p[0] - m[0]),
        sweep = (sweepOf(d, c) * Math.PI) / 180
      return (t) =>
        t <= 0 ? p : t >= 1 ? q : [m[0] + r * Math.cos(from + t * sweep), m[1] + r * Math.sin(from + t * sweep)]
    }
    case 'circle': {
      const m = d.points[c.centre]
      return (t) => [m[0] + c.radius * Math.cos(2 * Math.PI * t), m[1] + c.radius * Math.sin(2 * Math.PI * t)]
    }
    case 'ellipse': {
      const m = d.points[c.centre]
      const turn = (c.turn * Math.PI) / 180
      const [cos, sin] = [Math.cos(turn), Math.sin(turn)]
      return (t) => {
        const [x, y] = [c.long * Math.cos(2 * Math.PI * t), c.short * Math.sin(2 * Math.PI * t)]
        return [m[0] + cos * x - sin * y, m[1] + sin * x + cos * y]
      }
    }
    case 'spline': {
      const s = splineOf(d, c)
      if (!s) return alongRow((c.through ?? c.control ?? []).map((i) => d.points[i]))
      const end = endOf(s)
      return (t) => at(s, Math.max(0, Math.min(1, t)) * end)
    }
  }
}

// src/core/outline/split.ts
var Draft = class {
  points
  curves
  constructor(d) {
    this.points = [...d.points]
    this.curves = [...d.curves]
  }
  point(p) {
    this.points.push(p)
    return this.points.length - 1
  }
}
function splineBetween(draft, s, from, to) {
  const inner = s.control.slice(1, -1).map((p) => draft.point(p))
  return { kind: 'spline', control: [from, ...inner, to], knots: [...s.knots] }
}
function piecesBetween(draft, d, c, shares, ends) {
  const guide = c.construction ? { construction: true } : {}
  const out = []
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

// src/core/formats/reading-dxf/entities.ts
import DxfParser from 'dxf-parser'
function each(scanner, take) {
  let g = scanner.next()
  while (!scanner.isEOF() && g.code !== 0) {
    take(g)
    g = scanner.next()
  }
  return g
}
var num = (g) => Number(g.value)
var PlainPolyline = class {
  ForEntityName = 'LWPOLYLINE'
  parseEntity(scanner, curr) {
    const vertices = []
    const e = { type: curr.value, vertices, shape: false, layer: '0' }
    each(scanner, (g) => {
      const last = vertices[vertices.length - 1]
      if (g.code === 10) vertices.push({ x: num(g), y: 0 })
      else if (g.code === 20 && last) last.y = num(g)
      else if (g.code === 42 && last) last.bulge = num(g)
      else if (g.code === 70) e.shape = (num(g) & 1) === 1
      else if (g.code === 8) e.layer = g.value
      else if (g.code === 230) e.extrusionDirectionZ = num(g)
    })
    return e
  }
}
var VertexPolyline = class {
  ForEntityName = 'POLYLINE'
  parseEntity(scanner, curr) {
    const vertices = []
    const e = { type: curr.value, vertices, shape: false, layer: '0' }
    let g = each(scanner, (h) => {
      if (h.code === 70) {
        e.shape = (num(h) & 1) === 1
        e.is3dPolygonMesh = (num(h) & 16) !== 0
        e.isPolyfaceMesh = (num(h) & 64) !== 0
      } else if (h.code === 8) e.layer = h.value
      else if (h.code === 230) e.extrusionDirectionZ = num(h)
    })
    while (!scanner.isEOF() && g.value === 'VERTEX') {
      const v = { x: 0, y: 0 }
      g = each(scanner, (h) => {
        if (h.code === 10) v.x = num(h)
        else if (h.code === 20) v.y = num(h)
        else if (h.code === 30) v.z = num(h)
        else if (h.code === 42) v.bulge = num(h)
      })
      vertices.push(v)
    }
    if (!scanner.isEOF() && g.value === 'SEQEND') each(scanner, () => {})
    return e
  }
}
var passing = (name) =>
  class {
    ForEntityName = name
    parseEntity(scanner, curr) {
      each(scanner, () => {})
      return { type: curr.value }
    }
  }
function parserOf() {
  const parser = new DxfParser()
  const own = [
    PlainPolyline,
    VertexPolyline,
    ...['3DFACE', 'SOLID', 'DIMENSION', 'MTEXT', 'TEXT', 'ATTDEF'].map(passing),
  ]
  for (const handler of own) parser.registerEntityHandler(handler)
  return parser
}
var flat = (p) => [p?.x ?? NaN, p?.y ?? NaN]

// src/core/formats/reading-dxf/spline.ts
function rationalAt(control, weights, knots, degree2, t) {
  let k = degree2
  while (k < control.length - 1 && t >= knots[k + 1]) k++
  const d = Array.from({ length: degree2 + 1 }, (_, i) => {
    const j = k - degree2 + i
    return [control[j][0] * weights[j], control[j][1] * weights[j], weights[j]]
  })
  for (let r = 1; r <= degree2; r++)
    for (let j = degree2; j >= r; j--) {
      const i = k - degree2 + j
      const span = knots[i + degree2 - r + 1] - knots[i]
      const a = span > 0 ? (t - knots[i]) / span : 0
      d[j] = d[j].map((v, c) => (1 - a) * d[j - 1][c] + a * v)
    }
  return [d[degree2][0] / d[degree2][2], d[degree2][1] / d[degree2][2]]
}
var drawingOf = (s) => ({
  points: [...s.control],
  curves: [{ kind: 'spline', control: s.control.map((_, i) => i), knots: [...s.knots] }],
})
function splineDrawing(e, weights) {
  const control = (e.controlPoints ?? []).map(flat)
  if (control.length < 2 && (e.fitPoints?.length ?? 0) >= 2) return throughPoints(e.fitPoints.map(flat), !!e.closed)
  const degree2 = e.degreeOfSplineCurve ?? 3
  const knots = e.knotValues ?? []
  const n = control.length
  if (degree2 < 1 || degree2 > 25 || n <= degree2 || knots.length !== n + degree2 + 1) return null
  const [from, to] = [knots[degree2], knots[n]]
  if (!(to > from) || knots.some((k, i) => !Number.isFinite(k) || (i > 0 && k < knots[i - 1]))) return null
  const rational = weights.length === n && weights.some((w) => Math.abs(w - weights[0]) > 1e-12)
  if (degree2 === 1 && !rational)
    return { points: control, curves: control.slice(1).map((_, i) => ({ kind: 'line', from: i, to: i + 1 })) }
  if (degree2 === 3 && !rational && !hasDoubleKnot(knots, n))
    return drawingOf(pieceOf({ control, knots, closed: false }, from, to))
  return follow(control, weights.length === n ? weights : control.map(() => 1), knots, degree2)
}
function throughPoints(places, closed) {
  const s = throughSpline(places, closed)
  if (!s) return null
  if (!s.closed) return drawingOf(s)
  return { points: [...s.control], curves: [{ kind: 'spline', control: s.control.map((_, i) => i), closed: true }] }
}
function hasDoubleKnot(knots, n) {
  for (let i = 4; i < n; i++) if (knots[i] === knots[i + 2]) return true
  return false
}
function follow(control, weights, knots, degree2) {
  const n = control.length
  const [from, to] = [knots[degree2], knots[n]]
  const many2 = Math.min(4e3, 24 * n)
  const row = Array.from({ length: many2 + 1 }, (_, i) =>
    rationalAt(
      control,
      weights,
      knots,
      degree2,
      i === many2 ? to - 1e-12 * (to - from) : from + ((to - from) * i) / many2,
    ),
  )
  const fit = fitSpline(row, Math.min(many2, 8 * n), false)
  return fit ? drawingOf(fit.spline) : null
}

// src/core/formats/reading-dxf/curves.ts
var readers = {
  LINE: line,
  CIRCLE: (e) => ({ points: [flat(e.center)], curves: [{ kind: 'circle', centre: 0, radius: Number(e.radius) }] }),
  ARC: arc,
  ELLIPSE: ellipse,
  SPLINE: splineDrawing,
  POINT: (e) => ({ points: [flat(e.position)], curves: [] }),
}
var curveNames = Object.keys(readers)
var curveOf = (e, weights) => (Object.hasOwn(readers, e.type) ? readers[e.type](e, weights) : null)
function line(e) {
  const [p, q] = [flat(e.vertices?.[0]), flat(e.vertices?.[1])]
  return p[0] === q[0] && p[1] === q[1] ? null : { points: [p, q], curves: [{ kind: 'line', from: 0, to: 1 }] }
}
function arc(e) {
  const m = flat(e.center),
    r = Number(e.radius),
    [a, b] = [Number(e.startAngle), Number(e.endAngle)]
  if (!(r > 0)) return null
  if (Math.abs(b - a) < 1e-12 || Math.abs(Math.abs(b - a) - 2 * Math.PI) < 1e-12)
    return { points: [m], curves: [{ kind: 'circle', centre: 0, radius: r }] }
  const at2 = (t) => [m[0] + r * Math.cos(t), m[1] + r * Math.sin(t)]
  return { points: [at2(a), at2(b), m], curves: [{ kind: 'arc', from: 0, to: 1, centre: 2, ccw: true }] }
}
function ellipse(e) {
  const m = flat(e.center),
    long = flat(e.majorAxisEndPoint)
  const l = Math.hypot(...long)
  const curve = {
    kind: 'ellipse',
    centre: 0,
    long: l,
    short: l * Number(e.axisRatio),
    turn: (Math.atan2(long[1], long[0]) * 180) / Math.PI,
  }
  const whole = { points: [m], curves: [curve] }
  const share = (v) => v / (2 * Math.PI)
  const from = share(e.startAngle ?? 0),
    to = share(e.endAngle ?? 2 * Math.PI)
  if (!Number.isFinite(from) || !Number.isFinite(to)) return null
  const a = from - Math.floor(from)
  const b = Math.abs(to - from) === 1 ? a + 1 : to - Math.floor(to)
  if (!(l > 0) || !(curve.short > 0)) return null
  if (Math.abs(Math.abs(b - a) - 1) < 1e-9 || a === b) return whole
  const last = b > a ? b : b + 1
  const draft = new Draft(whole)
  const at2 = (t) => {
    const u = 2 * Math.PI * t
    const [x, y] = [l * Math.cos(u), curve.short * Math.sin(u)]
    return draft.point([m[0] + (long[0] * x - long[1] * y) / l, m[1] + (long[1] * x + long[0] * y) / l])
  }
  const ends = [at2(a), at2(last)]
  const [piece] = piecesBetween(draft, whole, curve, [a, last], ends)
  return piece ? { points: draft.points, curves: [piece] } : null
}

// src/core/outline/transform.ts
var flatIdentity = [1, 0, 0, 1, 0, 0]
var applyFlat = ([a, b, c, d, e, f], [x, y]) => [a * x + c * y + e, b * x + d * y + f]
var composeFlat = (m, n) => [
  m[0] * n[0] + m[2] * n[1],
  m[1] * n[0] + m[3] * n[1],
  m[0] * n[2] + m[2] * n[3],
  m[1] * n[2] + m[3] * n[3],
  m[0] * n[4] + m[2] * n[5] + m[4],
  m[1] * n[4] + m[3] * n[5] + m[5],
]
var turnFlat = (degrees2) => {
  const a = (degrees2 * Math.PI) / 180
  return [Math.cos(a), Math.sin(a), -Math.sin(a), Math.cos(a), 0, 0]
}
function axesOf(u, v) {
  const t = Math.atan2(2 * (u[0] * v[0] + u[1] * v[1]), u[0] ** 2 + u[1] ** 2 - v[0] ** 2 - v[1] ** 2) / 2
  const p = [u[0] * Math.cos(t) + v[0] * Math.sin(t), u[1] * Math.cos(t) + v[1] * Math.sin(t)]
  const q = [v[0] * Math.cos(t) - u[0] * Math.sin(t), v[1] * Math.cos(t) - u[1] * Math.sin(t)]
  return { long: Math.hypot(...p), short: Math.hypot(...q), turn: (Math.atan2(p[1], p[0]) * 180) / Math.PI }
}
function transformed(d, m) {
  const [a, b, c, e] = m
  const det = a * e - b * c
  const size = Math.sqrt(Math.abs(det))
  const even =
    Math.abs(a * c + b * e) < 1e-9 * size * size && Math.abs(Math.hypot(a, b) - Math.hypot(c, e)) < 1e-9 * size
  const way = ([x, y]) => [a * x + c * y, b * x + e * y]
  let from = d
  if (!even && d.curves.some((k) => k.kind === 'arc')) {
    const draft = new Draft(d)
    draft.curves.forEach((k, i) => {
      if (k.kind !== 'arc') return
      const p = d.points[k.from],
        q = d.points[k.centre]
      const radius = Math.hypot(p[0] - q[0], p[1] - q[1])
      const at2 = (r) => Math.atan2(r[1] - q[1], r[0] - q[0]) / (2 * Math.PI)
      const whole = { kind: 'ellipse', centre: k.centre, long: radius, short: radius, turn: 0 }
      const [s, t] = k.ccw ? [k.from, k.to] : [k.to, k.from]
      const first = at2(d.points[s])
      let last = at2(d.points[t])
      while (last <= first + 1e-12) last++
      const [piece] = piecesBetween(draft, d, whole, [first, last], [s, t])
      if (piece) draft.curves[i] = k.construction ? { ...piece, construction: true } : piece
    })
    from = { points: draft.points, curves: draft.curves }
  }
  return {
    points: from.points.map((p) => applyFlat(m, p)),
    curves: from.curves.map((k) => {
      switch (k.kind) {
        case 'arc':
          return { ...k, ccw: det < 0 ? !k.ccw : k.ccw }
        case 'circle': {
          if (even) return { ...k, radius: k.radius * size }
          const guide = k.construction ? { construction: true } : {}
          return { kind: 'ellipse', centre: k.centre, ...axesOf(way([k.radius, 0]), way([0, k.radius])), ...guide }
        }
        case 'ellipse': {
          const t = (k.turn * Math.PI) / 180
          const [cos, sin] = [Math.cos(t), Math.sin(t)]
          return {
            ...k,
            ...axesOf(way([k.long * cos, k.long * sin]), way([-k.short * sin, k.short * cos])),
          }
        }
        default:
          return k
      }
    }),
  }
}

// src/core/outline/joined.ts
function renumbered(c, to) {
  switch (c.kind) {
    case 'line':
      return { ...c, from: to(c.from), to: to(c.to) }
    case 'arc':
      return { ...c, from: to(c.from), to: to(c.to), centre: to(c.centre) }
    case 'circle':
    case 'ellipse':
      return { ...c, centre: to(c.centre) }
    case 'spline':
      return {
        ...c,
        ...(c.through ? { through: c.through.map(to) } : {}),
        ...(c.control ? { control: c.control.map(to) } : {}),
      }
  }
}

// src/core/formats/limits.ts
var mostUnpacked = 2 ** 31
var alwaysUnpacked = 48 * 2 ** 20
var largestCoordinate = 1e9
var tooMuch = (what, most) =>
  new StepError('too-large', `The file holds more than ${many(most)} ${what}: that is refused.`, {
    tryThis: 'Split it, or export only the parts that are needed.',
  })

// src/core/formats/flat-model.ts
var mostCurves = 2e5
var longRun = 4e3
var FlatCollector = class {
  layers = /* @__PURE__ */ new Map()
  count = 0
  layer(name) {
    let l = this.layers.get(name)
    if (!l) this.layers.set(name, (l = { points: [], curves: [], rows: [] }))
    return l
  }
  /** Adds a drawing to a layer. False, and nothing is added, where its numbers are none. */
  add(layer, d) {
    const good = (v) => Number.isFinite(v) && Math.abs(v) <= largestCoordinate
    if (!d.points.every((p) => p.every(good))) return false
    if (d.curves.some((c) => (c.kind === 'circle' && !(c.radius > 0)) || (c.kind === 'ellipse' && !(c.short > 0))))
      return false
    this.count += d.curves.length
    if (this.count > mostCurves) throw tooMuch('curves', mostCurves)
    const l = this.layer(layer)
    const base = l.points.length
    for (const p of d.points) l.points.push(p)
    for (const c of d.curves) l.curves.push(renumbered(c, (i) => base + i))
    return true
  }
  /** Adds a run of straight and round pieces: `bulge` is the tangent of a quarter of a piece's angle, 0 for straight. */
  run(layer, places, bulges, closed) {
    const good = (v) => Number.isFinite(v) && Math.abs(v) <= largestCoordinate
    if (places.length < 2 || !places.every((p) => p.every(good))) return false
    if (places.length > longRun && bulges.every((b) => !b)) {
      this.layer(layer).rows.push({ places: [...places], closed })
      return true
    }
    const points = [...places]
    const curves = []
    const n = closed ? places.length : places.length - 1
    for (let i = 0; i < n; i++) {
      const from = i,
        to = (i + 1) % places.length
      const [p, q] = [places[from], places[to]]
      const w = [q[0] - p[0], q[1] - p[1]]
      const b = bulges[i] || 0
      if (Math.hypot(...w) === 0) continue
      if (Math.abs(b) < 1e-9 || !Number.isFinite(b)) curves.push({ kind: 'line', from, to })
      else {
        const k = (1 - b * b) / (4 * b)
        points.push([(p[0] + q[0]) / 2 - k * w[1], (p[1] + q[1]) / 2 + k * w[0]])
        curves.push({ kind: 'arc', from, to, centre: points.length - 1, ccw: b > 0 })
      }
    }
    return this.add(layer, { points, curves })
  }
  result() {
    return [...this.layers]
      .map(([name, l]) => ({ name, drawing: { points: l.points, curves: l.curves }, rows: l.rows }))
      .filter((l) => l.drawing.points.length || l.rows.length)
  }
}

// src/core/formats/reading-dxf/layout.ts
var deepest = 16
var mostInserts = 2e4
var ofTheWorld = /* @__PURE__ */ new Set(['LINE', 'POINT', 'SPLINE', 'ELLIPSE'])
var mirror = [-1, 0, 0, 1, 0, 0]
var shiftBy = (x, y) => [1, 0, 0, 1, x, y]
var isPolyline = (e) => (e.type === 'LWPOLYLINE' || e.type === 'POLYLINE') && !e.is3dPolygonMesh && !e.isPolyfaceMesh
var Layout = class {
  constructor(blocks, weights) {
    this.blocks = blocks
    this.weights = weights
  }
  blocks
  weights
  drawn = new FlatCollector()
  /** Entities by name that have no size or no numbers. */
  bad = /* @__PURE__ */ new Map()
  /** Curves that stood off the plane. */
  lifted = 0
  /** Blocks that could not be placed. */
  missing = 0
  inserts = 0
  /** Lays entities down. Throws StepError `too-large` where blocks stand in too many places. */
  lay(entities, map = flatIdentity, layer = null, depth = 0) {
    for (const entity of entities) {
      const e = entity
      const on = layer && (!e.layer || e.layer === '0') ? layer : (e.layer ?? '0')
      if (e.type === 'INSERT') this.insert(e, map, on, depth)
      else this.layOne(e, map, on)
    }
  }
  insert(e, map, layer, depth) {
    const block = this.blocks.get(e.name ?? '')
    if (!block || depth >= deepest) {
      this.missing++
      return
    }
    const base = flat(block.position ?? { x: 0, y: 0 })
    const place2 = flat(e.position)
    const outer = composeFlat((e.extrusionDirection?.z ?? 1) < 0 ? mirror : flatIdentity, shiftBy(place2[0], place2[1]))
    const columns = Math.max(1, Math.min(1e3, e.columnCount ?? 1)),
      rows = Math.max(1, Math.min(1e3, e.rowCount ?? 1))
    for (let i = 0; i < columns; i++)
      for (let j = 0; j < rows; j++) {
        if (++this.inserts > mostInserts)
          throw new StepError('too-large', `The file places more than ${mostInserts} blocks: that is refused.`, {
            tryThis: 'Export only the parts that are needed.',
          })
        const scaled = [e.xScale ?? 1, 0, 0, e.yScale ?? 1, i * (e.columnSpacing ?? 0), j * (e.rowSpacing ?? 0)]
        const local = composeFlat(turnFlat(e.rotation ?? 0), composeFlat(scaled, shiftBy(-base[0], -base[1])))
        this.lay(block.entities ?? [], composeFlat(map, composeFlat(outer, local)), layer, depth + 1)
      }
  }
  layOne(e, map, layer) {
    const behind = (e.extrusionDirectionZ ?? e.extrusionDirection?.z ?? 1) < 0
    const own = behind && !ofTheWorld.has(e.type) ? composeFlat(map, mirror) : map
    if (e.center?.z ?? e.vertices?.[0]?.z ?? e.controlPoints?.[0]?.z ?? 0) this.lifted++
    let done
    if (isPolyline(e)) done = this.layPolyline(e, own, layer)
    else {
      const d = curveOf(e, this.weights.get(e) ?? [])
      if (!d && !curveNames.includes(e.type)) return
      done = !!d && this.drawn.add(layer, own === flatIdentity ? d : transformed(d, own))
    }
    if (!done) this.bad.set(e.type, (this.bad.get(e.type) ?? 0) + 1)
  }
  /** Whether anything of a polyline was drawn. */
  layPolyline(e, map, layer) {
    const places = (e.vertices ?? []).map(flat)
    const bulges = (e.vertices ?? []).map((v) => v.bulge ?? 0)
    if (map === flatIdentity) return this.drawn.run(layer, places, bulges, !!e.shape)
    const local = new FlatCollector()
    if (!local.run(layer, places, bulges, !!e.shape)) return false
    let done = false
    for (const { drawing: drawing2, rows } of local.result()) {
      done = this.drawn.add(layer, transformed(drawing2, map)) || done
      for (const { places: row, closed } of rows) {
        const moved = row.map((p) => applyFlat(map, p))
        const straight = row.map(() => 0)
        done = this.drawn.run(layer, moved, straight, closed) || done
      }
    }
    return done
  }
}

// src/core/formats/reading-dxf/text.ts
function weightsOf(text) {
  const out = []
  const lines = text.split(/\r\n|\r|\n/)
  let current = null
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const code = lines[i].trim()
    if (code === '0') {
      current = lines[i + 1].trim() === 'SPLINE' ? [] : null
      if (current) out.push(current)
    } else if (code === '41' && current) current.push(Number(lines[i + 1]))
  }
  return out
}
var ranges = [
  [0, 59],
  [60, 79],
  [90, 99],
  [100, 100],
  [102, 102],
  [105, 105],
  [110, 149],
  [160, 179],
  [210, 239],
  [270, 299],
  [300, 399],
  [400, 459],
  [460, 481],
  [999, 1071],
]
function checked(text) {
  const lines = text.split(/\r\n|\r|\n/)
  const out = []
  for (let i = 0; i + 1 < lines.length; i += 2) {
    if (!/^\s*-?\d{1,5}\s*$/.test(lines[i])) {
      if (!lines.slice(i).some((l) => l.trim())) break
      throw damaged(`"${lines[i].slice(0, 20)}" stands where a group code should`, `line ${i + 1}`, 'Export it again.')
    }
    const code = Number(lines[i])
    if (ranges.some(([a, b]) => code >= a && code <= b)) out.push(lines[i].trim(), lines[i + 1])
    if (code === 0 && lines[i + 1].trim() === 'EOF')
      return `${out.join('\n')}
`
  }
  throw damaged('it is cut off before its end', `line ${lines.length}`, 'Export it again.')
}
function namesIn(text) {
  const out = /* @__PURE__ */ new Map()
  let inside = false
  const lines = text.split(/\r\n|\r|\n/)
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const code = lines[i].trim(),
      value = lines[i + 1].trim()
    if (code === '2' && lines[i - 1]?.trim() === 'SECTION') inside = value === 'ENTITIES' || value === 'BLOCKS'
    else if (code === '0') {
      if (value === 'ENDSEC') inside = false
      else if (inside) out.set(value, (out.get(value) ?? 0) + 1)
    }
  }
  return out
}

// src/core/formats/reading-dxf/read-dxf.ts
var units = { 1: 'inch', 2: 'foot', 4: 'mm', 5: 'cm', 6: 'm', 13: 'micron' }
var known = /* @__PURE__ */ new Set([...curveNames, 'LWPOLYLINE', 'POLYLINE', 'INSERT'])
var parts2 = /* @__PURE__ */ new Set(['VERTEX', 'SEQEND', 'BLOCK', 'ENDBLK', 'ATTRIB', 'ATTDEF', 'VIEWPORT'])
function readDxf(bytes2) {
  const raw = new TextDecoder('utf-8', { fatal: false }).decode(bytes2)
  if (/^[ -~]{0,14}Binary DXF/.test(raw.slice(0, 32)))
    throw damaged('it is a binary DXF, which is not read', 'byte 0', 'Export it as DXF in text form.')
  const text = checked(raw)
  const parsed = parse(text, bytes2.length)
  const found = namesIn(text)
  const blocks = new Map(Object.entries(parsed.blocks ?? {}))
  const entities = parsed.entities ?? []
  const lists = [...blocks.values()].map((b) => b.entities ?? [])
  const weights = /\n\s*41\s*\r?\n/.test(text) && found.has('SPLINE') ? weightsOf(text) : []
  const layout = new Layout(blocks, weightsBySpline([...lists, entities], weights))
  layout.lay(entities)
  const notes = notesOf(layout, found)
  const layers = layout.drawn.result()
  if (!layers.length)
    throw new StepError('empty', 'The file draws no line, arc, circle, ellipse, polyline or spline.', {
      tryThis: notes[0] ?? 'Export the drawing itself, not a layout of it.',
    })
  const code = Number(parsed.header?.$INSUNITS ?? 0)
  return { format: 'dxf', layers, unit: units[code] ?? null, mm: null, notes }
}
function parse(text, size) {
  let parsed
  try {
    parsed = parserOf().parseSync(text)
  } catch (error) {
    const cut = !/^\s*EOF\s*$/m.test(text.slice(-200))
    throw damaged(
      cut
        ? 'it is cut off before its end'
        : `it cannot be read as DXF: ${String(error.message ?? error).slice(0, 120)}`,
      cut ? `byte ${size}` : 'unknown place',
      'Export it again.',
    )
  }
  if (!parsed) throw damaged('it holds no sections', 'byte 0', 'Export it again.')
  return parsed
}
function weightsBySpline(lists, weights) {
  const splines = lists.flat().filter((e) => e.type === 'SPLINE')
  return new Map(splines.map((e, i) => [e, weights[i] ?? []]))
}
function notesOf({ bad, missing, lifted }, found) {
  const counts = (list) => [...list].map(([n, k]) => `${k} ${n}`).join(', ')
  const notes = []
  const unknown = [...found].filter(([n]) => !known.has(n) && !parts2.has(n))
  if (unknown.length) notes.push(`Left out, as they are no plane curves: ${counts(unknown)}.`)
  if (bad.size) notes.push(`Left out, as they have no size or no numbers: ${counts(bad)}.`)
  if (missing)
    notes.push(`${plural(missing, 'block')} could not be placed: it is not in the file, or stands in itself.`)
  if (lifted) notes.push(`${plural(lifted, 'curve')} stood off the plane; they lie in it now.`)
  return notes
}

// src/core/formats/dxf.ts
import { DxfWriter, LWPolylineFlags, point2d, point3d, Units } from '@tarikjabiri/dxf'

// src/core/formats/flat.ts
var layerName = (name) => name.replace(/[^A-Za-z0-9_-]+/g, '_').slice(0, 31) || 'outline'

// src/core/formats/dxf.ts
var degrees = (a) => (a * 180) / Math.PI
var angleOf = (p, m) => degrees(Math.atan2(p[1] - m[1], p[0] - m[0]))
function writeDxf12(parts3, chord) {
  const out = []
  const put = (...pairs) => {
    for (let i = 0; i < pairs.length; i += 2) {
      const v = pairs[i + 1]
      out.push(
        String(pairs[i]),
        typeof v === 'number' && !Number.isInteger(v) ? v.toFixed(9).replace(/0+$/, '0') : String(v),
      )
    }
  }
  put(
    0,
    'SECTION',
    2,
    'HEADER',
    9,
    '$ACADVER',
    1,
    'AC1009',
    9,
    '$INSUNITS',
    70,
    4,
    9,
    '$MEASUREMENT',
    70,
    1,
    0,
    'ENDSEC',
  )
  put(0, 'SECTION', 2, 'TABLES', 0, 'TABLE', 2, 'LAYER', 70, parts3.length)
  for (const p of parts3) put(0, 'LAYER', 2, layerName(p.name), 70, 0, 62, 7, 6, 'CONTINUOUS')
  put(0, 'ENDTAB', 0, 'ENDSEC', 0, 'SECTION', 2, 'ENTITIES')
  for (const { name, drawing: drawing2, rows } of parts3) {
    const layer = layerName(name)
    const polyline = (row, closed) => {
      put(0, 'POLYLINE', 8, layer, 66, 1, 10, 0, 20, 0, 30, 0, 70, closed ? 1 : 0)
      for (const [u, v] of row) put(0, 'VERTEX', 8, layer, 10, u, 20, v, 30, 0)
      put(0, 'SEQEND', 8, layer)
    }
    for (const c of drawing2.curves) {
      const at2 = (i) => drawing2.points[i]
      if (c.kind === 'line') {
        const [a, b] = [at2(c.from), at2(c.to)]
        put(0, 'LINE', 8, layer, 10, a[0], 20, a[1], 30, 0, 11, b[0], 21, b[1], 31, 0)
      } else if (c.kind === 'circle') {
        const m = at2(c.centre)
        put(0, 'CIRCLE', 8, layer, 10, m[0], 20, m[1], 30, 0, 40, c.radius)
      } else if (c.kind === 'arc') {
        const m = at2(c.centre)
        const [a, b] = c.ccw ? [at2(c.from), at2(c.to)] : [at2(c.to), at2(c.from)]
        const r = Math.hypot(a[0] - m[0], a[1] - m[1])
        put(0, 'ARC', 8, layer, 10, m[0], 20, m[1], 30, 0, 40, r, 50, angleOf(a, m), 51, angleOf(b, m))
      } else {
        const row = sampleCurve(drawing2, c, chord)
        const closed = c.kind === 'ellipse' || !!c.closed
        polyline(closed ? row.slice(0, -1) : row, closed)
      }
    }
    for (const r of rows) polyline(r.places, r.closed)
  }
  put(0, 'ENDSEC', 0, 'EOF')
  return new TextEncoder().encode(out.join('\r\n') + '\r\n')
}
function writeDxf2000(parts3) {
  const dxf = new DxfWriter()
  dxf.setUnits(Units.Millimeters)
  for (const { name, drawing: drawing2, rows } of parts3) {
    const layerName_ = layerName(name)
    if (layerName_ !== '0' && !dxf.tables.layerTable.exist(layerName_)) dxf.addLayer(layerName_, 7, 'Continuous')
    dxf.setCurrentLayerName(layerName_)
    const p3 = ([u, v]) => point3d(u, v, 0)
    for (const c of drawing2.curves) {
      const at2 = (i) => drawing2.points[i]
      switch (c.kind) {
        case 'line':
          dxf.addLine(p3(at2(c.from)), p3(at2(c.to)))
          break
        case 'circle':
          dxf.addCircle(p3(at2(c.centre)), c.radius)
          break
        case 'arc': {
          const m = at2(c.centre)
          const [a, b] = c.ccw ? [at2(c.from), at2(c.to)] : [at2(c.to), at2(c.from)]
          dxf.addArc(p3(m), Math.hypot(a[0] - m[0], a[1] - m[1]), angleOf(a, m), angleOf(b, m))
          break
        }
        case 'ellipse': {
          const t = (c.turn * Math.PI) / 180
          dxf.addEllipse(
            p3(at2(c.centre)),
            point3d(c.long * Math.cos(t), c.long * Math.sin(t), 0),
            c.short / c.long,
            0,
            2 * Math.PI,
          )
          break
        }
        case 'spline': {
          const s = splineOf(drawing2, c)
          if (!s) break
          const control = s.closed ? [...s.control, ...s.control.slice(0, 3)] : s.control
          const knots = s.closed ? Array.from({ length: control.length + 4 }, (_, i) => i - 3) : [...s.knots]
          dxf.addSpline({ controlPoints: control.map(p3), degreeCurve: 3, knots })
        }
      }
    }
    for (const r of rows)
      dxf.addLWPolyline(
        r.places.map(([u, v]) => ({ point: point2d(u, v) })),
        { flags: r.closed ? LWPolylineFlags.Closed : LWPolylineFlags.None },
      )
  }
  return new TextEncoder().encode(dxf.stringify())
}
var dxfFormat = defineFormat({
  name: 'dxf',
  title: 'DXF',
  endings: ['dxf'],
  holds: 'outlines',
  unit: 'stated',
  carries: 'layers, a body each',
  sniff: ({ text }) =>
    /^[ -~]{0,14}Binary DXF/.test(text) || /^\s*(999\r?\n[^\n]*\n\s*)*0\s*\r?\n\s*SECTION\s/.test(text)
      ? certainty.heading
      : certainty.none,
  read: readDxf,
  write: (parts3, { release, chord }) => (release === 'R12' ? writeDxf12(parts3, chord) : writeDxf2000(parts3)),
})

// src/core/math/random.ts
function random(seed) {
  let state = seed >>> 0
  const next = () => {
    state = (state + 2654435769) >>> 0
    let h = state
    h = Math.imul(h ^ (h >>> 16), 2246822507)
    h = Math.imul(h ^ (h >>> 13), 3266489909)
    return ((h ^ (h >>> 16)) >>> 0) / 4294967296
  }
  return {
    next,
    normal: () => Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next()),
  }
}

// ../../tmp/q/s.ts
import { writeFileSync } from 'node:fs'
var drawing = {
  points: [
    [0, 0],
    [10, 0],
    [10, 8],
    [0, 8],
    [5, 4],
    [7, 4],
    [3, 6],
  ],
  curves: [
    { kind: 'line', from: 0, to: 1 },
    { kind: 'line', from: 1, to: 2, construction: true },
    { kind: 'arc', centre: 4, from: 5, to: 6, ccw: true },
    { kind: 'arc', centre: 4, from: 5, to: 6, ccw: false },
    { kind: 'circle', centre: 4, radius: 1.5 },
    { kind: 'ellipse', centre: 4, long: 3, short: 1, turn: 30 },
    { kind: 'spline', through: [0, 4, 2, 3] },
    { kind: 'spline', control: [0, 6, 5, 2, 1], closed: true },
  ],
}
var flat2 = [
  {
    name: 'plate: 1',
    drawing,
    rows: [
      {
        places: [
          [0, 0],
          [1, 2],
          [3, 1],
        ],
        closed: true,
      },
    ],
  },
]
var bytes = writeDxf2000(flat2)
function damaged2(bytes2, seed) {
  const { next } = random(seed)
  let out = Array.from(bytes2)
  for (let k = 0; k < 1 + Math.floor(3 * next()); k++) {
    const at2 = Math.floor(next() * out.length)
    const how = Math.floor(next() * 4)
    if (how === 0) out[at2] = Math.floor(next() * 256)
    else if (how === 1) out.splice(at2, 1 + Math.floor(6 * next()))
    else if (how === 2) out.splice(at2, 0, ...out.slice(Math.max(0, at2 - 5), at2))
    else out = out.slice(0, Math.max(4, at2))
  }
  return Uint8Array.from(out)
}
for (let i = 0; i <= 60; i++) {
  const b = i ? damaged2(bytes, i) : bytes
  writeFileSync('/tmp/q/last.dxf', b)
  const t = performance.now()
  console.log(i)
  try {
    readDxf(b)
  } catch (e) {}
  const ms = performance.now() - t
  if (ms > 500) console.log(i, ms)
}
process.exit(0)
