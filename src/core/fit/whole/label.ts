/**
 * Triangles given to shapes as a whole: what each costs under its shape, what borders cost by their length, and what each shape costs are
 * brought down together, shapes fitted anew in between (Isack & Boykov 2012, Energy-based geometric multi-model fitting; moves by iterated
 * conditional modes, Besag 1986).
 */
import { checkStop, type Work } from '@/core/base/work'
import { flood } from '@/core/mesh/flood'
import { triangleOf } from '@/core/mesh/topology'
import { crossOf, middleOf } from '@/core/mesh/triangle'
import { someOf } from '../samples'
import { normalOf, type ShapeKind } from '../shape'
import { mostTurn, type Evidence } from './evidence'
import { bestOf, kinds } from './fits'
import { costOf, farthest, freeCost, shapeCost, type Model } from './model'

/** What a border costs for a triangle's edge, and where the skin turns sharply. */
const borderCost = 1.2
const creaseShare = 0.25
/** Bits of so few triangles, and of less than this share of their shape's largest area, are none of their own. */
const bitTriangles = 5
const bitShare = 0.3
/** They lie off it by no more than so many standard deviations. */
const farTimes = 10
const sweeps = 10
const rounds = 5
/** Regions of fewer triangles that lie on the shape which they border on by this share are part of it. */
const islandTriangles = 60
const islandBorder = 0.7
const islandTimes = 6
/** They face as it does, by this cosine on the whole. */
const islandFacing = 0.8
const highTimes = 6
/** What joined triangles may cost, in shares of what they cost without a shape. */
const mostForced = 0.5
/** Two shapes are one where that costs no more than so much for each of their triangles that are looked at. */
const looked = 500

export class Labelling {
  private readonly known = new Map<number, number>()
  private readonly border: Float32Array
  models: (Model | null)[]

  constructor(
    private readonly e: Evidence,
    models: readonly Model[],
    readonly of: Int32Array,
    private readonly size: number,
  ) {
    this.models = [...models]
    this.border = Float32Array.from(e.share, (s, h) => {
      const turn = e.turn[h] - 3 * e.blur[h]
      return borderCost * s * (turn > mostTurn / 2 ? creaseShare : 1)
    })
  }

  private cost(t: number, r: number): number {
    if (r < 0) return freeCost
    const key = r * this.of.length + t
    let c = this.known.get(key)
    if (c === undefined) this.known.set(key, (c = costOf(this.e, t, this.models[r]!)))
    return c
  }

  /** Each triangle goes where it costs least beside its neighbours, until none does. */
  settle(): void {
    const { e, of, border } = this
    const { twin } = e.topology
    let front = Array.from(of.keys())
    for (let sweep = 0; sweep < sweeps && front.length; sweep++) {
      const changed = new Set<number>()
      for (const t of front) {
        const beside = new Map<number, number>()
        let whole = 0
        for (let h = 3 * t; h < 3 * t + 3; h++) {
          if (twin[h] < 0) continue
          const r = of[triangleOf(twin[h])]
          whole += border[h]
          beside.set(r, (beside.get(r) ?? 0) + border[h])
        }
        if (of[t] >= 0 && beside.size === 1 && beside.has(of[t])) continue
        let best = of[t]
        let least = this.cost(t, best) + whole - (beside.get(best) ?? 0) - 1e-6
        for (const r of [-1, ...beside.keys()]) {
          const c = this.cost(t, r) + whole - (beside.get(r) ?? 0)
          if (c < least) {
            least = c
            best = r
          }
        }
        if (best === of[t]) continue
        of[t] = best
        changed.add(t)
        for (let h = 3 * t; h < 3 * t + 3; h++) if (twin[h] >= 0) changed.add(triangleOf(twin[h]))
      }
      front = [...changed]
    }
  }

  lists(): number[][] {
    const lists = this.models.map(() => [] as number[])
    this.of.forEach((r, t) => {
      if (r >= 0) lists[r].push(t)
    })
    return lists
  }

