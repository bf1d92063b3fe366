/** Bicubic B-spline sheets over a rectangle of parameters in mm: places, tangents, the nearest parameters, and the form that bodies hold. */
import type { BoundBody, BoundCurve, BoundSpline } from '@/core/bodies/bounded'
import { evenBasis, evenSlope } from '@/core/math/even-cubics'
import { cross, dot as dot3, type Vec3 } from '@/core/math/vec'
import { cellOf, clamped } from './height'

export interface Sheet {
  /** The least parameters, mm. */
  readonly from: readonly [number, number]
  /** Cells along u and v, and the sides of one, mm. */
  readonly cells: readonly [number, number]
  readonly side: readonly [number, number]
  /** x y z of the control points over even knots, (cells u + 3) rows of cells v + 3, mm. */
  readonly control: Float64Array
}

export interface SheetPlace {
  readonly at: Vec3
  /** Derivatives along u and v. */
  readonly u: Vec3
  readonly v: Vec3
}

export function sheetAt({ from, cells, side, control }: Sheet, u: number, v: number): SheetPlace {
  const [a, b] = [cellOf(u - from[0], side[0], cells[0]), cellOf(v - from[1], side[1], cells[1])]
  const [bu, bv, du, dv] = [evenBasis(a.share), evenBasis(b.share), evenSlope(a.share), evenSlope(b.share)]
  const row = cells[1] + 3
  const out = [0, 0, 0, 0, 0, 0, 0, 0, 0]
  for (let i = 0; i < 4; i++)
    for (let j = 0; j < 4; j++) {
      const o = 3 * ((a.cell + i) * row + b.cell + j)
      const [w, wu, wv] = [bu[i] * bv[j], (du[i] * bv[j]) / side[0], (bu[i] * dv[j]) / side[1]]
      for (let k = 0; k < 3; k++) {
        out[k] += w * control[o + k]
        out[3 + k] += wu * control[o + k]
        out[6 + k] += wv * control[o + k]
      }
    }
  return { at: [out[0], out[1], out[2]], u: [out[3], out[4], out[5]], v: [out[6], out[7], out[8]] }
}

/**
 * Parameters near some where the sheet lies nearest to a place, by a few steps of Gauss and Newton; they stay in the rectangle.
 * @returns `off`: how far the place lies from there, mm, above 0 on the side of the sheet's normal
 */
export function nearestOn(s: Sheet, x: Vec3, u: number, v: number, steps = 3): { u: number; v: number; off: number } {
  const { from, cells, side } = s
  const hold = (t: number, k: number) => Math.max(from[k], Math.min(from[k] + cells[k] * side[k], t))
  for (let step = 0; step < steps; step++) {
    const p = sheetAt(s, u, v)
    const d: Vec3 = [x[0] - p.at[0], x[1] - p.at[1], x[2] - p.at[2]]
    const [uu, uv, vv, ru, rv] = [dot3(p.u, p.u), dot3(p.u, p.v), dot3(p.v, p.v), dot3(p.u, d), dot3(p.v, d)]
    const det = uu * vv - uv * uv
    if (!(det > 1e-12 * uu * vv)) break
    // No farther than a cell at once.
    const limit = (t: number, k: number) => Math.max(-side[k], Math.min(side[k], t))
    u = hold(u + limit((ru * vv - rv * uv) / det, 0), 0)
    v = hold(v + limit((rv * uu - ru * uv) / det, 1), 1)
  }
  const p = sheetAt(s, u, v)
  const d: Vec3 = [x[0] - p.at[0], x[1] - p.at[1], x[2] - p.at[2]]
  const off = Math.hypot(...d)
  return { u, v, off: dot3(cross(p.u, p.v), d) < 0 ? -off : off }
}

export function normalAt(s: Sheet, u: number, v: number): Vec3 {
  const p = sheetAt(s, u, v)
  const n = cross(p.u, p.v)
  const l = Math.hypot(...n) || 1
  return [n[0] / l, n[1] / l, n[2] / l]
}

