/**
 * A piece of a mesh laid flat with little distortion: least-squares conformal maps first (Lévy et al. 2002), then a few rounds that keep each
 * triangle as rigid as may be (Liu et al. 2008, local and global steps), so that lengths on the plane are nearly those on the skin.
 */
import { SparseFactor, SparseSum } from '@/core/math/sparse-cholesky'

export interface Piece {
  /** x y z of each vertex, mm; three vertices for each triangle. */
  readonly positions: Float64Array
  readonly triangles: Uint32Array
}

const rounds = 8

/** Places of a triangle's corners in its own plane: the first at 0, the second along x. */
function ownPlane({ positions: p, triangles }: Piece, t: number): [number, number, number] {
  const [a, b, c] = [3 * triangles[3 * t], 3 * triangles[3 * t + 1], 3 * triangles[3 * t + 2]]
  const u = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
  const v = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
  const l = Math.hypot(...u) || 1e-300
  const x = (u[0] * v[0] + u[1] * v[1] + u[2] * v[2]) / l
  const y = Math.sqrt(Math.max(0, v[0] ** 2 + v[1] ** 2 + v[2] ** 2 - x * x))
  return [l, x, y]
}

type Own = readonly (readonly [number, number, number])[]

/** Two places far apart, and how far. */
function farApart({ positions: p }: Piece): { a: number; b: number; apart: number } {
  const n = p.length / 3
  const away = (v: number, from: number) =>
    Math.hypot(p[3 * v] - p[3 * from], p[3 * v + 1] - p[3 * from + 1], p[3 * v + 2] - p[3 * from + 2])
  const far = (from: number) => {
    let best = from
    let most = -1
    for (let v = 0; v < n; v++) {
      const d = away(v, from)
      if (d > most) [most, best] = [d, v]
    }
    return best
  }
  const a = far(0)
  const b = far(a)
  return { a, b, apart: away(a, b) }
}

/** Triangles that a map turns over. */
function flipped({ triangles }: Piece, own: Own, uv: Float64Array): number {
  let bad = 0
  for (let t = 0; t < own.length; t++) {
    const [a, b, c] = [triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]]
    const d =
      (uv[2 * b] - uv[2 * a]) * (uv[2 * c + 1] - uv[2 * a + 1]) -
      (uv[2 * b + 1] - uv[2 * a + 1]) * (uv[2 * c] - uv[2 * a])
    if (!(d > 0) && own[t][0] * own[t][2] > 1e-12) bad++
  }
  return bad
}

/** The least-squares conformal map with two places held; null where it has none. */
function conformal(piece: Piece, own: Own, held: { a: number; b: number; apart: number }): Float64Array | null {
  const { positions: p, triangles } = piece
  const n = p.length / 3
  const count = own.length
  const sum = new SparseSum(2 * n)
  const size = 2 * n
  const right = new Float64Array(size)
  const hold = 1e6
  for (let t = 0; t < count; t++) {
    const [l, x, y] = own[t]
    const area = (l * y) / 2
    if (!(area > 1e-14)) continue
    // Gradients of the three corners' weights, turned by a right angle for v: both rows of the Cauchy-Riemann equations.
    const w = [
      [x - l, y],
      [-x, -y],
      [l, 0],
    ]
    const scale = 1 / (4 * area)
    const vs = [triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]]
    // Re: sum (wr u - wi v), Im: sum (wi u + wr v).
    for (let i = 0; i < 3; i++)
      for (let j = 0; j <= i; j++) {
        const [ri, ii] = w[i]
        const [rj, ij] = w[j]
        const same = scale * (ri * rj + ii * ij)
        const cross = scale * (ii * rj - ri * ij)
        sum.add(2 * vs[i], 2 * vs[j], same)
        sum.add(2 * vs[i] + 1, 2 * vs[j] + 1, same)
        if (i !== j) {
          sum.add(2 * vs[i], 2 * vs[j] + 1, cross)
          sum.add(2 * vs[i] + 1, 2 * vs[j], -cross)
        }
      }
  }
  for (const [v, at] of [
    [held.a, 0],
    [held.b, held.apart],
  ] as const) {
    for (const k of [0, 1]) sum.add(2 * v + k, 2 * v + k, hold)
    right[2 * v] = hold * at
  }
  for (let i = 0; i < size; i++) sum.add(i, i, 1e-12)
  const stands = Float64Array.from({ length: 6 * n }, (_, i) => p[3 * Math.floor(i / 6) + (i % 3)])
  const factor = SparseFactor.of(sum, stands)
  return factor && factor.solve(right)
}

/** Edges of a triangle by their ends, with the weight of the angle across. */
const weighted = ([c0, c1, c2]: readonly number[]) =>
  [
    [1, 2, c0],
    [2, 0, c1],
    [0, 1, c2],
  ] as const

/** What the places of one round are to be: each triangle as it is, turned as it lies on the map (the local step). */
function turnedTriangles(
  { triangles }: Piece,
  own: Own,
  cot: readonly (readonly number[])[],
  uv: Float64Array,
  held: number,
): [Float64Array, Float64Array] {
  const n = uv.length / 2
  const count = own.length
  const bu = new Float64Array(n)
  const bv = new Float64Array(n)
  bu[held] += 1e-6 * uv[2 * held]
  bv[held] += 1e-6 * uv[2 * held + 1]
  for (let t = 0; t < count; t++) {
    const [l, x, y] = own[t]
    const vs = [triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]]
    const q = [
      [0, 0],
      [l, 0],
      [x, y],
    ]
    const edges = weighted(cot[t])
    let [c, s] = [0, 0]
    for (const [i, j, w] of edges) {
      const e = [q[i][0] - q[j][0], q[i][1] - q[j][1]]
      const f = [uv[2 * vs[i]] - uv[2 * vs[j]], uv[2 * vs[i] + 1] - uv[2 * vs[j] + 1]]
      c += w * (e[0] * f[0] + e[1] * f[1])
      s += w * (e[0] * f[1] - e[1] * f[0])
    }
    const h = Math.hypot(c, s) || 1
    c /= h
    s /= h
    for (const [i, j, w] of edges) {
      const e = [q[i][0] - q[j][0], q[i][1] - q[j][1]]
      const d = [c * e[0] - s * e[1], s * e[0] + c * e[1]]
      bu[vs[i]] += w * d[0]
      bu[vs[j]] -= w * d[0]
      bv[vs[i]] += w * d[1]
      bv[vs[j]] -= w * d[1]
    }
  }
  return [bu, bv]
}

