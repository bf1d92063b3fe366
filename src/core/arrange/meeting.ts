/** Where two triangles of a mesh meet, exactly: nothing, a point, a segment, or, in one plane, the parts of their edges that lie in the other. */
import { orient3d } from 'robust-predicates'
import type { Plane, PointTable } from './exact-point'

/** A triangle as arrangements see it: corners by the number of their place, its plane, and the projection that keeps most of it. */
export interface Facet {
  readonly corners: readonly [number, number, number]
  readonly plane: Plane
  /** Coordinates seen to the right and up, so that the corners run counter-clockwise. */
  readonly i: number
  readonly j: number
}

export interface Segment {
  readonly from: number
  readonly to: number
  /** A plane that meets the triangle's own in the segment's line. */
  readonly support: Plane
}

const size = (v: bigint) => (v < 0n ? -v : v)

/** The facet of three corners; null when they lie on a line. */
export function facetOf(table: PointTable, a: number, b: number, c: number): Facet | null {
  if (a === b || b === c || c === a) return null
  const plane = table.planeOf(a, b, c)
  const x = size(plane.x),
    y = size(plane.y),
    z = size(plane.z)
  const axis = x >= y && x >= z ? 0 : y >= z ? 1 : 2
  const along = axis === 0 ? plane.x : axis === 1 ? plane.y : plane.z
  if (along === 0n) return null
  const i = (axis + 1) % 3,
    j = (axis + 2) % 3
  return { corners: [a, b, c], plane, i: along > 0n ? i : j, j: along > 0n ? j : i }
}

const droppedAxis = (f: Facet): number => 3 - f.i - f.j

/** Which side of the plane through a, b, c point d lies on; exact. */
const side = (p: Float32Array, a: number, b: number, c: number, d: number): number =>
  Math.sign(
    orient3d(
      p[3 * a],
      p[3 * a + 1],
      p[3 * a + 2],
      p[3 * b],
      p[3 * b + 1],
      p[3 * b + 2],
      p[3 * c],
      p[3 * c + 1],
      p[3 * c + 2],
      p[3 * d],
      p[3 * d + 1],
      p[3 * d + 2],
    ),
  )

/** Is a vertex in the plane of a facet within it, border included? */
export function holds(table: PointTable, f: Facet, v: number): boolean {
  const [a, b, c] = f.corners
  return table.turn(a, b, v, f.i, f.j) >= 0 && table.turn(b, c, v, f.i, f.j) >= 0 && table.turn(c, a, v, f.i, f.j) >= 0
}

/** Points where the edge u v, which lies in the plane of a facet, begins, ends, or crosses the facet's border. */
function edgeInPlane(table: PointTable, f: Facet, u: number, v: number, out: Set<number>): void {
  if (holds(table, f, u)) out.add(u)
  if (holds(table, f, v)) out.add(v)
  for (let k = 0; k < 3; k++) {
    const a = f.corners[k],
      b = f.corners[(k + 1) % 3]
    if (a === u || a === v || b === u || b === v) continue
    const s = table.turn(u, v, a, f.i, f.j),
      t = table.turn(u, v, b, f.i, f.j)
    if (s * t > 0 || (s === 0 && t === 0)) continue
    const m = table.turn(a, b, u, f.i, f.j),
      n = table.turn(a, b, v, f.i, f.j)
    if (m * n > 0 || (m === 0 && n === 0)) continue
    // A zero means that an end lies on the other's line: then that end is the point, found above or by the other triangle.
    if (s === 0) out.add(a)
    else if (t === 0) out.add(b)
    else if (m !== 0 && n !== 0) out.add(table.onLine(u, v, table.planeAlong(a, b, droppedAxis(f))))
  }
}

/** Points where the edges of s reach t. `signs`: the side of t's plane of each corner of s. */
function edgesThrough(
  table: PointTable,
  p: Float32Array,
  s: Facet,
  t: Facet,
  signs: readonly number[],
  out: Set<number>,
): void {
  const [a, b, c] = t.corners
  for (let k = 0; k < 3; k++) {
    const u = s.corners[k],
      v = s.corners[(k + 1) % 3]
    const su = signs[k],
      sv = signs[(k + 1) % 3]
    if (su === 0 && sv === 0) edgeInPlane(table, t, u, v, out)
    else if (su === 0) {
      if (holds(table, t, u)) out.add(u)
    } else if (sv !== 0 && su !== sv) {
      const s1 = side(p, u, v, a, b),
        s2 = side(p, u, v, b, c),
        s3 = side(p, u, v, c, a)
      if ((s1 >= 0 && s2 >= 0 && s3 >= 0) || (s1 <= 0 && s2 <= 0 && s3 <= 0)) {
        // Through a corner or an edge of t, the point is still the one on s's edge; equal points have one number.
        out.add(table.onLine(u, v, t.plane))
      }
    }
  }
}