  private change(r: number, model: Model | null): void {
    const n = this.of.length
    this.models[r] = model
    for (let t = 0; t < n; t++) this.known.delete(r * n + t)
  }

  /** The shape of each region once more, of the kind that explains it best. */
  fit(work: Work): void {
    this.known.clear()
    for (const [r, list] of this.lists().entries()) {
      checkStop(work)
      const m = this.models[r]
      if (!m) continue
      if (!list.length) this.models[r] = null
      else if (list.length > 2) this.models[r] = bestOf(this.e, list, this.size, m)
    }
  }

  private total(list: readonly number[], m: Model): number {
    const some = someOf(list, looked)
    let sum = 0
    for (const t of some) sum += Math.min(1.5 * freeCost, costOf(this.e, t, m))
    return (sum * list.length) / some.length
  }

  /** Lengths of borders between regions, as they are paid. */
  private pairs(): Map<string, number> {
    const out = new Map<string, number>()
    const { twin } = this.e.topology
    for (let h = 0; h < twin.length; h++) {
      if (twin[h] < h) continue
      const [a, b] = [this.of[triangleOf(h)], this.of[triangleOf(twin[h])]]
      if (a < 0 || b < 0 || a === b) continue
      const key = a < b ? `${a} ${b}` : `${b} ${a}`
      out.set(key, (out.get(key) ?? 0) + this.border[h])
    }
    return out
  }

  /** Neighbours that one shape explains as well as two become one. */
  join(work: Work): boolean {
    let any = false
    for (let again = true; again;) {
      again = false
      const lists = this.lists()
      const gone = new Set<number>()
      for (const [key, border] of this.pairs()) {
        const [a, b] = key.split(' ').map(Number)
        if (gone.has(a) || gone.has(b)) continue
        checkStop(work)
        const joint = this.joint(lists[a], lists[b], this.models[a]!, this.models[b]!, border)
        if (!joint) continue
        const [to, from] = lists[a].length >= lists[b].length ? [a, b] : [b, a]
        for (const t of lists[from]) this.of[t] = to
        this.change(to, joint)
        this.models[from] = null
        gone.add(a).add(b)
        again = any = true
      }
    }
    this.known.clear()
    return any
  }

  private joint(a: readonly number[], b: readonly number[], m: Model, k: Model, border: number): Model | null {
    const [big, small] = a.length >= b.length ? [m, k] : [k, m]
    const [more, fewer] = a.length >= b.length ? [a, b] : [b, a]
    const now = this.total(a, m) + this.total(b, k) + shapeCost[m.shape.kind] + shapeCost[k.shape.kind] + border
    const costs = (x: Model) => {
      const own = this.total(fewer, x)
      // Few triangles may cost less than a shape of their own and still lie elsewhere.
      return own > mostForced * freeCost * fewer.length ? Infinity : this.total(more, x) + own + shapeCost[x.shape.kind]
    }
    if (costs(big) <= now) return big
    // What lies wholly elsewhere is no part of it.
    if (
      this.total(fewer, big) > 1.4 * freeCost * fewer.length &&
      this.total(more, small) > 1.4 * freeCost * more.length &&
      !this.touch(m, k)
    )
      return null
    const some = new Set<ShapeKind>([m.shape.kind, k.shape.kind])
    if (fewer.length < 40) for (const kind of kinds) some.add(kind)
    const joint = bestOf(
      this.e,
      [...a, ...b],
      this.size,
      big,
      kinds.filter((x) => some.has(x)),
    )
    return costs(joint) <= now ? joint : null
  }

  /** Whether two shapes may be parts of one: each is told by too little to be judged by itself. */
  private touch(m: Model, k: Model): boolean {
    return m.shape.kind === k.shape.kind && m.inside === k.inside && m.shape.kind !== 'plane'
  }