/** As rigid as may be: cotangents stay, rotations and places are found in turn, until triangles would turn over. */
function rigidMap(piece: Piece, own: Own, start: Float64Array, held: number): Float64Array {
  const { positions: p, triangles } = piece
  const n = p.length / 3
  const count = own.length
  let uv = start
  const stiff = new SparseSum(n)
  // Of the corners' angles, bounded: needles would outweigh all.
  const cot = own.map(([l, x, y]) => {
    const h = Math.max(y, 1e-9 * l)
    return [x / h, (l - x) / h, (h * h - x * (l - x)) / (l * h)].map((w) => Math.max(1e-3, Math.min(10, w)))
  })
  for (let t = 0; t < count; t++) {
    const vs = [triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]]
    // Edge 12 by the angle at 0, edge 20 by that at 1, edge 01 by that at 2.
    for (const [i, j, w] of weighted(cot[t])) {
      stiff.add(vs[i], vs[i], w)
      stiff.add(vs[j], vs[j], w)
      stiff.add(vs[i], vs[j], -w)
    }
  }
  stiff.add(held, held, 1e-6)
  const rigid = SparseFactor.of(stiff, p)
  if (!rigid) return uv
  for (let r = 0; r < rounds; r++) {
    const [u, v] = turnedTriangles(piece, own, cot, uv, held).map((b) => rigid.solve(b))
    const next = new Float64Array(2 * n)
    for (let i = 0; i < n; i++) {
      next[2 * i] = u[i]
      next[2 * i + 1] = v[i]
    }
    if (flipped(piece, own, next) > count / 200) break
    uv = next
  }
  return uv
}

/**
 * u v of each vertex, mm. Null where the piece cannot be laid flat: all its places fall together, or parts of it would be turned over or
 * drawn out beyond use, as of a skin that closes on itself.
 */
export function flatten(piece: Piece): Float64Array | null {
  const count = piece.triangles.length / 3
  // Two places far apart are held, or nothing would keep the map from shrinking away.
  const held = farApart(piece)
  if (!(held.apart > 0)) return null
  const own = Array.from({ length: count }, (_, t) => ownPlane(piece, t))
  const uv = conformal(piece, own, held)
  if (!uv) return null
  // Mirrored as a whole it is turned over.
  if (flipped(piece, own, uv) > count / 2) for (let v = 0; 2 * v < uv.length; v++) uv[2 * v + 1] *= -1
  scaleToArea(piece, own, uv)
  const flat = rigidMap(piece, own, uv, held.a)
  if (flipped(piece, own, flat) > count / 100) return null
  return drawnOut(piece, own, flat) ? null : flat
}

/** Scales the map so that it is as large as the skin. */
function scaleToArea({ triangles }: Piece, own: readonly (readonly number[])[], uv: Float64Array): void {
  let [skin, flat] = [0, 0]
  own.forEach(([l, , y], t) => {
    const [a, b, c] = [triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]]
    skin += (l * y) / 2
    flat +=
      ((uv[2 * b] - uv[2 * a]) * (uv[2 * c + 1] - uv[2 * a + 1]) -
        (uv[2 * b + 1] - uv[2 * a + 1]) * (uv[2 * c] - uv[2 * a])) /
      2
  })
  const s = Math.sqrt(Math.max(1e-12, skin / Math.max(Math.abs(flat), 1e-300)))
  for (let i = 0; i < uv.length; i++) uv[i] *= s
}

/** Lengths on the plane may differ from those on the skin by this factor, on the mean; more is a skin that closes on itself. */
const mostStretch = 1.4

/** Whether the skin is drawn out or pressed together so much that a surface over it would be of no use. */
function drawnOut({ triangles }: Piece, own: readonly (readonly number[])[], uv: Float64Array): boolean {
  let [sum, all] = [0, 0]
  own.forEach(([l, x, y], t) => {
    if (!(l * y > 1e-12)) return
    const [a, b, c] = [triangles[3 * t], triangles[3 * t + 1], triangles[3 * t + 2]]
    // The map's derivative: its columns along the first edge and square to it.
    const ux = (uv[2 * b] - uv[2 * a]) / l
    const vx = (uv[2 * b + 1] - uv[2 * a + 1]) / l
    const uy = (uv[2 * c] - uv[2 * a] - x * ux) / y
    const vy = (uv[2 * c + 1] - uv[2 * a + 1] - x * vx) / y
    const [e, f] = [ux * ux + uy * uy + vx * vx + vy * vy, ux * vy - uy * vx]
    const root = Math.sqrt(Math.max(0, e * e - 4 * f * f))
    const [large, small] = [Math.sqrt((e + root) / 2), Math.sqrt(Math.max(1e-6, (e - root) / 2))]
    sum += l * y * Math.max(large, 1 / small)
    all += l * y
  })
  return !(sum < mostStretch * all)
}
