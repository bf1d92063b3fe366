/** Curves of a drawing as rows of places within a chord tolerance, for drawing, areas, lengths and files. */
import { endsOf, type Curve, type Drawing, type Place } from './drawing'
import { at, endOf, throughSpline, type Spline } from './spline'

/** Angle in degrees that an arc spans from its start to its end, the way it runs: above zero when counter-clockwise. */
export function sweepOf(d: Drawing, c: Extract<Curve, { kind: 'arc' }>): number {
  const [p, q, m] = [d.points[c.from], d.points[c.to], d.points[c.centre]]
  const a = Math.atan2(p[1] - m[1], p[0] - m[0]),
    b = Math.atan2(q[1] - m[1], q[0] - m[0])
  let turn = ((b - a) * 180) / Math.PI
  if (c.ccw) while (turn <= 1e-9) turn += 360
  else while (turn >= -1e-9) turn -= 360
  return turn
}

/** Even knots of a cubic that begins and ends at its outer control points (Piegl & Tiller, The NURBS Book, 9.2). */
const evenKnots = (count: number): number[] =>
  Array.from({ length: count + 4 }, (_, i) => Math.max(0, Math.min(count - 3, i - 3)))

/** The cubic of a spline curve; null when it has too few points or they fall together. */
export function splineOf(d: Drawing, c: Extract<Curve, { kind: 'spline' }>): Spline | null {
  const places = (c.through ?? c.control ?? []).map((i) => d.points[i])
  if (c.through) return throughSpline(places, !!c.closed)
  if (c.closed) return places.length >= 4 ? { control: places, knots: [], closed: true } : null
  if (places.length < 4) return null
  const knots = c.knots ?? evenKnots(places.length)
  const [first, last] = [knots[0], knots[knots.length - 1]]
  if (knots.length !== places.length + 4 || !(last > first)) return null
  return { control: places, knots: knots.map((k) => (k - first) / (last - first)), closed: false }
}

const steps = (sweep: number, radius: number, chord: number) =>
  Math.max(2, Math.min(2000, Math.ceil(sweep / (2 * Math.acos(Math.max(0, 1 - chord / Math.max(radius, chord)))))))

/** Places along a curve, its ends among them; a curve that closes on itself ends where it began. */
export function sampleCurve(d: Drawing, c: Curve, chord: number): Place[] {
  const round = (m: Place, from: number, sweep: number, long: number, short: number, turn: number): Place[] => {
    const n = steps(Math.abs(sweep), Math.max(long, short), chord)
    const [cos, sin] = [Math.cos(turn), Math.sin(turn)]
    return Array.from({ length: n + 1 }, (_, i): Place => {
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
      // Halved until the middle of each piece lies within the tolerance of its chord.
      const out: Place[] = [at(s, 0)]
      const add = (a: number, b: number, p: Place, q: Place, depth: number) => {
        const m = at(s, (a + b) / 2)
        const l = Math.hypot(q[0] - p[0], q[1] - p[1])
        const off =
          l > 1e-12
            ? Math.abs((q[0] - p[0]) * (m[1] - p[1]) - (q[1] - p[1]) * (m[0] - p[0])) / l
            : Math.hypot(m[0] - p[0], m[1] - p[1])
        if (depth < 10 && (off > chord || depth < 1)) {
          add(a, (a + b) / 2, p, m, depth + 1)
          add((a + b) / 2, b, m, q, depth + 1)
        } else out.push(q)
      }
      for (let i = 0; i < spans; i++) {
        const a = (end * i) / spans,
          b = (end * (i + 1)) / spans
        add(a, b, at(s, a), at(s, b), 0)
      }
      return out
    }
  }
}

/** Length along a row of places, mm. */
export const lengthOf = (row: readonly Place[]): number => {
  let sum = 0
  for (let i = 1; i < row.length; i++) sum += Math.hypot(row[i][0] - row[i - 1][0], row[i][1] - row[i - 1][1])
  return sum
}

export interface Chain {
  readonly places: Place[]
  readonly closed: boolean
  /** Numbers of the curves it is made of, in order. */
  readonly curves: number[]
}

/** Curves that share end points, one after the other; construction lines are left out. Where more than two meet, a chain ends. */
export function chainsOf(d: Drawing, chord: number): Chain[] {
  const meets = new Map<number, number[]>()
  const used = Uint8Array.from(d.curves, (c) => (c.construction ? 1 : 0))
  d.curves.forEach((c, i) => {
    if (used[i]) return
    for (const p of endsOf(c) ?? []) meets.set(p, [...(meets.get(p) ?? []), i])
  })
  const out: Chain[] = []
  const follow = (first: number, from: number) => {
    const places: Place[] = []
    const curves: number[] = []
    let at = from
    for (let i = first; ;) {
      used[i] = 1
      curves.push(i)
      const row = sampleCurve(d, d.curves[i], chord)
      const [a, b] = endsOf(d.curves[i])!
      if (a !== at) row.reverse()
      places.push(...(places.length ? row.slice(1) : row))
      at = a === at ? b : a
      const next = meets.get(at)!.filter((j) => !used[j])
      if (meets.get(at)!.length !== 2 || !next.length) break
      i = next[0]
    }
    const closed = at === from && curves.length > 0 && places.length > 2
    if (closed) places.pop()
    out.push({ places, closed, curves })
  }
  d.curves.forEach((c, i) => {
    if (used[i] || endsOf(c)) return
    used[i] = 1
    out.push({ places: sampleCurve(d, c, chord).slice(0, -1), closed: true, curves: [i] })
  })
  // Open ends first, so that no chain begins in its middle.
  d.curves.forEach((c, i) => {
    const ends = endsOf(c)
    if (used[i] || !ends) return
    const loose = ends.find((p) => meets.get(p)!.length !== 2)
    if (loose !== undefined) follow(i, loose)
  })
  d.curves.forEach((c, i) => {
    if (!used[i]) follow(i, endsOf(c)![0])
  })
  return out
}