export interface Meeting {
  /** Points that both triangles must have. */
  readonly points: readonly number[]
  /** Segments for the first and for the second triangle. */
  readonly first: readonly Segment[]
  readonly second: readonly Segment[]
  /** They lie in one plane and share an area, an edge or a point of it. */
  readonly flat: boolean
}

/** What is shared already needs no cut: corners of both are told apart here. */
export function meet(table: PointTable, p: Float32Array, s: Facet, t: Facet): Meeting | null {
  const [a, b, c] = t.corners
  const signs = s.corners.map((v) => (v === a || v === b || v === c ? 0 : side(p, a, b, c, v)))
  if ((signs[0] > 0 && signs[1] > 0 && signs[2] > 0) || (signs[0] < 0 && signs[1] < 0 && signs[2] < 0)) return null
  if (signs[0] === 0 && signs[1] === 0 && signs[2] === 0) return meetFlat(table, s, t)
  const [d, e, f] = s.corners
  const other = t.corners.map((v) => (v === d || v === e || v === f ? 0 : side(p, d, e, f, v)))
  if ((other[0] > 0 && other[1] > 0 && other[2] > 0) || (other[0] < 0 && other[1] < 0 && other[2] < 0)) return null
  const points = new Set<number>()
  edgesThrough(table, p, s, t, signs, points)
  edgesThrough(table, p, t, s, other, points)
  if (!points.size) return null
  const found = [...points]
  const corner = (v: number) => s.corners.includes(v) && t.corners.includes(v)
  if (found.every(corner)) return null
  if (found.length < 2) return { points: found, first: [], second: [], flat: false }
  // Two convex sets in two planes share one stretch of a line: it runs between the outermost points.
  let from = found[0],
    to = found[0]
  const axis = [0, 1, 2].find((k) => found.some((v) => table.compare(v, found[0], k) !== 0)) ?? 0
  for (const v of found) {
    if (table.compare(v, from, axis) < 0) from = v
    if (table.compare(v, to, axis) > 0) to = v
  }
  return {
    points: found,
    first: [{ from, to, support: t.plane }],
    second: [{ from, to, support: s.plane }],
    flat: false,
  }
}

function meetFlat(table: PointTable, s: Facet, t: Facet): Meeting | null {
  const points = new Set<number>()
  const clip = (of: Facet, within: Facet): Segment[] => {
    const out: Segment[] = []
    for (let k = 0; k < 3; k++) {
      const u = of.corners[k],
        v = of.corners[(k + 1) % 3]
      const on = new Set<number>()
      edgeInPlane(table, within, u, v, on)
      // Corners of the other that lie on this edge.
      for (const c of within.corners)
        if (c !== u && c !== v && table.turn(u, v, c, of.i, of.j) === 0 && between(table, u, v, c)) on.add(c)
      for (const p of on) points.add(p)
      if (on.size < 2) continue
      const list = [...on]
      const axis = longAxis(table, u, v)
      list.sort((a, b) => table.compare(a, b, axis))
      out.push({ from: list[0], to: list[list.length - 1], support: table.planeAlong(u, v, droppedAxis(of)) })
    }
    return out
  }
  const first = clip(t, s),
    second = clip(s, t)
  const corner = (v: number) => s.corners.includes(v) && t.corners.includes(v)
  // Neighbours side by side, or one triangle twice.
  if ([...points].every(corner)) return null
  return { points: [...points], first, second, flat: true }
}

/** The coordinate along which two points lie furthest apart. */
export function longAxis(table: PointTable, u: number, v: number): number {
  let axis = 0,
    most = -1
  for (let k = 0; k < 3; k++) {
    const d = Math.abs(table.coordinate(u, k) - table.coordinate(v, k))
    if (d > most) {
      most = d
      axis = k
    }
  }
  return axis
}

/** Is a point on the line u v strictly between its ends? */
export function between(table: PointTable, u: number, v: number, p: number): boolean {
  const axis = longAxis(table, u, v)
  return table.compare(u, p, axis) * table.compare(p, v, axis) > 0
}
