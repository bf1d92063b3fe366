/** Nearest points of a mesh in large numbers, on typed arrays, without an object for each visit. For single rays and hits see `closest`. */
import type { Vec3 } from '@/core/math/vec'
import { buildBoxTree, type BoxTree } from './box-tree'
import { meshBounds, type TriMesh } from './tri-mesh'

const leafSize = 4

/** What both searches share: the triangles and the latest answer. */
abstract class Nearest {
  private readonly p: Float32Array
  private readonly k: Uint32Array
  /** The answer to the latest question. */
  triangle = -1
  x = 0
  y = 0
  z = 0

  constructor(readonly mesh: TriMesh) {
    this.p = mesh.positions
    this.k = mesh.triangles
  }

  /**
   * Squared distance from (px, py, pz) to the mesh; the foot is left in `x y z` and its triangle in `triangle`.
   * Infinity and triangle -1 when nothing lies within `within`.
   */
  abstract square(px: number, py: number, pz: number, within?: number): number

  /** Distance, mm; Infinity when nothing lies within `within`. */
  distance(p: Vec3, within = Infinity): number {
    return Math.sqrt(this.square(p[0], p[1], p[2], within))
  }

  /** Where along a ray a triangle is hit; NaN where it is not (Moeller & Trumbore 1997). */
  protected hit(t: number, o: Vec3, d: Vec3): number {
    const { p, k } = this
    const a = 3 * k[3 * t],
      b = 3 * k[3 * t + 1],
      c = 3 * k[3 * t + 2]
    const ux = p[b] - p[a],
      uy = p[b + 1] - p[a + 1],
      uz = p[b + 2] - p[a + 2],
      vx = p[c] - p[a],
      vy = p[c + 1] - p[a + 1],
      vz = p[c + 2] - p[a + 2]
    const hx = d[1] * vz - d[2] * vy,
      hy = d[2] * vx - d[0] * vz,
      hz = d[0] * vy - d[1] * vx
    const det = ux * hx + uy * hy + uz * hz
    if (det === 0) return NaN
    const sx = o[0] - p[a],
      sy = o[1] - p[a + 1],
      sz = o[2] - p[a + 2]
    const u = (sx * hx + sy * hy + sz * hz) / det
    if (!(u >= 0 && u <= 1)) return NaN
    const qx = sy * uz - sz * uy,
      qy = sz * ux - sx * uz,
      qz = sx * uy - sy * ux
    const v = (d[0] * qx + d[1] * qy + d[2] * qz) / det
    return v >= 0 && u + v <= 1 ? (vx * qx + vy * qy + vz * qz) / det : NaN
  }

  /** Squared distance to one triangle when below `best`, else `best`; sets the answer (Ericson, Real-Time Collision Detection, 5.1.5). */
  protected tryTriangle(t: number, px: number, py: number, pz: number, best: number): number {
    const { p, k } = this
    const a = 3 * k[3 * t],
      b = 3 * k[3 * t + 1],
      c = 3 * k[3 * t + 2]
    const ax = p[a],
      ay = p[a + 1],
      az = p[a + 2]
    const abx = p[b] - ax,
      aby = p[b + 1] - ay,
      abz = p[b + 2] - az
    const acx = p[c] - ax,
      acy = p[c + 1] - ay,
      acz = p[c + 2] - az
    const apx = px - ax,
      apy = py - ay,
      apz = pz - az
    const d1 = abx * apx + aby * apy + abz * apz,
      d2 = acx * apx + acy * apy + acz * apz
    let v = 0,
      w = 0
    if (!(d1 <= 0 && d2 <= 0)) {
      const bpx = px - p[b],
        bpy = py - p[b + 1],
        bpz = pz - p[b + 2]
      const d3 = abx * bpx + aby * bpy + abz * bpz,
        d4 = acx * bpx + acy * bpy + acz * bpz
      if (d3 >= 0 && d4 <= d3) v = 1
      else {
        const vc = d1 * d4 - d3 * d2
        if (vc <= 0 && d1 >= 0 && d3 <= 0) v = d1 / (d1 - d3)
        else {
          const cpx = px - p[c],
            cpy = py - p[c + 1],
            cpz = pz - p[c + 2]
          const d5 = abx * cpx + aby * cpy + abz * cpz,
            d6 = acx * cpx + acy * cpy + acz * cpz
          if (d6 >= 0 && d5 <= d6) w = 1
          else {
            const vb = d5 * d2 - d1 * d6
            if (vb <= 0 && d2 >= 0 && d6 <= 0) w = d2 / (d2 - d6)
            else {
              const va = d3 * d6 - d5 * d4
              if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
                w = (d4 - d3) / (d4 - d3 + (d5 - d6))
                v = 1 - w
              } else {
                const s = 1 / (va + vb + vc)
                v = vb * s
                w = vc * s
              }
            }
          }
        }
      }
    }
    const x = ax + abx * v + acx * w,
      y = ay + aby * v + acy * w,
      z = az + abz * v + acz * w
    const dx = px - x,
      dy = py - y,
      dz = pz - z
    const d = dx * dx + dy * dy + dz * dz
    if (!(d < best)) return best
    this.triangle = t
    this.x = x
    this.y = y
    this.z = z
    return d
  }
}

