/** Evens out a mesh to an edge length: split, collapse, flip, relax, and back on to the old skin (Botsch & Kobbelt 2004). Sharp edges and rims are kept. */
import { NearestInGrid } from '@/core/mesh/nearest'
import { edgeKey } from '@/core/mesh/edge-key'
import { PolygonEdit } from '@/core/mesh/polygon-edit'
import { buildTopology, nextIn, triangleOf } from '@/core/mesh/topology'
import { type TriMesh } from '@/core/mesh/tri-mesh'
import { crossInto, triangleNormals } from '@/core/mesh/triangle'
import { checkStop, quiet, type Work } from '@/core/base/work'

export interface RefineChoice {
  /** Edge length to come to, mm. */
  readonly edge: number
  /** Edges that bend by more than this are kept, degrees. */
  readonly keepEdges?: number
  /** Distance from the old skin within which the middles of edges shall stay, mm: round walls get shorter edges, down to a quarter. */
  readonly within?: number
  readonly rounds?: number
  /** Most triangles to make; the work ends there. */
  readonly most?: number
}

/** Corners that may go anywhere on the skin, only along a kept line, or nowhere. */
const loose = 0,
  onLine = 1,
  fixed = 2

/** Whether an edge between two corners would leave the old skin; `over` is a corner between them that may go. */
type Strays = (a: number, b: number, over?: number) => boolean

class Skin extends PolygonEdit {
  readonly kind: number[]
  private readonly normal = new Float64Array(3)
  readonly lines = new Set<number>()

  constructor(mesh: TriMesh, keepEdges: number) {
    super(mesh.positions, mesh.triangles)
    const topology = buildTopology(mesh)
    const normals = triangleNormals(mesh)
    const limit = Math.cos((keepEdges * Math.PI) / 180)
    const n = new Uint8Array(this.around.length)
    const dir: (number[] | undefined)[] = []
    const kind = new Array<number>(this.around.length).fill(loose)
    for (let h = 0; h < topology.twin.length; h++) {
      const w = topology.twin[h]
      if (w > h || w === -2 || w === -1) {
        let sharp = w < 0 || topology.sameWay[h] === 1
        if (!sharp) {
          const a = 3 * triangleOf(h),
            b = 3 * triangleOf(w)
          sharp = normals[a] * normals[b] + normals[a + 1] * normals[b + 1] + normals[a + 2] * normals[b + 2] < limit
        }
        if (!sharp) continue
        const a = mesh.triangles[h],
          b = mesh.triangles[nextIn(h)]
        if (this.lines.has(edgeKey(a, b))) continue
        this.lines.add(edgeKey(a, b))
        for (const [v, u] of [
          [a, b],
          [b, a],
        ]) {
          n[v] = Math.min(3, n[v] + 1)
          const d = [0, 1, 2].map((k) => this.points[3 * u + k] - this.points[3 * v + k])
          const l = Math.hypot(...d) || 1
          const unit = d.map((x) => x / l)
          const old = dir[v]
          // A bend in the line is a corner.
          if (n[v] === 2 && old && old[0] * unit[0] + old[1] * unit[1] + old[2] * unit[2] > -0.8) n[v] = 3
          dir[v] = unit
        }
      }
    }
    n.forEach((c, v) => {
      kind[v] = c === 0 ? loose : c === 2 ? onLine : fixed
    })
    this.kind = kind
  }

  split(a: number, b: number): number {
    const { points: p } = this
    const m = this.addPoint(
      (p[3 * a] + p[3 * b]) / 2,
      (p[3 * a + 1] + p[3 * b + 1]) / 2,
      (p[3 * a + 2] + p[3 * b + 2]) / 2,
    )
    const line = this.lines.delete(edgeKey(a, b))
    this.kind.push(line ? onLine : loose)
    if (line) {
      this.lines.add(edgeKey(a, m))
      this.lines.add(edgeKey(m, b))
    }
    this.splitAt(a, b, m)
    return m
  }

  /** Whether a triangle turns so far that its cosine is below `least` when its corner v moves. */
  turns(t: number, v: number, x: number, y: number, z: number, least: number): boolean {
    const before = this.cross(t),
      after = this.cross(t, v, x, y, z)
    const l = Math.hypot(...before) * Math.hypot(...after)
    return before[0] * after[0] + before[1] * after[1] + before[2] * after[2] < least * l
  }

