/** Pieces fitted to runs of places, brought together: arcs tangent to the lines they run into, corners where pieces meet. */
import { cross, type Vec3 } from '@/core/math/vec'
import { solveDense } from '@/core/math/least-squares'
import type { Place } from '@/core/outline/drawing'
import { meets } from '@/core/outline/meets'
import { geometricCircle, Sums, type FittedCircle, type FittedLine } from './fits'
import type { Run } from './runs'

export type Piece =
  | { readonly kind: 'line'; readonly from: number; readonly to: number; readonly line: FittedLine }
  | {
      readonly kind: 'arc'
      readonly from: number
      readonly to: number
      readonly circle: FittedCircle
      readonly ccw: boolean
      /** Whether its start and end run smoothly into its neighbours, exactly. */
      readonly smooth: readonly [boolean, boolean]
    }
  | { readonly kind: 'spline'; readonly from: number; readonly to: number }

/** Line and arc within this angle where they meet, degrees, are meant to be tangent, if the tolerance allows it. */
const tangentUnder = 12

const dot = (a: Place, b: Place) => a[0] * b[0] + a[1] * b[1]

/** Places of a run without its ends when it has enough: those belong to the neighbours as well. */
function inner(places: readonly Place[], from: number, to: number): Place[] {
  const n = places.length
  const cut = to - from >= 6 ? 1 : 0
  return Array.from({ length: to - from + 1 - 2 * cut }, (_, i) => places[(from + cut + i) % n])
}

/** The piece of each run, fitted by itself. */
export function fitPieces(places: readonly Place[], runs: readonly Run[]): Piece[] {
  const sums = new Sums(places)
  return runs.map(({ kind, from, to }): Piece => {
    const cut = to - from >= 6 ? 1 : 0
    if (kind === 'line') return { kind, from, to, line: sums.line(from + cut, to - cut) }
    const own = inner(places, from, to)
    const first = sums.circle(from, to)!
    const circle = geometricCircle(own, first)
    let turn = 0
    const n = places.length
    for (let i = from; i < to; i++) {
      const [p, q] = [places[i % n], places[(i + 1) % n]]
      turn +=
        (p[0] - circle.centre[0]) * (q[1] - circle.centre[1]) - (p[1] - circle.centre[1]) * (q[0] - circle.centre[0])
    }
    return { kind, from, to, circle, ccw: turn > 0, smooth: [false, false] }
  })
}

/** Angle in degrees between a line and a circle where they come nearest to a place. */
function meetAngle(line: FittedLine, { centre, radius }: FittedCircle): number {
  const off = Math.abs((centre[0] - line.at[0]) * line.way[1] - (centre[1] - line.at[1]) * line.way[0])
  return (Math.acos(Math.min(1, off / radius)) * 180) / Math.PI
}

/**
 * Arcs that run into lines nearly smoothly are fitted again tangent to them: the lines stay, of the circle only what tangency leaves free is
 * fitted (two tangents leave one freedom, as in a rounded corner or the end of a slot). An arc that then misses its places stays as it was.
 */
export function makeTangent(
  places: readonly Place[],
  pieces: readonly Piece[],
  closed: boolean,
  tolerance: number,
): Piece[] {
  const m = pieces.length
  return pieces.map((piece, i): Piece => {
    if (piece.kind !== 'arc') return piece
    const before = i > 0 || closed ? pieces[(i + m - 1) % m] : null,
      after = i + 1 < m || closed ? pieces[(i + 1) % m] : null
    const smooth = [before, after].map((p) => {
      if (p?.kind !== 'line') return false
      const { line } = p
      const off = Math.abs(
        (piece.circle.centre[0] - line.at[0]) * line.way[1] - (piece.circle.centre[1] - line.at[1]) * line.way[0],
      )
      return meetAngle(line, piece.circle) < tangentUnder || Math.abs(off - piece.circle.radius) < tolerance
    })
    for (const tries of [
      smooth,
      ...(smooth[0] && smooth[1]
        ? [
            [true, false],
            [false, true],
          ]
        : []),
    ]) {
      const lines = [before, after].flatMap((p, k) => (tries[k] && p?.kind === 'line' ? [p.line] : []))
      if (!lines.length) continue
      const circle = tangentCircle(inner(places, piece.from, piece.to), piece.circle, lines)
      if (!circle) continue
      const n = places.length
      let most = 0
      for (let k = piece.from + 1; k < piece.to; k++) {
        const p = places[k % n]
        most = Math.max(most, Math.abs(Math.hypot(p[0] - circle.centre[0], p[1] - circle.centre[1]) - circle.radius))
      }
      if (most > tolerance) continue
      return { ...piece, circle, smooth: [tries[0], tries[1]] }
    }
    return piece
  })
}

