/**
 * The limit surface of a cage as triangles that follow its control points: each place is a sum of control points that is worked out once, so
 * that points can be pulled at many times a second.
 */
import { cross } from '@/core/math/vec'
import { cageSteps } from '@/core/kinds/cage'
import { edgeKey } from '@/core/mesh/edge-key'
import { nextInQuad, prevInQuad } from '@/core/mesh/quad-mesh'
import {
  applyRows,
  cageTopology,
  composed,
  limitRows,
  subdivide,
  subdivisionRows,
  type Cage,
  type Rows,
} from '@/core/subdivision/subdivide'

export class FineSurface {
  private readonly rows: Rows
  /** Three places for each triangle; those of a face of the cage follow each other. */
  readonly index: Uint32Array
  private readonly quads: Uint32Array
  /** The row of each drawn place. */
  private readonly source: Uint32Array

  constructor(private readonly cage: Cage) {
    let fine = cage
    let rows: Rows | null = null
    for (let s = cageSteps(cage); s > 0; s--) {
      const step = subdivisionRows(fine)
      rows = rows ? composed(step, rows) : step
      fine = subdivide(fine, step)
    }
    const limit = limitRows(fine)
    this.rows = rows ? composed(limit, rows) : limit
    const { quads, source } = partedAtCreases(fine)
    this.quads = quads
    this.source = source
    this.index = new Uint32Array((quads.length / 4) * 6)
    for (let q = 0, o = 0; q < quads.length; q += 4, o += 6) {
      const [a, b, c, d] = quads.subarray(q, q + 4)
      this.index.set([a, b, c, a, c, d], o)
    }
  }

  /**
   * Whether a cage has the same faces, creases and corners, whichever object it is: its surface is the same sums of other points. An
   * extrusion that is dragged makes the same faces at each move.
   */
  serves({ quads, creases, corners }: Cage): boolean {
    const own = this.cage
    const same = (a: ReadonlyMap<number, number>, b: ReadonlyMap<number, number>) =>
      a === b || (a.size === b.size && [...a].every(([k, s]) => b.get(k) === s))
    return (
      (own.quads === quads || (own.quads.length === quads.length && own.quads.every((v, i) => v === quads[i]))) &&
      same(own.creases, creases) &&
      same(own.corners, corners)
    )
  }

  /** Places of the surface and unit normals there for control points, x y z each, mm. */
  at(positions: Float64Array): { skin: Float32Array; normals: Float32Array } {
    const one = applyRows(this.rows, positions)
    const { quads, source } = this
    const p = new Float64Array(3 * source.length)
    source.forEach((r, v) => {
      for (let k = 0; k < 3; k++) p[3 * v + k] = one[3 * r + k]
    })
    const normals = new Float32Array(p.length)
    for (let q = 0; q < quads.length; q += 4) {
      const [a, b, c, d] = [3 * quads[q], 3 * quads[q + 1], 3 * quads[q + 2], 3 * quads[q + 3]]
      // By the diagonals: twice the area of the quad long.
      const [x, y, z] = cross(
        [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]],
        [p[d] - p[b], p[d + 1] - p[b + 1], p[d + 2] - p[b + 2]],
      )
      for (const o of [a, b, c, d]) {
        normals[o] += x
        normals[o + 1] += y
        normals[o + 2] += z
      }
    }
    for (let o = 0; o < normals.length; o += 3) {
      const l = Math.hypot(normals[o], normals[o + 1], normals[o + 2]) || 1
      for (let k = 0; k < 3; k++) normals[o + k] /= l
    }
    return { skin: Float32Array.from(p), normals }
  }
}

/** The faces with places of their own on either side of creases that stay sharp, so that each side has its own normals. */
function partedAtCreases(cage: Cage): { quads: Uint32Array; source: Uint32Array } {
  const n = cage.positions.length / 3
  const own = Array.from({ length: n }, (_, v) => v)
  if (!cage.creases.size) return { quads: cage.quads, source: Uint32Array.from(own) }
  const { twin } = cageTopology(cage)
  const sharp = (h: number) => (cage.creases.get(edgeKey(cage.quads[h], cage.quads[nextInQuad(h)])) ?? 0) > 1
  const quads = cage.quads.slice()
  const seen = new Uint8Array(quads.length)
  const first = new Uint8Array(n)
  for (let h = 0; h < quads.length; h++) {
    if (seen[h]) continue
    const v = cage.quads[h]
    let to = v
    if (first[v]) to = own.push(v) - 1
    first[v] = 1
    const stack = [h]
    while (stack.length) {
      const g = stack.pop()!
      if (seen[g]) continue
      seen[g] = 1
      quads[g] = to
      const before = prevInQuad(g)
      if (twin[g] >= 0 && !sharp(g)) stack.push(nextInQuad(twin[g]))
      if (twin[before] >= 0 && !sharp(before)) stack.push(twin[before])
    }
  }
  return { quads, source: Uint32Array.from(own) }
}