  /** Where the line through b and a goes on; null where it would be cut short across a bend by more than `off`. */
  private straightOn(a: number, b: number, beside: Iterable<number>, off: number): number | null {
    const p = this.points
    let next = -1
    for (const v of beside) if (v !== b && this.lines.has(edgeKey(a, v))) next = v
    if (next < 0) return null
    const d = [0, 1, 2].map((k) => p[3 * b + k] - p[3 * next + k]),
      e = [0, 1, 2].map((k) => p[3 * a + k] - p[3 * next + k])
    const s = (d[0] * e[0] + d[1] * e[1] + d[2] * e[2]) / (d[0] ** 2 + d[1] ** 2 + d[2] ** 2 || 1)
    return Math.hypot(e[0] - s * d[0], e[1] - s * d[1], e[2] - s * d[2]) > off ? null : next
  }

  /** Pulls a into b when the skin stays a manifold, nothing turns over, no edge grows past `long` and none strays from the old skin. */
  collapse(a: number, b: number, long: number, strays: Strays): boolean {
    if (this.kind[a] === fixed) return false
    const line = this.lines.has(edgeKey(a, b))
    if (this.kind[a] === onLine && !line) return false
    const gone = this.shared(a, b)
    if (gone.length !== 2 && !(gone.length === 1 && line)) return false
    if (this.commonNeighbours(a, b) !== gone.length) return false
    const na = this.neighbours(a)
    const p = this.points
    for (const v of na) if (v !== b && this.square(v, b) > long * long) return false
    for (const t of this.around[a])
      if (!gone.includes(t) && this.turns(t, a, p[3 * b], p[3 * b + 1], p[3 * b + 2], 0.5)) return false
    for (const v of na) if (v !== b && strays(v, b, a)) return false
    const next = this.kind[a] === onLine ? this.straightOn(a, b, na, 0.05 * long) : -1
    if (next === null) return false
    for (const v of na) this.lines.delete(edgeKey(a, v))
    if (next >= 0) this.lines.add(edgeKey(next, b))
    this.pull(a, b, gone)
    return true
  }

  /**
   * Whether the triangles round some corners turn from the first of them by more than an angle whose cosine is `least`. Corners on kept
   * lines, which look on to both sides, are left out; of such alone nothing is known, so they may.
   */
  bends(a: number, b: number, over: number, least: number): boolean {
    let known = false,
      fx = 0,
      fy = 0,
      fz = 0
    const { points: p, corners: k, normal: n } = this
    for (let i = 0; i < 3; i++) {
      const v = i === 0 ? a : i === 1 ? b : over
      if (this.kind[v] !== loose || (i === 2 && over === a)) continue
      for (const t of this.around[v]) {
        const l = crossInto(p, k, t, n)
        if (!(l > 0)) continue
        if (!known) {
          known = true
          fx = n[0] / l
          fy = n[1] / l
          fz = n[2] / l
        } else if (n[0] * fx + n[1] * fy + n[2] * fz < least * l) return true
      }
    }
    return !known
  }

  /** What is alive, renumbered. */
  mesh(): TriMesh {
    const to = new Int32Array(this.pointCount).fill(-1)
    const positions: number[] = [],
      triangles: number[] = []
    for (let t = 0; t < this.faceCount; t++) {
      if (!this.alive(t)) continue
      for (let c = 0; c < 3; c++) {
        const v = this.corners[3 * t + c]
        if (to[v] < 0)
          to[v] = positions.push(this.points[3 * v], this.points[3 * v + 1], this.points[3 * v + 2]) / 3 - 1
        triangles.push(to[v])
      }
    }
    return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) }
  }

  /** Turns edge ab when that brings the four corners nearer to six neighbours (four on a line) and keeps the skin's shape. */
  flip(a: number, b: number, strays: Strays): boolean {
    if (this.lines.has(edgeKey(a, b))) return false
    const two = this.shared(a, b)
    if (two.length !== 2) return false
    const [s, t] = two
    const c = this.third(s, a, b),
      d = this.third(t, a, b)
    if (c < 0 || d < 0 || c === d || this.shared(c, d).length) return false
    const want = (v: number) => (this.kind[v] === loose ? 6 : 4)
    const off = (v: number, by: number) => (this.around[v].length + by - want(v)) ** 2
    if (off(a, -1) + off(b, -1) + off(c, 1) + off(d, 1) >= off(a, 0) + off(b, 0) + off(c, 0) + off(d, 0)) return false
    if (strays(c, d, a)) return false
    const made = this.turned(a, b, s, t, c, d)
    if (!made) return false
    const n1 = this.cross(s),
      n2 = this.cross(t)
    const mean = [n1[0] + n2[0], n1[1] + n2[1], n1[2] + n2[2]]
    const m = Math.hypot(...mean)
    for (const [u, v, w] of made) {
      const n = this.crossOf(u, v, w)
      // Both new triangles must face the old way, within 25 degrees.
      if (n[0] * mean[0] + n[1] * mean[1] + n[2] * mean[2] < 0.9 * m * Math.hypot(...n) || Math.hypot(...n) < 1e-3 * m)
        return false
    }
    this.kill(s)
    this.kill(t)
    this.put(s, made[0])
    this.put(t, made[1])
    return true
  }
}

