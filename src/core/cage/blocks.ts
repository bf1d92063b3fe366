/**
 * Regular quads of a cage gathered to large rectangles, each of them one exact bicubic B-spline: its control points are those of the cage and
 * one row more all round, mirrored at creases. Neighbours may meet in the middle of a side.
 */
import { evenBasis, evenSlope } from '@/core/math/even-cubics'
import { nextInQuad, prevInQuad } from '@/core/mesh/quad-mesh'
import type { Vec3 } from '@/core/math/vec'
import { placeAt } from '@/core/mesh/tri-mesh'
import { type LimitFrame } from './corners'

export interface Block {
  /** Half-edges along the bottom of each quad, row by row: quad (i, j) has the one at i + m j. */
  readonly base: readonly number[]
  readonly m: number
  readonly n: number
}

const mostAlong = 64

const up = (twin: Int32Array, h: number): number => twin[nextInQuad(nextInQuad(h))]
const rightOf = (twin: Int32Array, h: number): number =>
  twin[nextInQuad(h)] < 0 ? -1 : nextInQuad(twin[nextInQuad(h)])
const leftOf = (twin: Int32Array, h: number): number => (twin[prevInQuad(h)] < 0 ? -1 : prevInQuad(twin[prevInQuad(h)]))
const down = (twin: Int32Array, h: number): number => (twin[h] < 0 ? -1 : nextInQuad(nextInQuad(twin[h])))

/** Quads whose corners are regular, those far from the others first: large blocks come of them. */
function farFirst(twin: Int32Array, good: Uint8Array): number[] {
  const faces = good.length
  const depth = new Int32Array(faces).fill(-1)
  const queue: number[] = []
  for (let f = 0; f < faces; f++) if (!good[f]) queue.push(f)
  for (const f of queue) depth[f] = 0
  for (const f of queue)
    for (let h = 4 * f; h < 4 * f + 4; h++) {
      const g = twin[h] < 0 ? -1 : twin[h] >> 2
      if (g < 0 || depth[g] >= 0) continue
      depth[g] = depth[f] + 1
      queue.push(g)
    }
  return Array.from({ length: faces }, (_, f) => f)
    .filter((f) => good[f])
    .sort((a, b) => (depth[b] < 0 ? 1e9 : depth[b]) - (depth[a] < 0 ? 1e9 : depth[a]) || a - b)
}

/** Blocks over all quads whose four corners are regular; -1 in `of` for the others. */
export function blocksOf({ cage, topology: { twin }, sharp, regular }: LimitFrame): {
  blocks: Block[]
  of: Int32Array
} {
  const faces = cage.quads.length / 4
  const good = Uint8Array.from({ length: faces }, (_, f) =>
    regular[4 * f] && regular[4 * f + 1] && regular[4 * f + 2] && regular[4 * f + 3] ? 1 : 0,
  )
  const of = new Int32Array(faces).fill(-1)
  const order = farFirst(twin, good)
  const blocks: Block[] = []
  for (const f of order) {
    if (of[f] >= 0) continue
    const id = blocks.length
    let rows: number[][] = [[4 * f]]
    const inside = new Set([f])
    const free = (h: number) => h >= 0 && good[h >> 2] === 1 && of[h >> 2] < 0 && !inside.has(h >> 2)
    /** A side grows when all its quads have a free one beyond it, not over a crease. */
    const grow = (
      side: readonly number[],
      crossed: (h: number) => number,
      step: (h: number) => number,
    ): number[] | null => {
      const next = side.map((h) => (sharp[crossed(h)] ? -1 : step(h)))
      if (!next.every(free) || new Set(next.map((h) => h >> 2)).size < next.length) return null
      for (const h of next) inside.add(h >> 2)
      return next
    }
    for (let again = true; again;) {
      again = false
      if (rows[0].length < mostAlong) {
        const r = grow(
          rows.map((row) => row.at(-1)!),
          nextInQuad,
          (h) => rightOf(twin, h),
        )
        if (r) rows = rows.map((row, j) => [...row, r[j]])
        const l = grow(
          rows.map((row) => row[0]),
          prevInQuad,
          (h) => leftOf(twin, h),
        )
        if (l) rows = rows.map((row, j) => [l[j], ...row])
        again ||= !!r || !!l
      }
      if (rows.length < mostAlong) {
        const u = grow(
          rows.at(-1)!,
          (h) => nextInQuad(nextInQuad(h)),
          (h) => up(twin, h),
        )
        if (u) rows = [...rows, u]
        const d = grow(
          rows[0],
          (h) => h,
          (h) => down(twin, h),
        )
        if (d) rows = [d, ...rows]
        again ||= !!u || !!d
      }
    }
    // A block that meets itself all round would have a seam: its last row stands apart.
    const within = (h: number) => h >= 0 && inside.has(h >> 2)
    if (rows[0].length > 1 && rows.some((row) => within(rightOf(twin, row.at(-1)!))))
      rows = rows.map((row) => row.slice(0, -1))
    if (rows.length > 1 && rows.at(-1)!.some((h) => within(up(twin, h)))) rows = rows.slice(0, -1)
    for (const row of rows) for (const h of row) of[h >> 2] = id
    blocks.push({ base: rows.flat(), m: rows[0].length, n: rows.length })
  }
  return { blocks, of }
}

