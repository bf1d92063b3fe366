/**
 * Corners of a moved skin: those round a vertex with no parted edge between them are one sector and move together. An edge is parted where
 * the moved skin opens more than its corners can follow.
 */
import { checkStop, type Work } from '@/core/base/work'
import { add, cross, dot, length, scale, sub, type Vec3 } from '@/core/math/vec'
import { nextIn, prevIn, triangleOf } from '@/core/mesh/topology'
import { vertex, type TriMesh } from '@/core/mesh/tri-mesh'
import type { Facing } from './facing'
import { meeting } from './meeting'

/** A corner further out than this many distances is laid round. */
const furthest = 2.3
/** A corner that misses a plane by more than this share is parted along its edges of over `partOver` degrees. */
const missShare = 0.02
const partOver = 12
/**
 * Directions in which planes differ less than this (sine squared of their spread) are one: no corner is sought there. The loose share takes
 * facets of one round wall for one, so that corners along its rims may slide.
 */
const flatShare = { exact: 6e-4, loose: 0.012 }
/** Rounds in which edges are parted. */
const partings = 3
/** Rounds in which corners slide along their planes to turn triangles back that came out the wrong way round. */
const slides = 40

export class Sectors {
  /** 1 for half-edges on both sides of which corners move apart. */
  readonly parted: Uint8Array
  /** The sector of each corner. */
  readonly sector: Int32Array
  /** Corners of each sector. */
  members: number[][] = []
  /** Where each goes, for a distance of 1. */
  ways: Vec3[] = []
  private free: (readonly Vec3[])[] = []
  private readonly flat: number

  /** Parts edges that turn by more than `limit` degrees, and those about corners that would not do. */
  constructor(
    private readonly mesh: TriMesh,
    private readonly twin: Int32Array,
    private readonly facing: Facing,
    limit: number,
    private readonly loose: boolean,
    private readonly work: Work,
  ) {
    this.flat = loose ? flatShare.loose : flatShare.exact
    const { turn } = facing
    this.parted = Uint8Array.from(turn, (a) => (a > limit ? 1 : 0))
    this.sector = new Int32Array(turn.length)
    this.partHollows()
    this.gather()
    for (let round = 0; round < partings && this.partMore(); round++) this.gather()
  }

  /** Greatest share of the distance by which a sector's corner misses the plane of one of its triangles. */
  missOf(s: number): number {
    const { normals, angle } = this.facing
    let miss = 0
    for (const g of this.members[s]) {
      const m = normals[triangleOf(g)]
      if (angle[g] > 1e-3 && (m[0] || m[1] || m[2])) miss = Math.max(miss, Math.abs(dot(m, this.ways[s]) - 1))
    }
    return miss
  }

  /** Draws corners of triangles that came out the wrong way round towards their neighbours, within their planes. */
  slide(by: number): void {
    let active = new Set<number>()
    for (let round = 0; round < slides; round++) {
      checkStop(this.work)
      const next = new Set<number>(active)
      if (!this.addWrong(by, next)) return
      // Their neighbours make room.
      if (round % 4 === 0)
        for (const s of [...next])
          for (const g of this.members[s]) next.add(this.sector[nextIn(g)]).add(this.sector[prevIn(g)])
      active = next
      for (const s of active) if (this.free[s].length) this.slideOne(s)
    }
  }

  private part(h: number): void {
    this.parted[h] = this.parted[this.twin[h]] = 1
  }

  /** Where the ball rolls over one edge of a vertex, only the planes themselves meet a hollow edge there at the right distance. */
  private partHollows(): void {
    const { triangles: k, positions } = this.mesh
    const { turn } = this.facing
    const rolls = new Uint8Array(positions.length / 3)
    for (let h = 0; h < k.length; h++) if (this.parted[h]) rolls[k[h]] = 1
    for (let h = 0; h < k.length; h++) if (turn[h] < -partOver && rolls[k[h]]) this.part(h)
  }

  /** Parts edges about corners that are too far out or miss their planes; whether there were any. */
  private partMore(): boolean {
    const { turn } = this.facing
    let more = false
    for (let s = 0; s < this.members.length; s++) {
      const far = length(this.ways[s]) > furthest
      if (!far && this.missOf(s) <= missShare) continue
      const inner = this.members[s].map(prevIn).filter((h) => !this.parted[h])
      const sharp = inner.filter((h) => Math.abs(turn[h]) > partOver)
      // The tip of a cone has no sharp edge, yet no corner within reach.
      const opened = !sharp.length && far ? inner : sharp
      for (const h of opened) this.part(h)
      if (opened.length) more = true
    }
    return more
  }

  /** Makes sectors of what is not parted, and where each goes. */
  private gather(): void {
    const { sector, facing } = this
    sector.fill(-1)
    this.ways = []
    this.free = []
    this.members = []
    for (let h = 0; h < sector.length; h++) {
      if ((h & 8191) === 0) checkStop(this.work)
      if (sector[h] >= 0) continue
      const list = this.sectorFrom(this.firstOf(h))
      for (const g of list) sector[g] = this.members.length
      this.members.push(list)
      const m = meeting(
        list.map((g) => facing.normals[triangleOf(g)]),
        list.map((g) => facing.angle[g]),
        this.flat,
      )
      this.ways.push(m.way)
      this.free.push(m.free)
    }
  }

  /** Back to where a parted edge begins the sector of a corner, or once round. */
  private firstOf(h: number): number {
    let first = h
    for (let g = h; !this.parted[g];) {
      g = nextIn(this.twin[g])
      if (g === h) break
      first = g
    }
    return first
  }

  private sectorFrom(first: number): number[] {
    const list: number[] = []
    for (let g = first; ;) {
      list.push(g)
      const back = prevIn(g)
      if (this.parted[back]) return list
      g = this.twin[back]
      if (g === first) return list
    }
  }

  /** Adds the sectors of triangles that came out the wrong way round; how many of those there are. */
  private addWrong(by: number, to: Set<number>): number {
    const { mesh, sector, ways } = this
    const { triangles: k } = mesh
    const corner = (h: number): Vec3 => add(vertex(mesh, k[h]), scale(ways[sector[h]], by))
    let wrong = 0
    for (let t = 0; t < k.length / 3; t++) {
      const a = corner(3 * t)
      const normal = cross(sub(corner(3 * t + 1), a), sub(corner(3 * t + 2), a))
      if (dot(normal, this.facing.normals[t]) > 0) continue
      wrong++
      for (let h = 3 * t; h < 3 * t + 3; h++) to.add(sector[h])
    }
    return wrong
  }

  /** Draws a sector towards the mean of its neighbours, in the directions that are free to it. */
  private slideOne(s: number): void {
    const { mesh, sector, ways } = this
    const { triangles: k } = mesh
    let to: Vec3 = [0, 0, 0],
      weight = 0
    const at = vertex(mesh, k[this.members[s][0]])
    for (const g of this.members[s])
      for (const h of [nextIn(g), prevIn(g)]) {
        const w = 1 / (length(sub(vertex(mesh, k[h]), at)) + 1e-12)
        to = add(to, scale(ways[sector[h]], w))
        weight += w
      }
    const off = sub(scale(to, 1 / weight), ways[s])
    for (const f of this.free[s]) ways[s] = add(ways[s], scale(f, dot(f, off)))
  }
}
