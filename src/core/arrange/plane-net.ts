/** A triangulation of one triangle that takes points and edges one by one, with exact signs (Lawson 1977 for points, Sloan 1993 for edges). */
import { edgeKey } from '@/core/mesh/edge-key'
import { nextIn, prevIn, triangleOf } from '@/core/mesh/topology'
import type { PointTable } from './exact-point'
import type { Facet } from './meeting'

/** A cut that could not be laid: exact signs rule it out, so it tells of a flaw, not of an input. */
export class CutError extends Error {}

export class PlaneNet {
  /** Corners, three by three; half-edge h runs from corner h to the next. */
  private readonly at: number[]
  /** The half-edge across, or -1 at the border. */
  private readonly twin: number[] = [-1, -1, -1]
  private readonly fixed = new Set<number>()
  private readonly known = new Set<number>()
  /** A half-edge that starts at each point. */
  private readonly startsAt = new Map<number, number>()
  private last = 0

  constructor(
    private readonly table: PointTable,
    private readonly f: Facet,
  ) {
    this.at = [...f.corners]
    f.corners.forEach((v, h) => {
      this.known.add(v)
      this.startsAt.set(v, h)
    })
  }

  private turn(a: number, b: number, c: number): number {
    return this.table.turn(a, b, c, this.f.i, this.f.j)
  }

  /** A triangle that holds a point, and the signs of its edges. Walks towards it; looks at all where the walk goes in a circle. */
  private locate(p: number): { t: number; zero: number } {
    const { at, twin } = this
    const n = at.length / 3
    let t = this.last
    for (let step = 0; step < 2 * n + 8; step++) {
      let over = -1,
        zero = -1,
        outside = false
      // Beginning at another edge each time keeps most walks from going round.
      for (let k = 0; k < 3; k++) {
        const h = 3 * t + ((k + step) % 3)
        const s = this.turn(at[h], at[nextIn(h)], p)
        if (s < 0 && twin[h] >= 0) {
          over = twin[h]
          break
        }
        if (s < 0) outside = true
        if (s === 0) zero = h
      }
      if (outside) break
      if (over < 0) return { t, zero }
      t = triangleOf(over)
    }
    for (t = 0; t < n; t++) {
      const s = [0, 1, 2].map((k) => this.turn(at[3 * t + k], at[nextIn(3 * t + k)], p))
      if (s.every((v) => v >= 0)) return { t, zero: s.indexOf(0) < 0 ? -1 : 3 * t + s.indexOf(0) }
    }
    throw new CutError('a point of a cut lies outside its triangle')
  }

  private set(t: number, a: number, b: number, c: number): void {
    this.at[3 * t] = a
    this.at[3 * t + 1] = b
    this.at[3 * t + 2] = c
    this.startsAt
      .set(a, 3 * t)
      .set(b, 3 * t + 1)
      .set(c, 3 * t + 2)
  }

  private join(g: number, h: number): void {
    this.twin[g] = h
    if (h >= 0) this.twin[h] = g
  }

  addPoint(p: number): void {
    if (this.known.has(p)) return
    this.known.add(p)
    const { at, twin } = this
    const { t, zero } = this.locate(p)
    if (zero < 0) {
      const [a, b, c] = [at[3 * t], at[3 * t + 1], at[3 * t + 2]]
      const [, tb, tc] = [twin[3 * t], twin[3 * t + 1], twin[3 * t + 2]]
      const u = at.length / 3,
        v = u + 1
      this.set(t, a, b, p)
      this.set(u, b, c, p)
      this.set(v, c, a, p)
      this.join(3 * u, tb)
      this.join(3 * v, tc)
      this.join(3 * t + 1, 3 * u + 2)
      this.join(3 * u + 1, 3 * v + 2)
      this.join(3 * v + 1, 3 * t + 2)
    } else {
      // On an edge: a b c becomes a p c and p b c, and so across it.
      const h = zero,
        g = twin[h]
      const a = at[h],
        b = at[nextIn(h)],
        c = at[prevIn(h)]
      const th = triangleOf(h)
      const bc = twin[nextIn(h)],
        ca = twin[prevIn(h)]
      const u = at.length / 3
      this.set(th, a, p, c)
      this.set(u, p, b, c)
      this.join(3 * th + 2, ca)
      this.join(3 * u + 1, bc)
      this.join(3 * th + 1, 3 * u + 2)
      if (g < 0) {
        this.twin[3 * th] = -1
        this.twin[3 * u] = -1
      } else {
        const d = at[prevIn(g)]
        const tg = triangleOf(g)
        // Across, the half-edge runs from b to a; d lies beyond.
        const ad = twin[nextIn(g)],
          db = twin[prevIn(g)]
        const v = u + 1
        this.set(tg, b, p, d)
        this.set(v, p, a, d)
        this.join(3 * tg + 2, db)
        this.join(3 * v + 1, ad)
        this.join(3 * tg + 1, 3 * v + 2)
        this.join(3 * th, 3 * v)
        this.join(3 * u, 3 * tg)
      }
      if (this.fixed.delete(edgeKey(a, b))) this.fixed.add(edgeKey(a, p)).add(edgeKey(p, b))
    }
    this.last = t
  }

