/** The curve in which two surfaces meet, as the simplest that it is: a line, a circle, an ellipse, or a cubic spline through places on both. */
import type { BoundCurve } from '@/core/bodies/bounded'
import {
  add,
  addScaled,
  cross,
  distance,
  dot,
  length,
  normalize,
  perpendicular,
  scale,
  sub,
  type Vec3,
} from '@/core/math/vec'
import { normalOf, offShape, type Shape } from '@/core/fit/shape'
import { onto } from './onto'

/** A whole line, circle or ellipse that two surfaces share. */
export type Conic =
  | { kind: 'line'; at: Vec3; way: Vec3 }
  | { kind: 'circle'; centre: Vec3; axis: Vec3; radius: number }
  | { kind: 'ellipse'; centre: Vec3; axis: Vec3; long: Vec3; radius: number; minor: number }

const parallel = (a: Vec3, b: Vec3) => length(cross(a, b)) < 1e-4
const squareTo = (a: Vec3, b: Vec3) => Math.abs(dot(a, b)) < 1e-4

/** A surface of revolution as its half section in (distance from the axis, along it): a line or a circle. */
type Section =
  | { kind: 'line'; r: number; z: number; dr: number; dz: number }
  | { kind: 'circle'; r: number; z: number; radius: number }

/** The half section of a shape about an axis; null where it is no surface of revolution about it. */
function sectionOf(s: Shape, at: Vec3, axis: Vec3, close: number): Section | null {
  const d = sub(s.at, at)
  const z = dot(d, axis)
  const out = length(addScaled(d, axis, -z))
  if (s.kind === 'sphere') return out < close ? { kind: 'circle', r: 0, z, radius: s.radius! } : null
  if (!parallel(s.axis!, axis)) return null
  if (s.kind === 'plane') return { kind: 'line', r: 0, z, dr: 1, dz: 0 }
  if (out > close) return null
  if (s.kind === 'cylinder') return { kind: 'line', r: s.radius!, z: 0, dr: 0, dz: 1 }
  if (s.kind === 'ring') return { kind: 'circle', r: s.radius!, z, radius: s.thickness! }
  const a = (s.halfAngle! * Math.PI) / 180
  const way = dot(s.axis!, axis) < 0 ? -1 : 1
  return { kind: 'line', r: 0, z, dr: Math.sin(a), dz: way * Math.cos(a) }
}

/** Where two half sections meet; where they only touch, or nearly, the place between. */
function crossings(a: Section, b: Section, close: number): [number, number][] {
  if (a.kind === 'circle' && b.kind === 'line') return crossings(b, a, close)
  if (a.kind === 'line' && b.kind === 'line') {
    const det = a.dr * -b.dz + b.dr * a.dz
    if (Math.abs(det) < 1e-9) return []
    const t = ((b.r - a.r) * -b.dz + b.dr * (b.z - a.z)) / det
    return [[a.r + t * a.dr, a.z + t * a.dz]]
  }
  if (a.kind === 'line' && b.kind === 'circle') {
    const l = Math.hypot(a.dr, a.dz)
    const [ur, uz] = [a.dr / l, a.dz / l]
    const t = (b.r - a.r) * ur + (b.z - a.z) * uz
    const foot: [number, number] = [a.r + t * ur, a.z + t * uz]
    const d = Math.hypot(foot[0] - b.r, foot[1] - b.z)
    const half = Math.sqrt(Math.max(0, b.radius ** 2 - d ** 2))
    if (Math.abs(d - b.radius) < close) return [foot]
    if (d > b.radius) return []
    return [-half, half].map((h): [number, number] => [foot[0] + h * ur, foot[1] + h * uz])
  }
  if (a.kind !== 'circle' || b.kind !== 'circle') return []
  const [dr, dz] = [b.r - a.r, b.z - a.z]
  const d = Math.hypot(dr, dz)
  if (d < 1e-9) return []
  const [ur, uz] = [dr / d, dz / d]
  const t = (d * d + a.radius ** 2 - b.radius ** 2) / (2 * d)
  const h2 = a.radius ** 2 - t * t
  const touch =
    Math.abs(Math.abs(d) - (a.radius + b.radius)) < close || Math.abs(d - Math.abs(a.radius - b.radius)) < close
  if (touch) {
    const s = Math.sign(t) * a.radius
    return [[a.r + s * ur, a.z + s * uz]]
  }
  if (h2 < 0) return []
  const h = Math.sqrt(h2)
  return [-h, h].map((k): [number, number] => [a.r + t * ur - k * uz, a.z + t * uz + k * ur])
}