/** Control points of a block with one row more all round: (i, j) from -1 to m + 1, n + 1, at (i + 1) + (m + 3) (j + 1). */
export function controlGrid({ cage, topology: { twin }, sharp }: LimitFrame, { base, m, n }: Block): Vec3[] {
  const { positions: p, quads } = cage
  const wide = m + 3
  const grid = new Array<Vec3 | undefined>(wide * (n + 3))
  const at = (i: number, j: number) => i + 1 + wide * (j + 1)
  const set = (i: number, j: number, v: number) => (grid[at(i, j)] = placeAt(p, v))
  const quad = (h: number, i: number, j: number) => {
    set(i, j, quads[h])
    set(i + 1, j, quads[nextInQuad(h)])
    set(i + 1, j + 1, quads[nextInQuad(nextInQuad(h))])
    set(i, j + 1, quads[prevInQuad(h)])
  }
  const b = (i: number, j: number) => base[i + m * j]
  for (let j = 0; j < n; j++) for (let i = 0; i < m; i++) quad(b(i, j), i, j)
  const sides = {
    right: !sharp[nextInQuad(b(m - 1, 0))],
    left: !sharp[prevInQuad(b(0, 0))],
    top: !sharp[nextInQuad(nextInQuad(b(0, n - 1)))],
    bottom: !sharp[b(0, 0)],
  }
  for (let j = 0; j < n; j++) {
    if (sides.right) quad(rightOf(twin, b(m - 1, j)), m, j)
    if (sides.left) quad(leftOf(twin, b(0, j)), -1, j)
  }
  for (let i = 0; i < m; i++) {
    if (sides.top) quad(up(twin, b(i, n - 1)), i, n)
    if (sides.bottom) quad(down(twin, b(i, 0)), i, -1)
  }
  if (sides.right && sides.top) quad(up(twin, rightOf(twin, b(m - 1, n - 1))), m, n)
  if (sides.right && sides.bottom) quad(down(twin, rightOf(twin, b(m - 1, 0))), m, -1)
  if (sides.left && sides.top) quad(up(twin, leftOf(twin, b(0, n - 1))), -1, n)
  if (sides.left && sides.bottom) quad(down(twin, leftOf(twin, b(0, 0))), -1, -1)
  mirrorRows(grid, m, n, sides)
  return grid as Vec3[]
}

