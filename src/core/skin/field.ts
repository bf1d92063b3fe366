/** A field whose zero surface is wanted, and the sparse grid it is sampled on. */
import type { Bounds } from '@/core/mesh/tri-mesh'
import { checkStop, type Work } from '@/core/base/work'

/** Signed distance less a level: its zero surface is the skin itself, or one grown or shrunk by the level. */
export interface Field {
  /** Distance from the skin, mm; Infinity when it is more than `within`. */
  distance(x: number, y: number, z: number, within: number): number
  /** Whether a place is inside the skin; null for a skin without an inside. */
  readonly inside: ((x: number, y: number, z: number) => boolean) | null
  readonly level: number
  /** Way of steepest rise at a place on the zero surface, written to `out`; need not be unit. */
  slope(x: number, y: number, z: number, out: Float64Array): void
}

/** Nodes along the side of a block. */
const side = 4
const perBlock = side * side * side

/** Nodes in blocks near the zero surface only. Node (i, j, k) stands at origin + step (i, j, k). */
export class BlockGrid {
  readonly origin: readonly [number, number, number]
  private readonly blocks: readonly [number, number, number]
  private readonly index = new Map<number, number>()
  private values = new Float32Array(64 * perBlock)
  readonly list: [number, number, number][] = []

  constructor(
    private readonly field: Field,
    bounds: Bounds,
    readonly step: number,
    private readonly work: Work,
  ) {
    this.origin = [bounds.min[0] - 2.37 * step, bounds.min[1] - 2.41 * step, bounds.min[2] - 2.29 * step]
    this.blocks = [0, 1, 2].map((a) => Math.ceil((bounds.max[a] - bounds.min[a] + 5 * step) / (side * step)) + 1) as [
      number,
      number,
      number,
    ]
  }

  private keyOf(bx: number, by: number, bz: number): number {
    return bx + 4096 + 16384 * (by + 4096 + 16384 * (bz + 4096))
  }

  /** Fills the blocks that the zero surface may pass through, top down: a block far from zero at its middle cannot hold any of it. */
  fill(): void {
    let size = 1
    while (size < Math.max(...this.blocks)) size *= 2
    const total = this.blocks.reduce((s, v) => s * v, 1)
    let seen = 0
    const visit = (bx: number, by: number, bz: number, n: number) => {
      if (bx >= this.blocks[0] || by >= this.blocks[1] || bz >= this.blocks[2]) return
      if ((seen++ & 63) === 0) {
        checkStop(this.work)
        this.work.progress(Math.min(0.99, (bx * this.blocks[1] * this.blocks[2]) / total), 'measuring the field')
      }
      const half = (n * side * this.step) / 2
      const [ox, oy, oz] = this.origin
      const reach = Math.sqrt(3) * (half + this.step)
      const level = Math.abs(this.field.level)
      const d = this.field.distance(
        ox + bx * side * this.step + half,
        oy + by * side * this.step + half,
        oz + bz * side * this.step + half,
        level + reach,
      )
      // Whichever side it is on: the level is further than the block reaches.
      if (!(d <= level + reach) || d < level - reach) return
      if (n === 1) {
        this.make(bx, by, bz)
        return
      }
      const m = n / 2
      for (let c = 0; c < 8; c++) visit(bx + (c & 1 ? m : 0), by + (c & 2 ? m : 0), bz + (c & 4 ? m : 0), m)
    }
    visit(0, 0, 0, size)
  }

  private make(bx: number, by: number, bz: number): number {
    const key = this.keyOf(bx, by, bz)
    const have = this.index.get(key)
    if (have !== undefined) return have
    const id = this.list.push([bx, by, bz]) - 1
    this.index.set(key, id)
    if ((id + 1) * perBlock > this.values.length) {
      const wider = new Float32Array(2 * this.values.length)
      wider.set(this.values)
      this.values = wider
    }
    if ((id & 15) === 0) checkStop(this.work)
    const [ox, oy, oz] = this.origin
    const h = this.step
    const { level, inside } = this.field
    const far = Math.abs(level) + 2.5 * h
    const d = this.distances
    const at = (i: number, j: number, k: number): [number, number, number] => [
      ox + (bx * side + i) * h,
      oy + (by * side + j) * h,
      oz + (bz * side + k) * h,
    ]
    for (let k = 0, o = 0; k < side; k++)
      for (let j = 0; j < side; j++)
        for (let i = 0; i < side; i++, o++) d[o] = Math.min(far, this.field.distance(...at(i, j, k), far))
    const sign = this.signs.fill(inside ? 0 : 1)
    if (inside) {
      // Between two nodes that are together further from the skin than from each other, it does not pass: they share a side.
      const stack: number[] = []
      for (let seed = 0; seed < perBlock; seed++) {
        if (sign[seed]) continue
        const s = inside(...at(seed % side, ((seed / side) | 0) % side, (seed / (side * side)) | 0)) ? -1 : 1
        sign[seed] = s
        stack.push(seed)
        while (stack.length) {
          const o = stack.pop()!
          const i = o % side,
            j = ((o / side) | 0) % side,
            k = (o / (side * side)) | 0
          const step = (u: number, on: boolean) => {
            if (!on || sign[u] || d[o] + d[u] <= 1.0001 * h) return
            sign[u] = s
            stack.push(u)
          }
          step(o - 1, i > 0)
          step(o + 1, i < side - 1)
          step(o - side, j > 0)
          step(o + side, j < side - 1)
          step(o - side * side, k > 0)
          step(o + side * side, k < side - 1)
        }
      }
    }
    for (let o = 0; o < perBlock; o++) {
      const v = sign[o] * d[o] - level
      // A node exactly on the surface would have no side.
      this.values[id * perBlock + o] = v === 0 ? 1e-7 * h : v
    }
    return id
  }

  private readonly distances = new Float64Array(perBlock)
  private readonly signs = new Int8Array(perBlock)

  /** Value at a node; its block is sampled when it was not yet. */
  at(i: number, j: number, k: number): number {
    const bx = Math.floor(i / side),
      by = Math.floor(j / side),
      bz = Math.floor(k / side)
    const id = this.index.get(this.keyOf(bx, by, bz)) ?? this.make(bx, by, bz)
    return this.values[id * perBlock + (i - bx * side) + side * (j - by * side + side * (k - bz * side))]
  }

  /** Value at a node of a block that is known to be sampled. */
  inside(id: number, i: number, j: number, k: number): number {
    return this.values[id * perBlock + i + side * (j + side * k)]
  }
  static readonly side = side
}