/** The side of a triangle that is longer than `long` and the longest, so that splitting does not make needles; -1 for none. */
function longestOver(skin: Skin, t: number, long: number): number {
  let worst = -1,
    length = long * long
  for (let c = 0; c < 3; c++) {
    const d = skin.square(skin.corners[3 * t + c], skin.corners[3 * t + ((c + 1) % 3)])
    if (d > length) {
      length = d
      worst = c
    }
  }
  return worst
}

/** Triangles that an even mesh of this edge length has on so much area, mm². */
export const trianglesFor = (area: number, edge: number): number => area / ((Math.sqrt(3) / 4) * edge * edge)

/** One run of refining: the skin as it stands, the skin it came from, and the lengths that are aimed at, mm. */
class Refining {
  readonly skin: Skin
  private readonly ground: NearestInGrid
  private readonly long: number
  private readonly short: number
  /** The squared length of an edge that is long enough to be split for straying. */
  private readonly least: number

  constructor(
    mesh: TriMesh,
    private readonly edge: number,
    private readonly within: number,
    keepEdges: number,
    private readonly work: Work,
  ) {
    this.skin = new Skin(mesh, keepEdges)
    this.ground = new NearestInGrid(mesh)
    this.long = (4 / 3) * edge
    this.short = (4 / 5) * edge
    this.least = ((edge / 4) * (4 / 3)) ** 2
  }

  /** Whether an edge lies on a bend and its middle has left the old skin. */
  private readonly strays: Strays = (a, b, over = a) => {
    const { skin, within } = this
    const d = skin.square(a, b)
    if (d <= this.least || d < 4 * within * within) return false
    // The sag of a chord over a bend of so many radians is at most an eighth of their product, if the bend is even; most skin is flat.
    if (!skin.bends(a, b, over, Math.cos(Math.min(Math.PI, (2 * within) / Math.sqrt(d))))) return false
    const p = skin.points
    const [x, y, z] = [0, 1, 2].map((k) => (p[3 * a + k] + p[3 * b + k]) / 2)
    return !Number.isFinite(this.ground.square(x, y, z, within))
  }

  /** A new corner on a loose edge goes on to the old skin at once, so that its own edges are judged by where they will be. */
  private split(a: number, b: number, moved: boolean): void {
    const { skin, ground } = this
    const v = skin.split(a, b)
    if (!moved || skin.kind[v] !== loose) return
    const p = skin.points
    if (ground.square(p[3 * v], p[3 * v + 1], p[3 * v + 2], this.edge) < Infinity) {
      p[3 * v] = ground.x
      p[3 * v + 1] = ground.y
      p[3 * v + 2] = ground.z
    }
  }

  /** The longest side of a triangle that strays; -1 for none. */
  private longestAstray(t: number): number {
    const { skin } = this
    let worst = -1,
      length = 0
    for (let c = 0; c < 3; c++) {
      const a = skin.corners[3 * t + c],
        b = skin.corners[3 * t + ((c + 1) % 3)]
      const d = skin.square(a, b)
      // An inner edge is asked once, from one of its sides.
      if (a < b && d > length && this.strays(a, b)) {
        length = d
        worst = c
      }
    }
    return worst
  }

  /** Splits what is too long; once corners have moved, also what strays. */
  splitting(moved: boolean, most: number): void {
    const { skin, work } = this
    for (let sweep = 0, again = true; again && sweep < 12; sweep++) {
      again = false
      const end = skin.faceCount
      for (let t = 0; t < end; t++) {
        if ((t & 8191) === 0) checkStop(work)
        if (!skin.alive(t)) continue
        let worst = longestOver(skin, t, this.long)
        if (worst < 0 && moved) worst = this.longestAstray(t)
        if (worst < 0) continue
        if (skin.faceCount > most) break
        this.split(skin.corners[3 * t + worst], skin.corners[3 * t + ((worst + 1) % 3)], moved)
        again = true
      }
    }
  }