/** The axis that two surfaces may both be turned about. */
function axisOf(a: Shape, b: Shape): { at: Vec3; axis: Vec3 } | null {
  const own = [a, b].find((s) => s.kind === 'cylinder' || s.kind === 'cone' || s.kind === 'ring')
  if (own) return { at: own.at, axis: own.axis! }
  const ball = [a, b].find((s) => s.kind === 'sphere')
  const other = ball === a ? b : a
  if (!ball) return null
  if (other.kind === 'plane') return { at: ball.at, axis: other.axis! }
  const d = sub(other.at, ball.at)
  return length(d) > 1e-9 ? { at: ball.at, axis: normalize(d) } : null
}

/** Lines, circles and ellipses in which two surfaces meet; none where it is another curve. */
export function conicsOf(a: Shape, b: Shape, close: number): Conic[] {
  if (a.kind === 'plane' && b.kind === 'plane') {
    const way = cross(a.axis!, b.axis!)
    if (length(way) < 1e-6) return []
    return [{ kind: 'line', at: onto(a.at, [a, b]).at, way: normalize(way) }]
  }
  const turned = axisOf(a, b)
  if (turned) {
    const sections = [a, b].map((s) => sectionOf(s, turned.at, turned.axis, close))
    if (sections[0] && sections[1]) {
      const found = crossings(sections[0], sections[1], close)
      return found
        .filter(([r]) => r > 1e-9)
        .map(([r, z]) => ({
          kind: 'circle',
          centre: addScaled(turned.at, turned.axis, z),
          axis: turned.axis,
          radius: r,
        }))
    }
  }
  if (a.kind === 'plane') return conicsOf(b, a, close)
  if (b.kind === 'plane') return roundAndPlane(a, b, close)
  if (a.kind === 'cylinder' && b.kind === 'cylinder' && parallel(a.axis!, b.axis!)) return parallelBars(a, b, close)
  if (b.kind === 'ring' && a.kind !== 'ring') return conicsOf(b, a, close)
  if (a.kind === 'ring' && b.kind === 'cylinder') return ringAndBar(a, b, close)
  return []
}

/** Where a plane that is not square to its axis cuts a round surface. */
function roundAndPlane(a: Shape, plane: Shape, close: number): Conic[] {
  const n = plane.axis!
  if (a.kind === 'cylinder') return cylinderAndPlane(a, plane, close)
  if (a.kind === 'cone') return coneAndPlane(a, plane)
  if (a.kind !== 'ring' || !squareTo(a.axis!, n) || Math.abs(dot(sub(a.at, plane.at), n)) >= close) return []
  const out = cross(a.axis!, n)
  return [-1, 1].map((s) => ({
    kind: 'circle',
    centre: addScaled(a.at, normalize(out), s * a.radius!),
    axis: n,
    radius: a.thickness!,
  }))
}

/** Two lines, one where it touches, along the axis; an ellipse across it. */
function cylinderAndPlane(a: Shape, plane: Shape, close: number): Conic[] {
  const n = plane.axis!
  const off = dot(sub(a.at, plane.at), n)
  if (squareTo(a.axis!, n)) {
    const way = normalize(addScaled(a.axis!, n, -dot(a.axis!, n)))
    const foot = addScaled(a.at, n, -off)
    const half = Math.abs(Math.abs(off) - a.radius!) < close ? 0 : Math.sqrt(Math.max(0, a.radius! ** 2 - off * off))
    const across = cross(n, way)
    return (half ? [-half, half] : [0]).map((h) => ({ kind: 'line', at: addScaled(foot, across, h), way }))
  }
  const slope = dot(a.axis!, n)
  const centre = addScaled(a.at, a.axis!, -off / slope)
  const long = normalize(addScaled(a.axis!, n, -slope))
  return [{ kind: 'ellipse', centre, axis: n, long, radius: a.radius! / Math.abs(slope), minor: a.radius! }]
}