export type { Nearest }

/** By a box tree: for questions from anywhere. The last answer is the first bound, so neighbouring questions answer each other. */
export class NearestPoints extends Nearest {
  private readonly tree: BoxTree
  private readonly stack = new Int32Array(256)
  private readonly stackAt = new Float64Array(256)
  private last = 0

  constructor(mesh: TriMesh) {
    super(mesh)
    this.tree = buildBoxTree(mesh)
  }

  square(px: number, py: number, pz: number, within = Infinity): number {
    const { tree, stack, stackAt } = this
    const { boxes, order, leaves } = tree
    const first = leaves - 1
    const n = order.length
    let best = within * within
    this.triangle = -1
    if (!n) return Infinity
    best = this.tryTriangle(order[this.last], px, py, pz, best)
    if (this.triangle >= 0) this.triangle = order[this.last]
    let found = this.triangle >= 0 ? this.last : -1
    let top = 0
    stack[0] = 0
    stackAt[0] = 0
    top = 1
    while (top) {
      top--
      if (stackAt[top] >= best) continue
      const node = stack[top]
      if (node >= first) {
        const from = (node - first) * leafSize,
          to = Math.min(n, from + leafSize)
        for (let i = from; i < to; i++) {
          const d = this.tryTriangle(order[i], px, py, pz, best)
          if (d < best) {
            best = d
            found = i
          }
        }
        continue
      }
      const l = 2 * node + 1,
        r = l + 1
      const dl = boxSquare(boxes, l, px, py, pz),
        dr = boxSquare(boxes, r, px, py, pz)
      // The nearer child is looked at first.
      if (dl < dr) {
        if (dr < best) {
          stack[top] = r
          stackAt[top++] = dr
        }
        if (dl < best) {
          stack[top] = l
          stackAt[top++] = dl
        }
      } else {
        if (dl < best) {
          stack[top] = l
          stackAt[top++] = dl
        }
        if (dr < best) {
          stack[top] = r
          stackAt[top++] = dr
        }
      }
    }
    if (found < 0) return Infinity
    this.last = found
    return best
  }
}

function boxSquare(boxes: Float32Array, node: number, x: number, y: number, z: number): number {
  const o = 6 * node
  const dx = x < boxes[o] ? boxes[o] - x : x > boxes[o + 3] ? x - boxes[o + 3] : 0
  const dy = y < boxes[o + 1] ? boxes[o + 1] - y : y > boxes[o + 4] ? y - boxes[o + 4] : 0
  const dz = z < boxes[o + 2] ? boxes[o + 2] - z : z > boxes[o + 5] ? z - boxes[o + 5] : 0
  return dx * dx + dy * dy + dz * dz
}

/**
 * Whether a triangle meets a cube of a half width round a middle, by separating axes (Akenine-Moller 2001): the triangle's normal and the
 * nine products of its sides with the axes; its box is taken as known to meet.
 * @param a, b, c where the corners' coordinates begin
 */
