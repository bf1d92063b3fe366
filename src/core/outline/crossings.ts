/** Where curves of a drawing cross or touch: found on straight pieces in a grid, drawn to the curves by Newton's steps. */
import type { Drawing, Place } from './drawing'
import { endsOf } from './drawing'
import { extentOf } from './extent'
import { alongOf, nearestOn, piecesOf, type Along } from './parametric'

export interface Crossing {
  readonly a: number
  readonly b: number
  /** Shares along both curves. */
  readonly ta: number
  readonly tb: number
  readonly at: Place
}

interface Piece {
  readonly curve: number
  readonly from: number
  readonly to: number
  readonly p: Place
  readonly q: Place
}

/** Places are one below this share of a drawing's extent. */
export const closeness = 1e-7

/** Both shares where two curves cross, from shares nearby; null where they do not come together. */
function meetAt(a: Along, b: Along, t: number, u: number, close: number): { t: number; u: number; at: Place } | null {
  const h = 1e-6
  const keep = (v: number) => Math.max(0, Math.min(1, v))
  for (let i = 0; i < 30; i++) {
    const [p, q] = [a(t), b(u)]
    const r: Place = [p[0] - q[0], p[1] - q[1]]
    if (Math.hypot(...r) < close * 1e-6) break
    const way = (f: Along, v: number): Place => {
      const [m, n] = [f(keep(v - h)), f(keep(v + h))]
      const s = keep(v + h) - keep(v - h)
      return [(n[0] - m[0]) / s, (n[1] - m[1]) / s]
    }
    const [v, w] = [way(a, t), way(b, u)]
    const det = -v[0] * w[1] + w[0] * v[1]
    // Along each other, or one of them stands still.
    if (!(Math.abs(det) > 1e-12 * Math.hypot(...v) * Math.hypot(...w))) return null
    t = keep(t - (-r[0] * w[1] + w[0] * r[1]) / det)
    u = keep(u - (v[0] * r[1] - v[1] * r[0]) / det)
  }
  const [p, q] = [a(t), b(u)]
  return Math.hypot(p[0] - q[0], p[1] - q[1]) < close ? { t, u, at: p } : null
}

/** The places where curves meet, gathered pair by pair of their pieces. */
class Meetings {
  readonly out: Crossing[] = []
  private readonly found = new Map<string, Crossing[]>()
  private readonly along: readonly Along[]
  constructor(
    private readonly d: Drawing,
    private readonly close: number,
  ) {
    this.along = d.curves.map((c) => alongOf(d, c))
  }

  /** Pieces of the curves that count. */
  pieces(use: readonly boolean[]): Piece[] {
    const { d, along } = this
    const pieces: Piece[] = []
    d.curves.forEach((c, curve) => {
      if (!use[curve]) return
      const n = piecesOf(d, c)
      let p = along[curve](0)
      for (let i = 0; i < n; i++) {
        const q = along[curve]((i + 1) / n)
        pieces.push({ curve, from: i / n, to: (i + 1) / n, p, q })
        p = q
      }
    })
    return pieces
  }

  add(c: Crossing): void {
    const ends = (i: number, t: number): number =>
      endsOf(this.d.curves[i]) ? (t < 1e-9 ? 0 : t > 1 - 1e-9 ? 1 : -1) : -1
    // Two ends at one place are no crossing: they are joined, or should be.
    if (ends(c.a, c.ta) >= 0 && ends(c.b, c.tb) >= 0) return
    const key = `${c.a} ${c.b}`
    const list = this.found.get(key) ?? []
    if (list.some((o) => Math.hypot(o.at[0] - c.at[0], o.at[1] - c.at[1]) < this.close * 10)) return
    this.found.set(key, [...list, c])
    this.out.push(c)
  }

  /** The share of the way along a curve, its very end where it is as near. */
  snapEnd(i: number, at: Place, t: number): number {
    const ends = endsOf(this.d.curves[i])
    if (!ends) return t
    const [p, q] = [this.d.points[ends[0]], this.d.points[ends[1]]]
    if (Math.hypot(p[0] - at[0], p[1] - at[1]) < this.close) return 0
    return Math.hypot(q[0] - at[0], q[1] - at[1]) < this.close ? 1 : t
  }