  collapsing(): void {
    const { skin, long, short, strays } = this
    for (let t = 0; t < skin.faceCount; t++) {
      if ((t & 8191) === 0) checkStop(this.work)
      for (let c = 0; c < 3 && skin.alive(t); c++) {
        const a = skin.corners[3 * t + c],
          b = skin.corners[3 * t + ((c + 1) % 3)]
        if (skin.square(a, b) >= short * short) continue
        if (skin.collapse(a, b, long, strays) || skin.collapse(b, a, long, strays)) break
      }
    }
  }

  flipping(): void {
    const { skin, strays } = this
    for (let t = 0; t < skin.faceCount; t++) {
      if ((t & 8191) === 0) checkStop(this.work)
      for (let c = 0; c < 3 && skin.alive(t); c++) {
        const a = skin.corners[3 * t + c],
          b = skin.corners[3 * t + ((c + 1) % 3)]
        if (a < b && skin.flip(a, b, strays)) break
      }
    }
  }

  /** Where a loose corner is relaxed to: the middle of its ring by area, in its tangent plane, on the old skin. Null where it has no ring. */
  private relaxed(v: number): number[] | null {
    const { skin, ground } = this
    const p = skin.points
    let x = 0,
      y = 0,
      z = 0,
      sum = 0,
      nx = 0,
      ny = 0,
      nz = 0
    for (const t of skin.around[v]) {
      const n = skin.cross(t)
      const area = Math.hypot(...n)
      const k = skin.corners
      sum += area
      nx += n[0]
      ny += n[1]
      nz += n[2]
      x += (area * (p[3 * k[3 * t]] + p[3 * k[3 * t + 1]] + p[3 * k[3 * t + 2]])) / 3
      y += (area * (p[3 * k[3 * t] + 1] + p[3 * k[3 * t + 1] + 1] + p[3 * k[3 * t + 2] + 1])) / 3
      z += (area * (p[3 * k[3 * t] + 2] + p[3 * k[3 * t + 1] + 2] + p[3 * k[3 * t + 2] + 2])) / 3
    }
    const l = Math.hypot(nx, ny, nz)
    if (!(sum > 0) || !(l > 0)) return null
    const d = [x / sum - p[3 * v], y / sum - p[3 * v + 1], z / sum - p[3 * v + 2]]
    const off = (d[0] * nx + d[1] * ny + d[2] * nz) / (l * l)
    const to = [p[3 * v] + d[0] - off * nx, p[3 * v + 1] + d[1] - off * ny, p[3 * v + 2] + d[2] - off * nz]
    if (ground.square(to[0], to[1], to[2]) < Infinity) return [ground.x, ground.y, ground.z]
    return to
  }

  /** Moves loose corners to the middle of their rings where no triangle turns for it. */
  relaxing(): void {
    const { skin } = this
    const p = skin.points
    for (let v = 0; v < skin.pointCount; v++) {
      if ((v & 4095) === 0) checkStop(this.work)
      if (skin.kind[v] !== loose || !skin.around[v].length) continue
      const to = this.relaxed(v)
      if (!to || skin.around[v].some((t) => skin.turns(t, v, to[0], to[1], to[2], 0.3))) continue
      for (let k = 0; k < 3; k++) p[3 * v + k] = to[k]
    }
  }
}

/**
 * The mesh with edges near `edge` mm, shorter where the skin bends so that their middles stay `within` a distance of it (the sizing of
 * Dunyach et al. 2013, with the distance itself measured in place of curvature). Corners of sharp edges stay where they are.
 */
export function refine(
  mesh: TriMesh,
  { edge, keepEdges = 40, within = edge / 20, rounds = 5, most = 4e6 }: RefineChoice,
  work: Work = quiet,
): TriMesh {
  const now = new Refining(mesh, edge, within, keepEdges, work)
  const tick = (round: number, share: number, phase: string) => {
    checkStop(work)
    work.progress((round + share) / rounds, phase)
  }
  for (let round = 0; round < rounds; round++) {
    tick(round, 0, 'splitting')
    now.splitting(round > 0, most)
    tick(round, 0.35, 'collapsing')
    now.collapsing()
    tick(round, 0.55, 'flipping')
    now.flipping()
    tick(round, 0.7, 'relaxing')
    now.relaxing()
  }
  work.progress(1, 'done')
  return now.skin.mesh()
}