function boxTest(p: Float32Array, a: number, b: number, c: number, half: number) {
  const axes: number[] = []
  const sides = [
    [a, b],
    [b, c],
    [c, a],
  ].map(([u, v]) => [p[v] - p[u], p[v + 1] - p[u + 1], p[v + 2] - p[u + 2]])
  for (const [x, y, z] of sides) axes.push(0, -z, y, z, 0, -x, -y, x, 0)
  const [[ux, uy, uz], [vx, vy, vz]] = sides
  axes.push(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx)
  const low: number[] = [],
    high: number[] = []
  for (let i = 0; i < axes.length; i += 3) {
    const [x, y, z] = [axes[i], axes[i + 1], axes[i + 2]]
    const at = (o: number) => x * p[o] + y * p[o + 1] + z * p[o + 2]
    // A little wider than the cube, so that rounding leaves none out.
    const reach = 1.000001 * half * (Math.abs(x) + Math.abs(y) + Math.abs(z)) + 1e-12
    low.push(Math.min(at(a), at(b), at(c)) - reach)
    high.push(Math.max(at(a), at(b), at(c)) + reach)
  }
  return (mx: number, my: number, mz: number): boolean => {
    for (let i = 0; i < low.length; i++) {
      const m = axes[3 * i] * mx + axes[3 * i + 1] * my + axes[3 * i + 2] * mz
      if (m < low[i] || m > high[i]) return false
    }
    return true
  }
}

/**
 * By a grid of cells, each with the triangles whose boxes meet it: made in linear time, and quickest for questions from near the
 * skin. Questions from more than a few cells away go to a box tree, made when the first one comes.
 */
export class NearestInGrid extends Nearest {
  private readonly cell: number
  private readonly origin: Vec3
  private readonly count: readonly [number, number, number]
  private readonly start: Uint32Array
  private readonly list: Uint32Array
  private tree: NearestPoints | null = null
  private asked = 0
  private far = 0

  /** @param least cells at least this wide, mm, for questions from about that far */
  constructor(mesh: TriMesh, least = 0) {
    super(mesh)
    const { positions: p, triangles: k } = mesh
    const n = k.length / 3
    const { min, max } = meshBounds(mesh)
    const size = [max[0] - min[0], max[1] - min[1], max[2] - min[2]]
    // Cells about as wide as triangles, at most eight to a triangle.
    let reach = 0
    for (let t = 0; t < n; t++) {
      const a = 3 * k[3 * t],
        b = 3 * k[3 * t + 1]
      reach += Math.abs(p[a] - p[b]) + Math.abs(p[a + 1] - p[b + 1]) + Math.abs(p[a + 2] - p[b + 2])
    }
    let cell = Math.max(least, n ? (1.5 * reach) / n : 1, 1e-6 * Math.max(...size), 1e-12)
    const cells = () => size.reduce((s, v) => s * (Math.floor(v / cell) + 1), 1)
    while (cells() > Math.max(64, 8 * n)) cell *= 1.26
    this.cell = cell
    this.origin = min
    this.count = [Math.floor(size[0] / cell) + 1, Math.floor(size[1] / cell) + 1, Math.floor(size[2] / cell) + 1]
    const [cx, cy] = this.count
    const start = new Uint32Array(cx * cy * this.count[2] + 1)
    const each = (visit: (c: number, t: number) => void) => {
      for (let t = 0; t < n; t++) {
        const a = 3 * k[3 * t],
          b = 3 * k[3 * t + 1],
          c = 3 * k[3 * t + 2]
        const i0 = Math.floor((Math.min(p[a], p[b], p[c]) - min[0]) / cell),
          i1 = Math.floor((Math.max(p[a], p[b], p[c]) - min[0]) / cell)
        const j0 = Math.floor((Math.min(p[a + 1], p[b + 1], p[c + 1]) - min[1]) / cell),
          j1 = Math.floor((Math.max(p[a + 1], p[b + 1], p[c + 1]) - min[1]) / cell)
        const k0 = Math.floor((Math.min(p[a + 2], p[b + 2], p[c + 2]) - min[2]) / cell),
          k1 = Math.floor((Math.max(p[a + 2], p[b + 2], p[c + 2]) - min[2]) / cell)
        // The box of a long or slanting triangle is mostly empty.
        const meets = (i1 - i0 + 1) * (j1 - j0 + 1) * (k1 - k0 + 1) > 6 ? boxTest(p, a, b, c, cell / 2) : null
        for (let z = k0; z <= k1; z++)
          for (let y = j0; y <= j1; y++)
            for (let x = i0; x <= i1; x++)
              if (!meets || meets(min[0] + (x + 0.5) * cell, min[1] + (y + 0.5) * cell, min[2] + (z + 0.5) * cell))
                visit(x + cx * (y + cy * z), t)
      }
    }
    each((c) => {
      start[c + 1]++
    })
    for (let c = 1; c < start.length; c++) start[c] += start[c - 1]
    const fill = start.slice(0, -1)
    this.list = new Uint32Array(start[start.length - 1])
    each((c, t) => {
      this.list[fill[c]++] = t
    })
    this.start = start
  }