  /** Half-edges that start at a point, all round it as far as the border. */
  private *around(p: number): Generator<number> {
    const first = this.startsAt.get(p)!
    let h = first
    do {
      yield h
      h = this.twin[prevIn(h)]
    } while (h >= 0 && h !== first)
    if (h === first) return
    for (h = this.twin[first]; h >= 0; h = this.twin[h]) {
      h = nextIn(h)
      yield h
    }
  }

  /** Turns the diagonal h of the two triangles beside it. */
  private flip(h: number): void {
    const { at, twin } = this
    const g = twin[h]
    const a = at[h],
      b = at[nextIn(h)],
      c = at[prevIn(h)],
      d = at[prevIn(g)]
    const bc = twin[nextIn(h)],
      ca = twin[prevIn(h)],
      ad = twin[nextIn(g)],
      db = twin[prevIn(g)]
    const t = triangleOf(h),
      u = triangleOf(g)
    this.set(t, c, d, b)
    this.set(u, d, c, a)
    this.join(3 * t + 1, db)
    this.join(3 * t + 2, bc)
    this.join(3 * u + 1, ca)
    this.join(3 * u + 2, ad)
    this.join(3 * t, 3 * u)
  }

  /** Whether turning h leaves two triangles that have area: both ends see the new diagonal on their own side. */
  private canFlip(h: number): boolean {
    const { at, twin } = this
    const c = at[prevIn(h)],
      d = at[prevIn(twin[h])]
    return this.turn(c, d, at[nextIn(h)]) > 0 && this.turn(d, c, at[h]) > 0
  }

  private edge(a: number, b: number): number {
    for (const h of this.around(a)) {
      if (this.at[nextIn(h)] === b) return h
      if (this.at[prevIn(h)] === b) return prevIn(h)
    }
    return -1
  }

  /** Makes a to b an edge that stays. No point and no fixed edge lies between. */
  addEdge(a: number, b: number): void {
    if (a === b) return
    if (this.edge(a, b) < 0) {
      const crossed: [number, number][] = []
      // The way out of a's own triangles, then from triangle to triangle.
      let h = -1
      for (const g of this.around(a)) {
        const c = this.at[nextIn(g)],
          d = this.at[prevIn(g)]
        if (this.turn(a, b, c) < 0 && this.turn(a, b, d) > 0 && this.turn(c, d, a) * this.turn(c, d, b) < 0) {
          h = nextIn(g)
          break
        }
      }
      if (h < 0) throw new CutError('a cut does not begin at its point')
      for (;;) {
        crossed.push([this.at[h], this.at[nextIn(h)]])
        const g = this.twin[h]
        if (g < 0) throw new CutError('a cut runs out of its triangle')
        const d = this.at[prevIn(g)]
        if (d === b) break
        h = this.turn(a, b, d) > 0 ? nextIn(g) : prevIn(g)
      }
      for (let guard = 0, most = 40 * crossed.length * crossed.length + 100; crossed.length; guard++) {
        if (guard > most) throw new CutError('a cut could not be laid through its triangle')
        const [c, d] = crossed.shift()!
        const e = this.edge(c, d)
        if (!this.canFlip(e)) {
          crossed.push([c, d])
          continue
        }
        const p = this.at[prevIn(e)],
          q = this.at[prevIn(this.twin[e])]
        this.flip(e)
        if (p !== a && p !== b && q !== a && q !== b && this.turn(a, b, p) * this.turn(a, b, q) < 0)
          crossed.push([p, q])
      }
    }
    this.fixed.add(edgeKey(a, b))
  }

  /** Turns free edges until no corner lies within a neighbour's circle (Lawson 1977), judged by rounded coordinates. */
  evenOut(): void {
    const { at, twin, table } = this
    const { i, j } = this.f
    const stack: number[] = []
    for (let h = 0; h < at.length; h++) if (twin[h] > h) stack.push(h)
    for (let guard = 0, most = 60 * stack.length; stack.length && guard < most; guard++) {
      const h = stack.pop()!
      const g = twin[h]
      if (g < 0 || this.fixed.has(edgeKey(at[h], at[nextIn(h)]))) continue
      const a = at[h],
        b = at[nextIn(h)],
        c = at[prevIn(h)],
        d = at[prevIn(g)]
      const x = (v: number) => table.coordinate(v, i) - table.coordinate(d, i),
        y = (v: number) => table.coordinate(v, j) - table.coordinate(d, j)
      const [ax, ay, bx, by, cx, cy] = [x(a), y(a), x(b), y(b), x(c), y(c)]
      const sa = ax * ax + ay * ay,
        sb = bx * bx + by * by,
        sc = cx * cx + cy * cy
      const inCircle = ax * (by * sc - sb * cy) - ay * (bx * sc - sb * cx) + sa * (bx * cy - by * cx)
      const slack = 1e-12 * (Math.abs(ax) + Math.abs(ay)) * (Math.abs(bx) + Math.abs(by)) * Math.max(sa, sb, sc)
      if (inCircle <= slack || !this.canFlip(h)) continue
      this.flip(h)
      const t = triangleOf(h),
        u = triangleOf(g)
      stack.push(3 * t + 1, 3 * t + 2, 3 * u + 1, 3 * u + 2)
    }
  }

  triangles(): number[] {
    return this.at
  }
}