/** Rows beyond the sides that end at a crease or rim: those within, mirrored. */
function mirrorRows(
  grid: (Vec3 | undefined)[],
  m: number,
  n: number,
  sides: Readonly<Record<'left' | 'right' | 'top' | 'bottom', boolean>>,
): void {
  const at = (i: number, j: number) => i + 1 + (m + 3) * (j + 1)
  const mirror = (i: number, j: number, di: number, dj: number) => {
    const [x, y] = [grid[at(i + di, j + dj)]!, grid[at(i + 2 * di, j + 2 * dj)]!]
    grid[at(i, j)] = [2 * x[0] - y[0], 2 * x[1] - y[1], 2 * x[2] - y[2]]
  }
  const from = sides.left ? -1 : 0
  const to = sides.right ? m + 1 : m
  if (!sides.top) for (let i = from; i <= to; i++) mirror(i, n + 1, 0, -1)
  if (!sides.bottom) for (let i = from; i <= to; i++) mirror(i, -1, 0, 1)
  for (let j = -1; j <= n + 1; j++) {
    if (!sides.right) mirror(m + 1, j, -1, 0)
    if (!sides.left) mirror(-1, j, 1, 0)
  }
}

/**
 * The control points of the stretch from span a to span b of an even cubic spline, for knots that are fourfold at both ends (blossoms; Ramshaw
 * 1989). `q` begins one before the first span.
 */
export function clamped(q: readonly Vec3[], a: number, b: number): Vec3[] {
  const at = (i: number) => q[i + 1]
  const mix = (list: readonly (readonly [number, number])[]): Vec3 =>
    [0, 1, 2].map((k) => list.reduce((s, [i, w]) => s + w * at(i)[k], 0)) as unknown as Vec3
  const out: Vec3[] = [
    mix([
      [a - 1, 1 / 6],
      [a, 4 / 6],
      [a + 1, 1 / 6],
    ]),
    mix([
      [a, 2 / 3],
      [a + 1, 1 / 3],
    ]),
  ]
  for (let i = a + 1; i < b; i++) out.push(at(i))
  out.push(
    mix([
      [b - 1, 1 / 3],
      [b, 2 / 3],
    ]),
    mix([
      [b - 1, 1 / 6],
      [b, 4 / 6],
      [b + 1, 1 / 6],
    ]),
  )
  return out
}

/** Rows of control points along u of the whole block. */
export function polesOf(grid: readonly Vec3[], m: number, n: number): Vec3[][] {
  const wide = m + 3
  // Along v first, for each column; then along u.
  const columns = Array.from({ length: wide }, (_, i) =>
    clamped(
      Array.from({ length: n + 3 }, (_, j) => grid[i + wide * j]),
      0,
      n,
    ),
  )
  const rows = columns[0].map((_, j) =>
    clamped(
      columns.map((c) => c[j]),
      0,
      m,
    ),
  )
  // Poles are asked for as rows along the first parameter.
  return rows[0].map((_, i) => rows.map((r) => r[i]))
}

/** Place and derivatives of a block at (u, v), in spans. */
export function blockAt(
  grid: readonly Vec3[],
  m: number,
  n: number,
  u: number,
  v: number,
): { at: Vec3; du: Vec3; dv: Vec3 } {
  const wide = m + 3
  const i = Math.max(0, Math.min(m - 1, Math.floor(u)))
  const j = Math.max(0, Math.min(n - 1, Math.floor(v)))
  const [bu, cu] = [evenBasis(u - i), evenSlope(u - i)]
  const [bv, cv] = [evenBasis(v - j), evenSlope(v - j)]
  const at: [number, number, number] = [0, 0, 0]
  const du: [number, number, number] = [0, 0, 0]
  const dv: [number, number, number] = [0, 0, 0]
  for (let y = 0; y < 4; y++)
    for (let x = 0; x < 4; x++) {
      const q = grid[i + x + wide * (j + y)]
      for (let k = 0; k < 3; k++) {
        at[k] += bu[x] * bv[y] * q[k]
        du[k] += cu[x] * bv[y] * q[k]
        dv[k] += bu[x] * cv[y] * q[k]
      }
    }
  return { at, du, dv }
}
