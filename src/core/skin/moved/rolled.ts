/** The skin of a moved mesh: its triangles between moved corners, and where corners were parted the rolling ball's strips and caps. */
import { add, dot, length, normalize, scale, type Vec3 } from '@/core/math/vec'
import { nextIn, prevIn } from '@/core/mesh/topology'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { degrees } from './facing'
import { between } from './meeting'
import type { Sectors } from './sectors'

/** Turn of the ball between two rows of a strip, degrees: its sag is 0.2 % of the distance. */
const stepOf = 7.5

export class Rolled {
  readonly positions: number[] = []
  readonly triangles: number[] = []
  /** Way by which each vertex lies from where it came. */
  private readonly wayAt: Vec3[] = []
  /** The vertex of each sector. */
  private readonly numbers: readonly number[]
  private readonly arcs = new Map<string, number[]>()

  constructor(
    private readonly mesh: TriMesh,
    private readonly twin: Int32Array,
    private readonly by: number,
    private readonly sectors: Sectors,
  ) {
    const { triangles: k } = mesh
    this.numbers = sectors.members.map((list, s) => this.put(k[list[0]], sectors.ways[s]))
    for (let h = 0; h < k.length; h++) this.triangles.push(this.numbers[sectors.sector[h]])
  }

  /** Adds a strip over each parted edge. */
  addStrips(): void {
    const { twin } = this
    const { triangles: k } = this.mesh
    const { parted, sector } = this.sectors
    for (let h = 0; h < k.length; h++) {
      const g = twin[h]
      if (!parted[h] || g < h) continue
      const one = this.arc(k[h], sector[h], sector[nextIn(g)]),
        other = this.arc(k[nextIn(h)], sector[nextIn(h)], sector[g])
      zip(one, other, this.triangles)
    }
  }

  /** Adds the ball's own skin where three sectors or more meet. */
  addCaps(): void {
    const { triangles: k, positions } = this.mesh
    const { sector } = this.sectors
    const done = new Uint8Array(positions.length / 3)
    for (let h = 0; h < k.length; h++) {
      const v = k[h]
      if (done[v]) continue
      done[v] = 1
      const loop: number[] = []
      let different = 0
      for (let g = h; ;) {
        const next = this.twin[prevIn(g)]
        if (sector[next] !== sector[g]) {
          different++
          loop.push(...this.arc(v, sector[g], sector[next]).slice(0, -1))
        }
        g = next
        if (g === h) break
      }
      if (different > 2) this.cap(v, loop)
    }
  }

  private put(v: number, way: Vec3): number {
    for (let a = 0; a < 3; a++) this.positions.push(this.mesh.positions[3 * v + a] + this.by * way[a])
    this.wayAt.push(way)
    return this.wayAt.length - 1
  }

  /** The ball's way from one sector of a vertex to another; the same numbers whichever edge asks. */
  private arc(v: number, s: number, t: number): readonly number[] {
    if (s === t) return [this.numbers[s]]
    const [low, high] = s < t ? [s, t] : [t, s]
    const key = `${low} ${high}`
    let list = this.arcs.get(key)
    if (!list) {
      const a = this.sectors.ways[low],
        b = this.sectors.ways[high]
      const open = Math.acos(Math.max(-1, Math.min(1, dot(normalize(a), normalize(b)))))
      const steps = Math.max(1, Math.ceil(degrees(open) / stepOf))
      list = [this.numbers[low]]
      for (let i = 1; i < steps; i++) list.push(this.put(v, between(a, b, i / steps)))
      list.push(this.numbers[high])
      this.arcs.set(key, list)
    }
    return s < t ? list : [...list].reverse()
  }

  /** Closes a loop of the ball's skin about a vertex by rings towards its middle. */
  private cap(v: number, loop: readonly number[]): void {
    const { triangles } = this
    if (loop.length === 3) {
      triangles.push(loop[0], loop[1], loop[2])
      return
    }
    const ring = loop.map((i) => this.wayAt[i])
    let middle: Vec3 = [0, 0, 0]
    for (const w of ring) middle = add(middle, normalize(w))
    if (length(middle) < 1e-3 * ring.length) {
      for (let i = 1; i + 1 < loop.length; i++) triangles.push(loop[0], loop[i], loop[i + 1])
      return
    }
    middle = scale(normalize(middle), ring.reduce((s, w) => s + length(w), 0) / ring.length)
    const open = Math.max(...ring.map((w) => Math.acos(Math.min(1, dot(normalize(w), normalize(middle))))))
    const rings = Math.max(1, Math.round(degrees(open) / stepOf))
    let outer = [...loop, loop[0]]
    for (let j = 1; j < rings; j++) {
      const count = Math.max(3, Math.round(loop.length * (1 - j / rings)))
      const inner: number[] = []
      for (let i = 0; i < count; i++) {
        const at = (i / count) * ring.length
        const from = Math.floor(at)
        const on = between(ring[from], ring[(from + 1) % ring.length], at - from)
        inner.push(this.put(v, between(on, middle, j / rings)))
      }
      inner.push(inner[0])
      zip(outer, inner, triangles)
      outer = inner
    }
    const tip = this.put(v, middle)
    for (let i = 0; i + 1 < outer.length; i++) triangles.push(outer[i], outer[i + 1], tip)
  }
}

/** Triangles between two rows of numbers from end to end, the second on the right of the first. */
function zip(one: readonly number[], other: readonly number[], out: number[]): void {
  let i = 0,
    j = 0
  while (i + 1 < one.length || j + 1 < other.length) {
    const a = (i + 1) / (one.length - 1 || 1),
      b = (j + 1) / (other.length - 1 || 1)
    if (j + 1 >= other.length || (i + 1 < one.length && a <= b)) {
      out.push(one[i], one[i + 1], other[j])
      i++
    } else {
      out.push(one[i], other[j + 1], other[j])
      j++
    }
  }
}