function parallelBars(a: Shape, b: Shape, close: number): Conic[] {
  const d = sub(b.at, a.at)
  const flat = addScaled(d, a.axis!, -dot(d, a.axis!))
  const dist = length(flat)
  if (dist < 1e-9) return []
  const u = normalize(flat)
  const v = cross(a.axis!, u)
  return crossings(
    { kind: 'circle', r: 0, z: 0, radius: a.radius! },
    { kind: 'circle', r: dist, z: 0, radius: b.radius! },
    close,
  ).map(([x, y]) => ({ kind: 'line', at: addScaled(addScaled(a.at, u, x), v, y), way: a.axis! }))
}

/** A round bar that runs on as a bent one. */
function ringAndBar(a: Shape, b: Shape, close: number): Conic[] {
  const d = sub(b.at, a.at)
  if (!squareTo(a.axis!, b.axis!) || Math.abs(dot(d, a.axis!)) > close) return []
  const foot = addScaled(b.at, b.axis!, -dot(d, b.axis!))
  if (Math.abs(distance(foot, a.at) - a.radius!) > close || Math.abs(a.thickness! - b.radius!) > close) return []
  return [{ kind: 'circle', centre: foot, axis: b.axis!, radius: b.radius! }]
}

/** A cone cut across into an ellipse, or along lines through its tip; other cuts are left to the spline. */
function coneAndPlane(cone: Shape, plane: Shape): Conic[] {
  const n = plane.axis!
  const slope = dot(cone.axis!, n)
  const a = (cone.halfAngle! * Math.PI) / 180
  const off = dot(sub(plane.at, cone.at), n)
  // In the plane through the axis and the normal: where its two walls are cut.
  const across = addScaled(n, cone.axis!, -slope)
  if (length(across) < 1e-9 || Math.abs(off) < 1e-9) return []
  const u = normalize(across)
  const ends = [1, -1].map((side) => {
    const wall = add(scale(cone.axis!, Math.cos(a)), scale(u, side * Math.sin(a)))
    const t = off / dot(wall, n)
    return t > 0 && Number.isFinite(t) ? addScaled(cone.at, wall, t) : null
  })
  if (!ends[0] || !ends[1]) return []
  const centre = scale(add(ends[0], ends[1]), 0.5)
  const radius = distance(ends[0], ends[1]) / 2
  // Half the chord of the cone at the middle of the cut, square to that plane.
  const along = dot(sub(centre, cone.at), cone.axis!)
  const aside = length(addScaled(sub(centre, cone.at), cone.axis!, -along))
  const minor = Math.sqrt(Math.max(0, (along * Math.tan(a)) ** 2 - aside ** 2))
  const long = normalize(sub(ends[0], ends[1]))
  return minor > 1e-9 && minor <= radius ? [{ kind: 'ellipse', centre, axis: n, long, radius, minor }] : []
}

/** Distance of a place from a whole conic, mm; of an ellipse nearly. */
function offConic(c: Conic, p: Vec3): number {
  if (c.kind === 'line') {
    const d = sub(p, c.at)
    return length(addScaled(d, c.way, -dot(d, c.way)))
  }
  const d = sub(p, c.centre)
  const up = dot(d, c.axis)
  const flat = addScaled(d, c.axis, -up)
  if (c.kind === 'circle') return Math.hypot(length(flat) - c.radius, up)
  const side = cross(c.axis, c.long)
  const t = Math.atan2(dot(flat, side) / c.minor, dot(flat, c.long) / c.radius)
  const near = add(scale(c.long, c.radius * Math.cos(t)), scale(side, c.minor * Math.sin(t)))
  return Math.hypot(distance(flat, near), up)
}

/** Angle round a conic of a place, radians. */
function angleOn(c: Exclude<Conic, { kind: 'line' }>, p: Vec3): number {
  const d = sub(p, c.centre)
  const x = c.kind === 'ellipse' ? c.long : perpendicular(c.axis)
  const y = cross(c.axis, x)
  return c.kind === 'ellipse' ? Math.atan2(dot(d, y) / c.minor, dot(d, x) / c.radius) : Math.atan2(dot(d, y), dot(d, x))
}

/** mm: `close` what counts as touching; `loose` how far a run of mesh edges may lie off its curve. */
export interface Within {
  readonly close: number
  readonly loose: number
}

export interface Met {
  readonly curve: BoundCurve
  /** Where a closed curve begins. */
  readonly start?: Vec3
  /** How far it is off the surfaces at most, mm. */
  readonly off: number
}

