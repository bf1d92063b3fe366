/** Evens out a mesh to an edge length: split, collapse, flip, relax, and back on to the old skin (Botsch & Kobbelt 2004). Sharp edges and rims are kept. */
import { NearestInGrid } from '@/core/mesh/nearest'
import { buildTopology, nextIn, triangleOf } from '@/core/mesh/topology'
import { triangleNormals, type TriMesh } from '@/core/mesh/tri-mesh'
import { checkStop, quiet, type Work } from '@/core/base/work'

export interface RefineChoice {
  /** Edge length to come to, mm. */
  readonly edge: number
  /** Edges that bend by more than this are kept, degrees. */
  readonly keepEdges?: number
  readonly rounds?: number
  /** Most triangles to make; the work ends there. */
  readonly most?: number
}

/** Corners that may go anywhere on the skin, only along a kept line, or nowhere. */
const loose = 0,
  onLine = 1,
  fixed = 2
const key = (a: number, b: number) => (a < b ? a * 67108864 + b : b * 67108864 + a)

class Skin {
  readonly p: number[]
  readonly t: number[]
  readonly around: number[][]
  readonly kind: number[]
  readonly lines = new Set<number>()

  constructor(mesh: TriMesh, keepEdges: number) {
    this.p = Array.from(mesh.positions)
    this.t = Array.from(mesh.triangles)
    this.around = Array.from({ length: mesh.positions.length / 3 }, () => [])
    for (let i = 0; i < this.t.length; i++) this.around[this.t[i]].push((i / 3) | 0)
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
        if (this.lines.has(key(a, b))) continue
        this.lines.add(key(a, b))
        for (const [v, u] of [
          [a, b],
          [b, a],
        ]) {
          n[v] = Math.min(3, n[v] + 1)
          const d = [0, 1, 2].map((k) => this.p[3 * u + k] - this.p[3 * v + k])
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

  alive(t: number): boolean {
    return this.t[3 * t] >= 0
  }
  square(a: number, b: number): number {
    const p = this.p
    return (p[3 * a] - p[3 * b]) ** 2 + (p[3 * a + 1] - p[3 * b + 1]) ** 2 + (p[3 * a + 2] - p[3 * b + 2]) ** 2
  }
  has(t: number, v: number): boolean {
    const k = this.t
    return k[3 * t] === v || k[3 * t + 1] === v || k[3 * t + 2] === v
  }
  shared(a: number, b: number): number[] {
    return this.around[a].filter((t) => this.has(t, b))
  }
  third(t: number, a: number, b: number): number {
    for (let c = 0; c < 3; c++) {
      const v = this.t[3 * t + c]
      if (v !== a && v !== b) return v
    }
    return -1
  }

  normal(t: number, moved = -1, to?: readonly number[]): [number, number, number] {
    const { p, t: k } = this
    const at = (v: number, a: number) => (v === moved ? to![a] : p[3 * v + a])
    const a = k[3 * t],
      b = k[3 * t + 1],
      c = k[3 * t + 2]
    const ux = at(b, 0) - at(a, 0),
      uy = at(b, 1) - at(a, 1),
      uz = at(b, 2) - at(a, 2),
      vx = at(c, 0) - at(a, 0),
      vy = at(c, 1) - at(a, 1),
      vz = at(c, 2) - at(a, 2)
    return [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
  }

  split(a: number, b: number): void {
    const { p } = this
    const m = this.around.length
    for (let k = 0; k < 3; k++) p.push((p[3 * a + k] + p[3 * b + k]) / 2)
    const line = this.lines.delete(key(a, b))
    this.kind.push(line ? onLine : loose)
    if (line) {
      this.lines.add(key(a, m))
      this.lines.add(key(m, b))
    }
    this.around.push([])
    for (const t of this.shared(a, b)) {
      const fresh = this.t.length / 3
      for (let c = 0; c < 3; c++) {
        const v = this.t[3 * t + c]
        this.t.push(v === a ? m : v)
      }
      for (let c = 0; c < 3; c++) if (this.t[3 * t + c] === b) this.t[3 * t + c] = m
      // t keeps a, the fresh one has b.
      this.around[b][this.around[b].indexOf(t)] = fresh
      this.around[this.third(t, a, m)].push(fresh)
      this.around[m].push(t, fresh)
    }
  }

  /** Pulls a into b when the skin stays a manifold, nothing turns over and no edge grows past `long`. */
  collapse(a: number, b: number, long: number): boolean {
    if (this.kind[a] === fixed) return false
    const line = this.lines.has(key(a, b))
    if (this.kind[a] === onLine && !line) return false
    const gone = this.shared(a, b)
    if (gone.length !== 2 && !(gone.length === 1 && line)) return false
    const na = new Set<number>(),
      nb = new Set<number>()
    for (const t of this.around[a]) for (let c = 0; c < 3; c++) na.add(this.t[3 * t + c])
    for (const t of this.around[b]) for (let c = 0; c < 3; c++) nb.add(this.t[3 * t + c])
    let common = 0
    for (const v of na) if (nb.has(v) && v !== a && v !== b) common++
    if (common !== gone.length) return false
    const to = [this.p[3 * b], this.p[3 * b + 1], this.p[3 * b + 2]]
    for (const v of na) if (v !== a && v !== b && this.square(v, b) > long * long) return false
    for (const t of this.around[a]) {
      if (gone.includes(t)) continue
      const before = this.normal(t),
        after = this.normal(t, a, to)
      const l = Math.hypot(...before) * Math.hypot(...after)
      if (before[0] * after[0] + before[1] * after[1] + before[2] * after[2] < 0.5 * l) return false
    }
    let next = -1
    if (this.kind[a] === onLine) {
      // The line must not be cut short across a bend.
      for (const v of na) if (v !== b && v !== a && this.lines.has(key(a, v))) next = v
      if (next < 0) return false
      const d = [0, 1, 2].map((k) => this.p[3 * b + k] - this.p[3 * next + k]),
        e = [0, 1, 2].map((k) => this.p[3 * a + k] - this.p[3 * next + k])
      const s = (d[0] * e[0] + d[1] * e[1] + d[2] * e[2]) / (d[0] ** 2 + d[1] ** 2 + d[2] ** 2 || 1)
      if (Math.hypot(e[0] - s * d[0], e[1] - s * d[1], e[2] - s * d[2]) > 0.05 * long) return false
    }
    for (const v of na) {
      if (v === a) continue
      this.lines.delete(key(a, v))
    }
    if (next >= 0) this.lines.add(key(next, b))
    for (const t of gone) this.kill(t)
    for (const t of this.around[a]) {
      for (let c = 0; c < 3; c++) if (this.t[3 * t + c] === a) this.t[3 * t + c] = b
      this.around[b].push(t)
    }
    this.around[a] = []
    return true
  }

  kill(t: number): void {
    for (let c = 0; c < 3; c++) {
      const list = this.around[this.t[3 * t + c]]
      const i = list.indexOf(t)
      if (i >= 0) list.splice(i, 1)
      this.t[3 * t + c] = -1
    }
  }

  /** Turns edge ab when that brings the four corners nearer to six neighbours (four on a line) and keeps the skin's shape. */
  flip(a: number, b: number): boolean {
    if (this.lines.has(key(a, b))) return false
    const two = this.shared(a, b)
    if (two.length !== 2) return false
    const [s, t] = two
    const c = this.third(s, a, b),
      d = this.third(t, a, b)
    if (c < 0 || d < 0 || c === d || this.shared(c, d).length) return false
    const want = (v: number) => (this.kind[v] === loose ? 6 : 4)
    const off = (v: number, by: number) => (this.around[v].length + by - want(v)) ** 2
    if (off(a, -1) + off(b, -1) + off(c, 1) + off(d, 1) >= off(a, 0) + off(b, 0) + off(c, 0) + off(d, 0)) return false
    const k = this.t
    const ia = [0, 1, 2].find((i) => k[3 * s + i] === a)!
    const forward = k[3 * s + ((ia + 1) % 3)] === b
    const ja = [0, 1, 2].find((i) => k[3 * t + i] === a)!
    if (forward === (k[3 * t + ((ja + 1) % 3)] === b)) return false
    const n1 = this.normal(s),
      n2 = this.normal(t)
    const mean = [n1[0] + n2[0], n1[1] + n2[1], n1[2] + n2[2]]
    const first = forward ? [c, a, d] : [d, a, c],
      second = forward ? [d, b, c] : [c, b, d]
    const cross = (v: number[]) => {
      const { p } = this
      const u = [0, 1, 2].map((i) => p[3 * v[1] + i] - p[3 * v[0] + i]),
        w = [0, 1, 2].map((i) => p[3 * v[2] + i] - p[3 * v[0] + i])
      return [u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]]
    }
    const m = Math.hypot(...mean)
    for (const tri of [first, second]) {
      const n = cross(tri)
      // Both new triangles must face the old way, within 25 degrees.
      if (n[0] * mean[0] + n[1] * mean[1] + n[2] * mean[2] < 0.9 * m * Math.hypot(...n) || Math.hypot(...n) < 1e-3 * m)
        return false
    }
    this.kill(s)
    this.kill(t)
    for (const [id, v] of [
      [s, first],
      [t, second],
    ] as const)
      for (let i = 0; i < 3; i++) {
        this.t[3 * id + i] = v[i]
        this.around[v[i]].push(id)
      }
    return true
  }
}

/** Triangles that an even mesh of this edge length has on so much area, mm². */
export const trianglesFor = (area: number, edge: number): number => area / ((Math.sqrt(3) / 4) * edge * edge)

/** The mesh with edges near `edge` mm. Corners of sharp edges stay where they are. */
export function refine(
  mesh: TriMesh,
  { edge, keepEdges = 40, rounds = 5, most = 4e6 }: RefineChoice,
  work: Work = quiet,
): TriMesh {
  const skin = new Skin(mesh, keepEdges)
  const ground = new NearestInGrid(mesh)
  const long = (4 / 3) * edge,
    short = (4 / 5) * edge
  const tick = (round: number, share: number, phase: string) => {
    checkStop(work)
    work.progress((round + share) / rounds, phase)
  }
  for (let round = 0; round < rounds; round++) {
    tick(round, 0, 'splitting')
    for (let sweep = 0, again = true; again && sweep < 12; sweep++) {
      again = false
      const end = skin.t.length / 3
      for (let t = 0; t < end; t++) {
        if ((t & 8191) === 0) checkStop(work)
        if (!skin.alive(t)) continue
        // The longest edge first, so that splitting does not make needles.
        let worst = -1,
          length = long * long
        for (let c = 0; c < 3; c++) {
          const d = skin.square(skin.t[3 * t + c], skin.t[3 * t + ((c + 1) % 3)])
          if (d > length) {
            length = d
            worst = c
          }
        }
        if (worst < 0) continue
        if (skin.t.length / 3 > most) break
        skin.split(skin.t[3 * t + worst], skin.t[3 * t + ((worst + 1) % 3)])
        again = true
      }
    }
    tick(round, 0.35, 'collapsing')
    for (let t = 0; t < skin.t.length / 3; t++) {
      if ((t & 8191) === 0) checkStop(work)
      for (let c = 0; c < 3 && skin.alive(t); c++) {
        const a = skin.t[3 * t + c],
          b = skin.t[3 * t + ((c + 1) % 3)]
        if (skin.square(a, b) >= short * short) continue
        if (skin.collapse(a, b, long) || skin.collapse(b, a, long)) break
      }
    }
    tick(round, 0.55, 'flipping')
    for (let t = 0; t < skin.t.length / 3; t++) {
      if ((t & 8191) === 0) checkStop(work)
      for (let c = 0; c < 3 && skin.alive(t); c++) {
        const a = skin.t[3 * t + c],
          b = skin.t[3 * t + ((c + 1) % 3)]
        if (a < b && skin.flip(a, b)) break
      }
    }
    tick(round, 0.7, 'relaxing')
    const { p } = skin
    for (let v = 0; v < skin.around.length; v++) {
      if ((v & 4095) === 0) checkStop(work)
      if (skin.kind[v] !== loose || !skin.around[v].length) continue
      let x = 0,
        y = 0,
        z = 0,
        sum = 0,
        nx = 0,
        ny = 0,
        nz = 0
      // Middle of the ring by area, in the tangent plane.
      for (const t of skin.around[v]) {
        const n = skin.normal(t)
        const area = Math.hypot(...n)
        const k = skin.t
        sum += area
        nx += n[0]
        ny += n[1]
        nz += n[2]
        x += (area * (p[3 * k[3 * t]] + p[3 * k[3 * t + 1]] + p[3 * k[3 * t + 2]])) / 3
        y += (area * (p[3 * k[3 * t] + 1] + p[3 * k[3 * t + 1] + 1] + p[3 * k[3 * t + 2] + 1])) / 3
        z += (area * (p[3 * k[3 * t] + 2] + p[3 * k[3 * t + 1] + 2] + p[3 * k[3 * t + 2] + 2])) / 3
      }
      const l = Math.hypot(nx, ny, nz)
      if (!(sum > 0) || !(l > 0)) continue
      const d = [x / sum - p[3 * v], y / sum - p[3 * v + 1], z / sum - p[3 * v + 2]]
      const off = (d[0] * nx + d[1] * ny + d[2] * nz) / (l * l)
      const to = [p[3 * v] + d[0] - off * nx, p[3 * v + 1] + d[1] - off * ny, p[3 * v + 2] + d[2] - off * nz]
      if (ground.square(to[0], to[1], to[2]) < Infinity) {
        to[0] = ground.x
        to[1] = ground.y
        to[2] = ground.z
      }
      let fine = true
      for (const t of skin.around[v]) {
        const before = skin.normal(t),
          after = skin.normal(t, v, to)
        if (
          before[0] * after[0] + before[1] * after[1] + before[2] * after[2] <
          0.3 * Math.hypot(...before) * Math.hypot(...after)
        ) {
          fine = false
          break
        }
      }
      if (fine) for (let k = 0; k < 3; k++) p[3 * v + k] = to[k]
    }
  }
  const to = new Int32Array(skin.around.length).fill(-1)
  const positions: number[] = [],
    triangles: number[] = []
  for (let t = 0; t < skin.t.length / 3; t++) {
    if (!skin.alive(t)) continue
    for (let c = 0; c < 3; c++) {
      const v = skin.t[3 * t + c]
      if (to[v] < 0) to[v] = positions.push(skin.p[3 * v], skin.p[3 * v + 1], skin.p[3 * v + 2]) / 3 - 1
      triangles.push(to[v])
    }
  }
  work.progress(1, 'done')
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) }
}