  /** Shapes that win less than they cost are given up. */
  drop(): boolean {
    let any = false
    const { twin } = this.e.topology
    for (const [r, list] of this.lists().entries()) {
      const m = this.models[r]
      if (!m) continue
      let without = 0
      let own = shapeCost[m.shape.kind]
      for (const t of list) {
        own += this.cost(t, r)
        let least = freeCost
        for (let h = 3 * t; h < 3 * t + 3; h++) {
          const w = twin[h] < 0 ? r : this.of[triangleOf(twin[h])]
          if (w !== r) least = Math.min(least, this.cost(t, w))
        }
        without += least
      }
      if (without > own) continue
      any = any || list.length > 0
      for (const t of list) this.of[t] = -1
      this.models[r] = null
    }
    return any
  }

  /** Bits of no shape, and bits that a shape has beside its area, go to the neighbour that they lie off least. */
  tidy(): void {
    const { e, of } = this
    const { twin } = e.topology
    const seen = new Uint8Array(of.length)
    const most = this.models.map(() => 0)
    const parts: number[][] = []
    for (let s = 0; s < of.length; s++) {
      if (seen[s]) continue
      const part = flood(twin, s, seen, (u) => of[u] === of[s])
      parts.push(part)
      if (of[s] >= 0) most[of[s]] = Math.max(most[of[s]], part.length)
    }
    const small = new Uint8Array(of.length)
    for (const part of parts) if (part.length <= islandTriangles) for (const t of part) small[t] = 1
    for (const part of parts) {
      const own = of[part[0]]
      const bit = part.length <= bitTriangles && (own < 0 || part.length < bitShare * most[own])
      if (!bit && part.length > islandTriangles) continue
      const { beside, whole } = this.about(part, small)
      let best = -1
      let least = Infinity
      for (const [r, border] of beside) {
        const off = part.reduce((s, t) => Math.max(s, farthest(e, t, this.models[r]!)), 0)
        const island = border > islandBorder * whole && border > 0 && off < islandTimes * e.sigma && this.faces(part, r)
        if (!island && (!bit || off > farTimes * e.sigma)) continue
        const cost = off / e.sigma - border
        if (cost < least) {
          least = cost
          best = r
        }
      }
      if (best >= 0) for (const t of part) of[t] = best
    }
  }

  /** What some triangles border on, by shapes; and all of their border but where other small parts are. */
  private about(part: readonly number[], small: Uint8Array): { beside: Map<number, number>; whole: number } {
    const { of } = this
    const { twin } = this.e.topology
    const inside = new Set(part)
    const beside = new Map<number, number>()
    let whole = 0
    for (const t of part)
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const u = twin[h] < 0 ? -1 : triangleOf(twin[h])
        if (u < 0 || inside.has(u)) continue
        if (!small[u]) whole += this.border[h]
        if (of[u] >= 0 && of[u] !== of[t]) beside.set(of[u], (beside.get(of[u]) ?? 0) + this.border[h])
      }
    return { beside, whole }
  }

  /** Whether some triangles together look the way a shape does. */
  private faces(part: readonly number[], r: number): boolean {
    // Noise turns triangles that are no higher than it anywhere.
    if (part.length <= bitTriangles && part.every((t) => this.e.height[t] < highTimes * this.e.sigma)) return true
    const { shape, inside } = this.models[r]!
    let sum = 0
    let area = 0
    for (const t of part) {
      const n = crossOf(this.e.mesh, t)
      const m = normalOf(shape, middleOf(this.e.mesh, t))
      sum += (n[0] * m[0] + n[1] * m[1] + n[2] * m[2]) * (inside ? -1 : 1)
      area += Math.hypot(...n)
    }
    return sum > islandFacing * area
  }

  run(work: Work): void {
    for (let round = 0; round < rounds; round++) {
      work.progress(0.6 + (0.3 * round) / rounds, 'borders')
      this.settle()
      this.fit(work)
      const joined = this.join(work)
      this.settle()
      const dropped = this.drop()
      if (!joined && !dropped && round > 0) break
    }
    this.settle()
    for (let pass = 0; pass < 3; pass++) this.tidy()
  }
}