/** The sheet with clamped knots (The NURBS Book, ch. 5.3). */
export function splineOfSheet({ from, cells, side, control }: Sheet): BoundSpline {
  const [nu, nv] = [cells[0] + 3, cells[1] + 3]
  const axes = [0, 1, 2].map((k) => {
    const rows = Array.from({ length: nu }, (_, i) =>
      clamped(Array.from({ length: nv }, (__, j) => control[3 * (i * nv + j) + k])),
    )
    const columns = Array.from({ length: nv }, (_, j) => clamped(rows.map((r) => r[j])))
    return (i: number, j: number) => columns[j][i]
  })
  const knots = (n: number, d: number, t: number) => Array.from({ length: n + 1 }, (_, i) => t + i * d)
  const times = (n: number) => Array.from({ length: n + 1 }, (_, i) => (i === 0 || i === n ? 4 : 1))
  return {
    kind: 'spline',
    degree: 3,
    poles: Array.from({ length: nu }, (_, i) =>
      Array.from({ length: nv }, (__, j): Vec3 => [axes[0](i, j), axes[1](i, j), axes[2](i, j)]),
    ),
    knots: [knots(cells[0], side[0], from[0]), knots(cells[1], side[1], from[1])],
    multiplicities: [times(cells[0]), times(cells[1])],
  }
}

/** The whole rectangle as a body of one face, its four sides as edges. */
export function wholeSheet(s: Sheet): BoundBody {
  const surface = splineOfSheet(s)
  const { poles, knots, multiplicities } = surface
  const [nu, nv] = [poles.length, poles[0].length]
  const curve = (row: readonly Vec3[], k: 0 | 1): BoundCurve => ({
    kind: 'spline',
    degree: 3,
    poles: row,
    knots: knots[k],
    multiplicities: multiplicities[k],
  })
  const column = (j: number) => poles.map((r) => r[j])
  return {
    corners: [poles[0][0], poles[nu - 1][0], poles[nu - 1][nv - 1], poles[0][nv - 1]],
    edges: [
      { from: 0, to: 1, curve: curve(column(0), 0) },
      { from: 1, to: 2, curve: curve(poles[nu - 1], 1) },
      { from: 3, to: 2, curve: curve(column(nv - 1), 0) },
      { from: 0, to: 3, curve: curve(poles[0], 1) },
    ],
    faces: [
      {
        surface,
        x: [1, 0, 0],
        flip: false,
        loops: [
          [
            { edge: 0, forward: true },
            { edge: 1, forward: true },
            { edge: 2, forward: false },
            { edge: 3, forward: false },
          ],
        ],
      },
    ],
    shells: [{ outer: [0], hollows: [] }],
    closed: false,
  }
}

/** A smooth closed curve through places as pieces of cubics with a common tangent (Catmull & Rom 1974), between two of them or all round. */
function roundCurve(places: readonly Vec3[], from: number, to: number): BoundCurve {
  const n = places.length
  const at = (i: number) => places[((i % n) + n) % n]
  const gap = (i: number) => Math.hypot(...[0, 1, 2].map((k) => at(i + 1)[k] - at(i)[k])) || 1e-9
  const slope = (i: number) => [0, 1, 2].map((k) => (at(i + 1)[k] - at(i - 1)[k]) / (gap(i - 1) + gap(i)))
  const poles: Vec3[] = [at(from)]
  const knots = [0]
  for (let i = from; i < to; i++) {
    const h = gap(i)
    const [a, b] = [slope(i), slope(i + 1)]
    poles.push([0, 1, 2].map((k) => at(i)[k] + (h * a[k]) / 3) as unknown as Vec3)
    poles.push([0, 1, 2].map((k) => at(i + 1)[k] - (h * b[k]) / 3) as unknown as Vec3)
    knots.push(knots[knots.length - 1] + h)
  }
  poles.push(at(to))
  return {
    kind: 'spline',
    degree: 3,
    poles,
    knots,
    multiplicities: knots.map((_, i) => (i === 0 || i === knots.length - 1 ? 4 : 2)),
  }
}

/** The sheet inside loops of places on it, the outer one first: each a row of parameters, material to the left. */
export function trimmedSheet(s: Sheet, loops: readonly (readonly (readonly [number, number])[])[]): BoundBody {
  const corners: Vec3[] = []
  const edges: { from: number; to: number; curve: BoundCurve }[] = []
  const rims = loops.map((loop) => {
    const places = loop.map(([u, v]) => sheetAt(s, u, v).at)
    // Two edges, so that none is closed on itself.
    const half = places.length >> 1
    const first = corners.length
    corners.push(places[0], places[half])
    const e = edges.length
    edges.push({ from: first, to: first + 1, curve: roundCurve(places, 0, half) })
    edges.push({ from: first + 1, to: first, curve: roundCurve(places, half, places.length) })
    return [
      { edge: e, forward: true },
      { edge: e + 1, forward: true },
    ]
  })
  return {
    corners,
    edges,
    faces: [{ surface: splineOfSheet(s), x: [1, 0, 0], flip: false, loops: rims }],
    shells: [{ outer: [0], hollows: [] }],
    closed: false,
  }
}