/** The circle tangent to one or two lines, on the sides where the first guess lies, nearest to places. */
function tangentCircle(
  places: readonly Place[],
  first: FittedCircle,
  lines: readonly FittedLine[],
): FittedCircle | null {
  // n . c - side r = n . at for each line: a plane in (x, y, r).
  const rows = lines.map(({ at, way }) => {
    const n: Place = [-way[1], way[0]]
    const side = Math.sign(dot(n, first.centre) - dot(n, at)) || 1
    return { a: [n[0], n[1], -side] as Vec3, d: dot(n, at) }
  })
  // Directions that stay on all planes.
  const [p, q] = [rows[0].a, rows[1]?.a]
  let free: (readonly number[])[]
  if (q) {
    const x = cross(p, q)
    const l = Math.hypot(...x)
    if (l < 1e-6) return null
    free = [x.map((v) => v / l)]
  } else {
    const along: Vec3 = [-p[1], p[0], 0]
    const x = cross(p, along)
    const l = Math.hypot(...x)
    free = [along, x.map((v) => v / l)]
  }
  // The first guess drawn on to the planes.
  let v = [first.centre[0], first.centre[1], first.radius]
  const gram = rows.map((r) => rows.map((s) => r.a.reduce((sum, w, k) => sum + w * s.a[k], 0)))
  const off = rows.map((r) => r.d - r.a.reduce((sum, w, k) => sum + w * v[k], 0))
  const lift = solveDense(gram, off)
  if (!lift) return null
  v = v.map((w, k) => w + rows.reduce((sum, r, i) => sum + lift[i] * r.a[k], 0))
  for (let round = 0; round < 20; round++) {
    const m = free.map(() => free.map(() => 0))
    const b = free.map(() => 0)
    for (const [x, y] of places) {
      const d = Math.hypot(x - v[0], y - v[1])
      if (!(d > 0)) continue
      const g = [(v[0] - x) / d, (v[1] - y) / d, -1]
      const w = free.map((f) => f[0] * g[0] + f[1] * g[1] + f[2] * g[2])
      for (let i = 0; i < w.length; i++) {
        b[i] -= w[i] * (d - v[2])
        for (let j = 0; j < w.length; j++) m[i][j] += w[i] * w[j]
      }
    }
    const step = solveDense(m, b)
    if (!step?.every(Number.isFinite)) return null
    v = v.map((w, k) => w + free.reduce((s, f, i) => s + step[i] * f[k], 0))
    if (Math.hypot(...step) < 1e-13 * Math.abs(v[2])) break
  }
  return v[2] > 0 && v.every(Number.isFinite) ? { centre: [v[0], v[1]], radius: v[2] } : null
}

export const foot = ({ at, way }: FittedLine, p: Place): Place => {
  const s = (p[0] - at[0]) * way[0] + (p[1] - at[1]) * way[1]
  return [at[0] + s * way[0], at[1] + s * way[1]]
}
export const onRound = ({ centre, radius }: FittedCircle, p: Place): Place => {
  const d = Math.hypot(p[0] - centre[0], p[1] - centre[1]) || 1
  return [centre[0] + ((p[0] - centre[0]) * radius) / d, centre[1] + ((p[1] - centre[1]) * radius) / d]
}
const nearer = (p: Place, ...all: Place[]): Place | null =>
  all.reduce<Place | null>((best, q) => (!best || gap(q, p) < gap(best, p) ? q : best), null)
const gap = (a: Place, b: Place) => Math.hypot(a[0] - b[0], a[1] - b[1])

/** Lines that run within a degree of each other meet nowhere that can be relied on. */
const aslant = (a: FittedLine, b: FittedLine) => Math.abs(a.way[0] * b.way[1] - a.way[1] * b.way[0]) >= 0.02

/** Where two neighbouring pieces meet: exactly where they cross or touch when that is near the place they share, else between them. */
export function junction(a: Piece, b: Piece, shared: Place, reach: number): Place {
  const near = (p: Place | null): Place | null => (p && gap(p, shared) <= reach ? p : null)
  const on = (p: Piece, at: Place): Place =>
    p.kind === 'line' ? foot(p.line, at) : p.kind === 'arc' ? onRound(p.circle, at) : at
  if (a.kind === 'spline' || b.kind === 'spline') return a.kind === 'spline' ? on(b, shared) : on(a, shared)
  let found: Place | null = null
  if (a.kind === 'line' && b.kind === 'line')
    found = aslant(a.line, b.line) ? near(nearer(shared, ...meets(a.line, b.line))) : null
  else if (a.kind === 'arc' && b.kind === 'arc') found = near(nearer(shared, ...meets(a.circle, b.circle)))
  else {
    const [line, arc, smooth] =
      a.kind === 'line' && b.kind === 'arc'
        ? [a.line, b.circle, b.smooth[0]]
        : b.kind === 'line' && a.kind === 'arc'
          ? [b.line, a.circle, a.smooth[1]]
          : [null, null, false]
    if (line && arc) found = smooth ? foot(line, arc.centre) : near(nearer(shared, ...meets(line, arc)))
  }
  if (found) return found
  const [p, q] = [on(a, shared), on(b, shared)]
  return [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2]
}