  /** Where two pieces meet, if they do. */
  tryPair(m: Piece, n: Piece): void {
    if (m.curve === n.curve) return
    const r: Place = [m.q[0] - m.p[0], m.q[1] - m.p[1]],
      s: Place = [n.q[0] - n.p[0], n.q[1] - n.p[1]]
    const det = r[0] * s[1] - r[1] * s[0]
    if (Math.abs(det) < 1e-12 * Math.hypot(...r) * Math.hypot(...s)) return
    const w: Place = [n.p[0] - m.p[0], n.p[1] - m.p[1]]
    const t = (w[0] * s[1] - w[1] * s[0]) / det,
      u = (w[0] * r[1] - w[1] * r[0]) / det
    // Round pieces bulge out of their chords.
    const slack = 0.15
    if (t < -slack || t > 1 + slack || u < -slack || u > 1 + slack) return
    const [a, b] = m.curve < n.curve ? [m, n] : [n, m]
    const [ta, tb] = m.curve < n.curve ? [t, u] : [u, t]
    const meet = meetAt(
      this.along[a.curve],
      this.along[b.curve],
      a.from + Math.max(0, Math.min(1, ta)) * (a.to - a.from),
      b.from + Math.max(0, Math.min(1, tb)) * (b.to - b.from),
      this.close,
    )
    if (meet)
      this.add({
        a: a.curve,
        b: b.curve,
        ta: this.snapEnd(a.curve, meet.at, meet.t),
        tb: this.snapEnd(b.curve, meet.at, meet.u),
        at: meet.at,
      })
  }
}

/** Calls back for each pair of pieces that share a cell, once; gives the pieces by their cells. */
function eachPair(
  pieces: readonly Piece[],
  cell: number,
  close: number,
  visit: (i: number, j: number) => void,
): Map<string, number[]> {
  const cells = new Map<string, number[]>()
  const seen = new Set<string>()
  pieces.forEach(({ p, q }, i) => {
    const pad = 0.16 * Math.hypot(q[0] - p[0], q[1] - p[1]) + close
    const range = (k: 0 | 1) => [
      Math.floor((Math.min(p[k], q[k]) - pad) / cell),
      Math.floor((Math.max(p[k], q[k]) + pad) / cell),
    ]
    const [x, y] = [range(0), range(1)]
    const slope = (q[1] - p[1]) / (q[0] - p[0])
    for (let cx = x[0]; cx <= x[1]; cx++) {
      // Of each column only the cells that the piece runs through, with what it bulges: not all of its box.
      const [u, v] = [cx * cell - pad, (cx + 1) * cell + pad].map((e) => p[1] + slope * (e - p[0]))
      const steep = !Number.isFinite(slope)
      const low = steep ? y[0] : Math.max(y[0], Math.floor((Math.min(u, v) - pad) / cell)),
        high = steep ? y[1] : Math.min(y[1], Math.floor((Math.max(u, v) + pad) / cell))
      for (let cy = low; cy <= high; cy++) {
        const key = `${cx} ${cy}`
        const list = cells.get(key)
        if (!list) {
          cells.set(key, [i])
          continue
        }
        for (const j of list) {
          if (pieces[j].curve === pieces[i].curve) continue
          const pair = `${j} ${i}`
          if (seen.has(pair)) continue
          seen.add(pair)
          visit(j, i)
        }
        list.push(i)
      }
    }
  })
  return cells
}

/** All places where curves cross or one ends on another; not where they merely share an end. Construction lines count when `all`. */
export function crossingsOf(d: Drawing, all = false): Crossing[] {
  const close = extentOf(d) * closeness
  const use = d.curves.map((c) => all || !c.construction)
  const meetings = new Meetings(d, close)
  const pieces = meetings.pieces(use)
  // Cells about as large as the pieces are on average.
  let sum = 0
  for (const { p, q } of pieces) sum += Math.hypot(q[0] - p[0], q[1] - p[1])
  const cell = Math.max(extentOf(d) / 500, (2 * sum) / Math.max(1, pieces.length))
  const cells = eachPair(pieces, cell, close, (i, j) => meetings.tryPair(pieces[i], pieces[j]))
  // Ends that stand on another curve, which straight pieces may just miss.
  d.curves.forEach((c, i) => {
    if (!use[i]) return
    for (const [k, end] of (endsOf(c) ?? []).entries()) {
      const p = d.points[end]
      const near = new Set<number>()
      for (const j of cells.get(`${Math.floor(p[0] / cell)} ${Math.floor(p[1] / cell)}`) ?? [])
        near.add(pieces[j].curve)
      for (const j of near) {
        if (j === i || endsOf(d.curves[j])?.includes(end)) continue
        const n = nearestOn(d, d.curves[j], p)
        if (n.distance >= close) continue
        const t = meetings.snapEnd(j, p, n.t)
        meetings.add(i < j ? { a: i, b: j, ta: k, tb: t, at: p } : { a: j, b: i, ta: t, tb: k, at: p })
      }
    }
  })
  return meetings.out.sort((m, n) => m.a - n.a || m.b - n.b || m.ta - n.ta)
}