/** The conic turned so that it runs as a row of places does. */
function alongRow(c: Conic, row: readonly Vec3[]): BoundCurve {
  if (c.kind === 'line') return { kind: 'line' }
  let turn = 0
  for (let i = 0; i + 1 < row.length; i++) {
    const d = angleOn(c, row[i + 1]) - angleOn(c, row[i])
    turn += d - 2 * Math.PI * Math.round(d / (2 * Math.PI))
  }
  const axis = turn < 0 ? scale(c.axis, -1) : c.axis
  return { ...c, axis }
}

/** Splines lie on their surfaces to this share of their length, and are given up beyond so many pieces. */
const splineShare = 2e-6
const mostPieces = 256

/** The place of a conic nearest to another, of an ellipse nearly. */
export function ontoConic(c: Conic, p: Vec3): Vec3 {
  if (c.kind === 'line') return addScaled(c.at, c.way, dot(sub(p, c.at), c.way))
  const d = sub(p, c.centre)
  const flat = addScaled(d, c.axis, -dot(d, c.axis))
  if (c.kind === 'circle') return addScaled(c.centre, normalize(flat), c.radius)
  const side = cross(c.axis, c.long)
  const t = Math.atan2(dot(flat, side) / c.minor, dot(flat, c.long) / c.radius)
  return addScaled(addScaled(c.centre, c.long, c.radius * Math.cos(t)), side, c.minor * Math.sin(t))
}

/**
 * @param row places along the run of mesh edges from one end to the other; the ends are already on the surfaces
 * @returns null where the surfaces do not meet along the run
 */
export function meet(a: Shape, b: Shape, row: readonly Vec3[], closed: boolean, { close, loose }: Within): Met | null {
  const inner = closed ? row.slice(0, -1) : row
  const fitting = conicsOf(a, b, close)
    .map((c) => ({ c, off: Math.max(...inner.map((p) => offConic(c, p))) }))
    .sort((x, y) => x.off - y.off)[0]
  if (fitting && fitting.off <= loose && !(closed && fitting.c.kind === 'line')) {
    const curve = alongRow(fitting.c, row)
    if (!closed || curve.kind === 'line' || curve.kind === 'spline') return { curve, off: fitting.off }
    const start =
      curve.kind === 'ellipse'
        ? addScaled(curve.centre, curve.long, curve.radius)
        : addScaled(curve.centre, seamOf(curve.axis), curve.radius)
    return { curve, start, off: fitting.off }
  }
  return splineOn(a, b, row, closed, { close, loose })
}

/** Where angles about an axis begin, whichever way the axis runs: surfaces and circles about one axis agree on it. */
export function seamOf(axis: Vec3): Vec3 {
  const first = axis.find((v) => Math.abs(v) > 1e-9) ?? 1
  return perpendicular(first < 0 ? scale(axis, -1) : axis)
}

/** Places of a row at equal lengths. */
export function evenly(row: readonly Vec3[], pieces: number): Vec3[] {
  const ends = [0]
  for (let i = 1; i < row.length; i++) ends.push(ends[i - 1] + distance(row[i], row[i - 1]))
  const whole = ends[ends.length - 1]
  let k = 1
  return Array.from({ length: pieces + 1 }, (_, i) => {
    if (i === pieces) return row[row.length - 1]
    const at = (whole * i) / pieces
    while (k < row.length - 1 && ends[k] < at) k++
    const share = (at - ends[k - 1]) / (ends[k] - ends[k - 1] || 1)
    return addScaled(row[k - 1], sub(row[k], row[k - 1]), share)
  })
}

/**
 * A cubic through places that turns smoothly at each of them, as the parabola through it and its neighbours does (Bessel; de Boor 1978); along the surfaces
 * whose normals there are given. Null where two fall together.
 */
