/**
 * Quads made even on a skin: each asks its corners towards the square that fits it best, bad ones more loudly, and corners go back on to the
 * skin, those of creases on to their lines (Bouaziz et al. 2012, "Shape-Up").
 */
import { cross } from '@/core/math/vec'
import { checkStop, quiet, type Work } from '@/core/base/work'
import type { Vec3 } from '@/core/math/vec'
import { NearestInGrid } from '@/core/mesh/nearest'
import type { QuadMesh } from '@/core/mesh/quad-mesh'
import { type TriMesh } from '@/core/mesh/tri-mesh'
import { triangleNormals } from '@/core/mesh/triangle'
import type { CreaseLines } from './crease-lines'

export interface RelaxChoice {
  readonly rounds: number
  /** Vertices on lines: the number of the line run is not told, the nearest is taken. 2: stays where it is. */
  readonly kind: Uint8Array
  readonly lines: CreaseLines
}

/** Skins that face away from a vertex's own quads by more than this are not its skin. */
const facing = 0.2

export function relaxQuads(
  net: QuadMesh,
  ground: Ground,
  { rounds, kind, lines }: RelaxChoice,
  work: Work = quiet,
): QuadMesh {
  const p = Float64Array.from(net.positions)
  const { quads } = net
  const n = p.length / 3
  const sum = new Float64Array(3 * n)
  const weight = new Float64Array(n)
  const normal = new Float64Array(3 * n)
  for (let round = 0; round <= rounds; round++) {
    checkStop(work)
    work.progress(round / (rounds + 1), 'evening quads')
    sum.fill(0)
    weight.fill(0)
    normal.fill(0)
    for (let q = 0; q < quads.length; q += 4) addSquare(p, quads, q, sum, weight, normal)
    for (let v = 0; v < n; v++) {
      if (!weight[v] || kind[v] === 2) continue
      const x: Vec3 =
        round === rounds
          ? [p[3 * v], p[3 * v + 1], p[3 * v + 2]]
          : [sum[3 * v] / weight[v], sum[3 * v + 1] / weight[v], sum[3 * v + 2] / weight[v]]
      const to =
        kind[v] === 1 ? lines.nearest(x) : ground.nearest(x, [normal[3 * v], normal[3 * v + 1], normal[3 * v + 2]])
      if (!to) continue
      for (let k = 0; k < 3; k++) p[3 * v + k] = to[k]
    }
  }
  return { positions: Float32Array.from(p), quads }
}

/** The square, in the plane of a quad's diagonals, that fits its corners best, asked for at each of them. */
function addSquare(
  p: Float64Array,
  quads: Uint32Array,
  q: number,
  sum: Float64Array,
  weight: Float64Array,
  normal: Float64Array,
): void {
  const v = [quads[q], quads[q + 1], quads[q + 2], quads[q + 3]]
  const [d, e, m]: [number, number, number][] = [
    [0, 0, 0],
    [0, 0, 0],
    [0, 0, 0],
  ]
  for (let k = 0; k < 3; k++) {
    d[k] = p[3 * v[2] + k] - p[3 * v[0] + k]
    e[k] = p[3 * v[3] + k] - p[3 * v[1] + k]
    m[k] = (p[3 * v[0] + k] + p[3 * v[1] + k] + p[3 * v[2] + k] + p[3 * v[3] + k]) / 4
  }
  const c = cross(d, e)
  const l = Math.hypot(...c)
  if (!(l > 0)) return
  const u: Vec3 = [c[0] / l, c[1] / l, c[2] / l]
  // Diagonals of the square: d, and e turned back by a right angle, together.
  const turned = cross(e, u)
  const g: [number, number, number] = [(d[0] + turned[0]) / 4, (d[1] + turned[1]) / 4, (d[2] + turned[2]) / 4]
  const along = g[0] * u[0] + g[1] * u[1] + g[2] * u[2]
  for (let k = 0; k < 3; k++) g[k] -= along * u[k]
  const h = cross(u, g)
  const size = Math.hypot(d[0], d[1], d[2]) * Math.hypot(e[0], e[1], e[2])
  // Of a square the cross is as large as the product; the smaller, the louder.
  const loud = 1 + 4 * (1 - Math.min(1, l / Math.max(size, 1e-300)))
  for (let i = 0; i < 4; i++) {
    const s = i === 0 ? g.map((x) => -x) : i === 1 ? h.map((x) => -x) : i === 2 ? g : h
    for (let k = 0; k < 3; k++) {
      sum[3 * v[i] + k] += loud * (m[k] + s[k])
      normal[3 * v[i] + k] += c[k]
    }
    weight[v[i]] += loud
  }
}

/** A skin to lie on: nearest places, on triangles that face the same way. */
export class Ground {
  private readonly grid: NearestInGrid
  private readonly normals: Float32Array

  constructor(readonly mesh: TriMesh) {
    this.grid = new NearestInGrid(mesh)
    this.normals = triangleNormals(mesh)
  }

  /** How far a place lies from the skin, mm: above 0 on the side it faces, by its nearest triangle. */
  signed(x: Vec3): number {
    const { grid, normals } = this
    const square = grid.square(x[0], x[1], x[2])
    if (!Number.isFinite(square)) return 0
    const t = 3 * grid.triangle
    const side = normals[t] * (x[0] - grid.x) + normals[t + 1] * (x[1] - grid.y) + normals[t + 2] * (x[2] - grid.z)
    return side < 0 ? -Math.sqrt(square) : Math.sqrt(square)
  }

  /** Null where the nearest skin faces away: another skin lies close by. */
  nearest(x: Vec3, normal: Vec3): Vec3 | null {
    const { grid, normals } = this
    if (!Number.isFinite(grid.square(x[0], x[1], x[2]))) return null
    const t = 3 * grid.triangle
    const l = Math.hypot(...normal) || 1e-300
    const dot = (normals[t] * normal[0] + normals[t + 1] * normal[1] + normals[t + 2] * normal[2]) / l
    return dot < -facing ? null : [grid.x, grid.y, grid.z]
  }
}
