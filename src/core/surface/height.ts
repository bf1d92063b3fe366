/** Bicubic B-spline heights over a rectangle of a plane: a surface that faces one way (Piegl & Tiller, The NURBS Book, ch. 2 to 5). */
import type { BoundSpline } from '@/core/bodies/bounded'
import { evenBasis, evenSlope } from '@/core/math/even-cubics'
import { addScaled, cross, dot, normalize, sub, type Vec3 } from '@/core/math/vec'

/** A corner of the rectangle, the directions of its sides and of the heights (unit, right-handed). */
export interface Ground {
  readonly at: Vec3
  readonly x: Vec3
  readonly y: Vec3
  readonly n: Vec3
}

export interface Height {
  readonly ground: Ground
  /** Cells along x and y, and the sides of one, mm. */
  readonly cells: readonly [number, number]
  readonly side: readonly [number, number]
  /** Heights of the control points over even knots, (cells x + 3) rows of cells y + 3, mm. */
  readonly control: Float64Array
}

/** A place in the rectangle's own directions: along x, along y, height, mm. */
export const onGround = ({ at, x, y, n }: Ground, p: Vec3): Vec3 => {
  const d = sub(p, at)
  return [dot(d, x), dot(d, y), dot(d, n)]
}

/** Cell and share of it; places beside the rectangle belong to the cell at its rim. */
export function cellOf(u: number, side: number, cells: number): { cell: number; share: number } {
  const t = u / side
  const cell = Math.min(cells - 1, Math.max(0, Math.floor(t)))
  return { cell, share: t - cell }
}

/** Height over a place of the rectangle, and its slopes along x and y. */
export function heightAt(h: Height, u: number, v: number): { height: number; slope: [number, number] } {
  const [a, b] = [cellOf(u, h.side[0], h.cells[0]), cellOf(v, h.side[1], h.cells[1])]
  const [bu, bv, du, dv] = [evenBasis(a.share), evenBasis(b.share), evenSlope(a.share), evenSlope(b.share)]
  const row = h.cells[1] + 3
  let [height, sx, sy] = [0, 0, 0]
  for (let i = 0; i < 4; i++)
    for (let j = 0; j < 4; j++) {
      const c = h.control[(a.cell + i) * row + b.cell + j]
      height += bu[i] * bv[j] * c
      sx += du[i] * bv[j] * c
      sy += bu[i] * dv[j] * c
    }
  return { height, slope: [sx / h.side[0], sy / h.side[1]] }
}

/** How far a place lies off the surface, to the first order, mm; above zero on the side of the heights' direction. */
export function offHeight(h: Height, p: Vec3): number {
  const [u, v, w] = onGround(h.ground, p)
  const { height, slope } = heightAt(h, u, v)
  return (w - height) / Math.hypot(1, slope[0], slope[1])
}

/** Direction of the surface at a place near it (unit), on the side of the heights' direction. */
export function normalOfHeight(h: Height, p: Vec3): Vec3 {
  const [u, v] = onGround(h.ground, p)
  const { slope } = heightAt(h, u, v)
  const { x, y, n } = h.ground
  return normalize(addScaled(addScaled(n, x, -slope[0]), y, -slope[1]))
}

/** Control values over even knots as those over clamped ones, exactly (blossoms; ch. 5.3: knot insertion). */
export function clamped(c: readonly number[]): number[] {
  const n = c.length
  return c.map((v, i) =>
    i === 0
      ? (c[0] + 4 * c[1] + c[2]) / 6
      : i === 1
        ? (2 * c[1] + c[2]) / 3
        : i === n - 2
          ? (2 * c[n - 2] + c[n - 3]) / 3
          : i === n - 1
            ? (c[n - 3] + 4 * c[n - 2] + c[n - 1]) / 6
            : v,
  )
}

/** Where the control points of clamped even knots stand, in cells, so that they say lengths themselves (Greville 1964). */
const stands = (cells: number): number[] => {
  const knot = (i: number) => Math.min(cells, Math.max(0, i - 3))
  return Array.from({ length: cells + 3 }, (_, i) => (knot(i + 1) + knot(i + 2) + knot(i + 3)) / 3)
}

/** The surface with clamped knots, as bodies hold it: parameters are mm along x and y. */
export function splineOfHeight({ ground, cells, side, control }: Height): BoundSpline {
  const [nu, nv] = [cells[0] + 3, cells[1] + 3]
  const rows = Array.from({ length: nu }, (_, i) => clamped([...control.subarray(i * nv, (i + 1) * nv)]))
  const columns = Array.from({ length: nv }, (_, j) => clamped(rows.map((r) => r[j])))
  const [gu, gv] = [stands(cells[0]), stands(cells[1])]
  const knots = (n: number, d: number) => Array.from({ length: n + 1 }, (_, i) => i * d)
  const times = (n: number) => Array.from({ length: n + 1 }, (_, i) => (i === 0 || i === n ? 4 : 1))
  return {
    kind: 'spline',
    degree: 3,
    poles: gu.map((a, i) =>
      gv.map((b, j) =>
        addScaled(
          addScaled(addScaled(ground.at, ground.x, a * side[0]), ground.y, b * side[1]),
          ground.n,
          columns[j][i],
        ),
      ),
    ),
    knots: [knots(cells[0], side[0]), knots(cells[1], side[1])],
    multiplicities: [times(cells[0]), times(cells[1])],
  }
}

/** The rectangle over places, seen along a direction, with its longer side along x; a share of it is left free at each side. */
export function groundOver(
  points: readonly Vec3[],
  n: Vec3,
  along: Vec3,
  margin: number,
): { ground: Ground; sides: [number, number] } {
  let x = normalize(addScaled(along, n, -dot(along, n)))
  let y = cross(n, x)
  const spread = (d: Vec3) => {
    let [low, high] = [Infinity, -Infinity]
    for (const p of points) {
      const v = dot(p, d)
      low = Math.min(low, v)
      high = Math.max(high, v)
    }
    return { low, high }
  }
  let [a, b] = [spread(x), spread(y)]
  if (b.high - b.low > a.high - a.low) {
    ;[x, y] = [y, [-x[0], -x[1], -x[2]]]
    ;[a, b] = [spread(x), spread(y)]
  }
  const c = spread(n)
  const [mx, my] = [margin * (a.high - a.low), margin * Math.max(b.high - b.low, 0.2 * (a.high - a.low))]
  const at = [0, 1, 2].map(
    (k) => x[k] * (a.low - mx) + y[k] * (b.low - my) + (n[k] * (c.low + c.high)) / 2,
  ) as unknown as Vec3
  return { ground: { at, x, y, n }, sides: [a.high - a.low + 2 * mx, b.high - b.low + 2 * my] }
}