export function smoothThrough(
  at: readonly Vec3[],
  closed: boolean,
  normals?: readonly (readonly Vec3[])[],
): { curve: BoundCurve; start?: Vec3 } | null {
  const n = at.length - 1
  const free = at.map((p, i) => {
    const before = i > 0 ? at[i - 1] : closed ? at[n - 1] : null
    const after = i < n ? at[i + 1] : closed ? at[1] : null
    const [l, r] = [before && distance(before, p), after && distance(p, after)]
    const [m, k] = [before && scale(sub(p, before), 1 / l!), after && scale(sub(after, p), 1 / r!)]
    if (m && k) return normalize(add(scale(m, r! / (l! + r!)), scale(k, l! / (l! + r!))))
    // At an end the parabola through the three nearest goes on.
    const [far, near] = m ? [at[n - 2], m] : [at[2], k!]
    if (!far) return near
    const inner = m
      ? scale(sub(before!, far), 1 / (distance(far, before!) || 1))
      : scale(sub(far, after!), 1 / (distance(after!, far) || 1))
    const [own, next] = m ? [l!, distance(far, before!)] : [r!, distance(after!, far)]
    return normalize(addScaled(near, sub(near, inner), own / (own + next || 1)))
  })
  const ways = free.map((w, i) => {
    const flat = (normals?.[i] ?? []).reduce((d, m) => addScaled(d, m, -dot(d, m)), w)
    return length(flat) > 0.3 ? normalize(flat) : w
  })
  const made = hermite(at, ways)
  return made && { curve: made, ...(closed ? { start: at[0] } : {}) }
}

/** Pieces of a cubic between places with the directions there. Null where two places fall together. */
function hermite(at: readonly Vec3[], ways: readonly Vec3[]): Extract<BoundCurve, { kind: 'spline' }> | null {
  const pieces = at.length - 1
  const poles: Vec3[] = [at[0]]
  const knots = [0]
  for (let i = 0; i < pieces; i++) {
    const l = distance(at[i], at[i + 1])
    if (!(l > 0)) return null
    poles.push(addScaled(at[i], ways[i], l / 3), addScaled(at[i + 1], ways[i + 1], -l / 3))
    knots.push(knots[i] + l)
  }
  poles.push(at[pieces])
  return {
    kind: 'spline',
    degree: 3,
    poles,
    knots,
    multiplicities: knots.map((_, i) => (i === 0 || i === pieces ? 4 : 2)),
  }
}

/** A cubic through places on both surfaces, with the direction of their cut there (Hermite). */
function splineOn(a: Shape, b: Shape, row: readonly Vec3[], closed: boolean, { close, loose }: Within): Met | null {
  let whole = 0
  for (let i = 1; i < row.length; i++) whole += distance(row[i], row[i - 1])
  const wanted = Math.max(1e-7, splineShare * whole)
  for (let pieces = closed ? 8 : 2; ; pieces *= 2) {
    const even = evenly(row, pieces)
    const places = even.map((p, i) => {
      if (!closed && (i === 0 || i === pieces)) return { at: p, off: 0 }
      return onto(p, [a, b])
    })
    if (closed) places[pieces] = places[0]
    if (
      places.some(
        ({ at, off }, i) => off > close || distance(at, even[i]) > Math.max(loose, 0.5 * (whole / (row.length - 1))),
      )
    )
      return null
    const at = places.map((p) => p.at)
    const chord = (i: number) => {
      const [p, q] = closed
        ? [at[(i - 1 + pieces) % pieces], at[(i + 1) % pieces]]
        : [at[Math.max(0, i - 1)], at[Math.min(pieces, i + 1)]]
      return normalize(sub(q, p))
    }
    const ways = at.map((p, i) => {
      const cut = cross(normalOf(a, p), normalOf(b, p))
      const c = chord(i)
      if (length(cut) < 0.02) return c
      const d = normalize(cut)
      return dot(d, c) < 0 ? scale(d, -1) : d
    })
    const curve = hermite(at, ways)
    if (!curve) return null
    let off = 0
    for (let i = 0; i < pieces; i++) {
      const [p, q] = [curve.poles[2 * i + 1], curve.poles[2 * i + 2]]
      for (const t of [0.25, 0.5, 0.75]) {
        const s = 1 - t
        const mid = [0, 1, 2].map(
          (k) => s ** 3 * at[i][k] + 3 * s * s * t * p[k] + 3 * s * t * t * q[k] + t ** 3 * at[i + 1][k],
        ) as unknown as Vec3
        off = Math.max(off, Math.abs(offShape(a, mid)), Math.abs(offShape(b, mid)))
      }
    }
    if (off > wanted && pieces * 2 <= mostPieces) continue
    return { curve, start: at[0], off }
  }
}