  square(px: number, py: number, pz: number, within = Infinity): number {
    const { cell, origin, count, start, list } = this
    // Where most questions end at the tree, the rings are not worth walking.
    if (this.tree && this.far * 2 > ++this.asked) return this.ask(px, py, pz, within)
    const [cx, cy, cz] = count
    this.triangle = -1
    let best = within * within
    const x = Math.floor((px - origin[0]) / cell),
      y = Math.floor((py - origin[1]) / cell),
      z = Math.floor((pz - origin[2]) / cell)
    for (let ring = 0; ring <= 4; ring++) {
      for (let k = Math.max(0, z - ring); k <= Math.min(cz - 1, z + ring); k++)
        for (let j = Math.max(0, y - ring); j <= Math.min(cy - 1, y + ring); j++) {
          const whole = Math.abs(k - z) === ring || Math.abs(j - y) === ring
          for (
            let i = whole ? Math.max(0, x - ring) : x - ring;
            i <= Math.min(cx - 1, x + ring);
            i += whole ? 1 : 2 * ring || 1
          ) {
            if (i < 0) continue
            const c = i + cx * (j + cy * k)
            for (let q = start[c]; q < start[c + 1]; q++) best = this.tryTriangle(list[q], px, py, pz, best)
          }
        }
      // All within this distance of the point has been looked at.
      const seen =
        ring * cell +
        Math.min(
          px - origin[0] - x * cell,
          (x + 1) * cell + origin[0] - px,
          py - origin[1] - y * cell,
          (y + 1) * cell + origin[1] - py,
          pz - origin[2] - z * cell,
          (z + 1) * cell + origin[2] - pz,
        )
      if (best <= seen * seen) return this.triangle < 0 ? Infinity : best
    }
    this.far++
    return this.ask(px, py, pz, within)
  }

  /**
   * How many triangles a ray passes through, by a walk from cell to cell (Amanatides & Woo 1987).
   * @param accept tells which triangles count
   */
  crossings(origin: Vec3, direction: Vec3, accept: (triangle: number) => boolean): number {
    const { cell, count, start, list } = this
    const step = [0, 0, 0],
      at = [0, 0, 0],
      next = [0, 0, 0],
      per = [0, 0, 0]
    // From where the ray enters the grid.
    let enter = 0,
      leave = Infinity
    for (let a = 0; a < 3; a++) {
      const lo = this.origin[a],
        hi = lo + count[a] * cell
      if (direction[a] === 0) {
        if (origin[a] < lo || origin[a] > hi) return 0
        continue
      }
      const t0 = (lo - origin[a]) / direction[a],
        t1 = (hi - origin[a]) / direction[a]
      enter = Math.max(enter, Math.min(t0, t1))
      leave = Math.min(leave, Math.max(t0, t1))
    }
    if (enter > leave) return 0
    for (let a = 0; a < 3; a++) {
      const x = origin[a] + enter * direction[a] - this.origin[a]
      at[a] = Math.min(count[a] - 1, Math.max(0, Math.floor(x / cell)))
      step[a] = Math.sign(direction[a])
      per[a] = direction[a] === 0 ? Infinity : cell / Math.abs(direction[a])
      next[a] = direction[a] === 0 ? Infinity : enter + ((at[a] + (step[a] > 0 ? 1 : 0)) * cell - x) / direction[a]
    }
    const hits: number[] = []
    for (;;) {
      const a = next[0] <= next[1] && next[0] <= next[2] ? 0 : next[1] <= next[2] ? 1 : 2
      const c = at[0] + count[0] * (at[1] + count[1] * at[2])
      for (let q = start[c]; q < start[c + 1]; q++) {
        // A triangle in several cells counts once.
        if (this.hit(list[q], origin, direction) >= 0 && !hits.includes(list[q]) && accept(list[q])) hits.push(list[q])
      }
      at[a] += step[a]
      if (at[a] < 0 || at[a] >= count[a]) return hits.length
      next[a] += per[a]
    }
  }

  private ask(px: number, py: number, pz: number, within: number): number {
    this.tree ??= new NearestPoints(this.mesh)
    const d = this.tree.square(px, py, pz, within)
    this.triangle = this.tree.triangle
    this.x = this.tree.x
    this.y = this.tree.y
    this.z = this.tree.z
    return d
  }
}
