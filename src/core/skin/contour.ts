/**
 * The zero surface of a field as a closed mesh: dual contouring (Ju, Losasso, Schaefer & Warren 2002) with one vertex for each sheet of
 * the surface in a cell, as in dual marching cubes (Nielson 2004), so that sheets that pass close by each other stay apart.
 */
import { DisjointSets } from '@/core/math/disjoint-sets'
import { symmetricEigen } from '@/core/math/eigen'
import { splitNonManifold } from '@/core/mend/split-non-manifold'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { checkStop, type Work } from '@/core/base/work'
import { BlockGrid, type Field } from './field'

/** Edges of a cell as pairs of corners; corner bits are x 1, y 2, z 4. */
const edgeEnds: [number, number][] = []
for (const bit of [1, 2, 4]) for (let c = 0; c < 8; c++) if (!(c & bit)) edgeEnds.push([c, c | bit])
const edgeOf = (a: number, b: number) => edgeEnds.findIndex(([x, y]) => (x === a && y === b) || (x === b && y === a))

/** For each of the 256 cases: which sheet each crossed edge belongs to (-1: not crossed), and how many sheets there are. */
const sheets = Array.from({ length: 256 }, (_, mask) => {
  const crossed = edgeEnds.map(([a, b]) => ((mask >> a) & 1) !== ((mask >> b) & 1))
  const joined = new DisjointSets(edgeEnds.length)
  for (const bit of [1, 2, 4])
    for (const at of [0, bit]) {
      const [u, v] = [1, 2, 4].filter((b) => b !== bit)
      const ring = [at, at | u, at | u | v, at | v]
      const edges = ring.map((c, i) => edgeOf(c, ring[(i + 1) % 4]))
      const cut = edges.filter((e) => crossed[e])
      if (cut.length === 2) joined.unite(cut[0], cut[1])
      // Both diagonals differ: the inside corners are kept apart, from whichever cell one looks.
      else if (cut.length === 4)
        ring.forEach((c, i) => {
          if ((mask >> c) & 1) joined.unite(edges[i], edges[(i + 3) % 4])
        })
    }
  const names: number[] = []
  const of = edgeEnds.map((__, e) => {
    if (!crossed[e]) return -1
    const root = joined.find(e)
    const have = names.indexOf(root)
    return have >= 0 ? have : names.push(root) - 1
  })
  return { of: Int8Array.from(of), count: names.length }
})

export interface Contour {
  readonly mesh: TriMesh
  /** Where each vertex would stand without sharp features: inside its cell, in the middle of the crossings. */
  readonly plain: Float32Array
}

/** Vertices of the cells that the surface runs through, made as they are asked for. */
class Cells {
  readonly positions: number[] = []
  readonly plain: number[] = []
  private readonly cells = new Map<number, number>()
  private readonly corner = new Float64Array(8)
  private readonly slope = new Float64Array(3)
  constructor(
    private readonly field: Field,
    private readonly grid: BlockGrid,
    private readonly sharp: boolean,
  ) {}

  /** First vertex of a cell and, through its case, the sheet of an edge. */
  private cell(i: number, j: number, k: number): { first: number; mask: number } {
    const { corner, grid, cells } = this
    const id = i + 8192 + 32768 * (j + 8192 + 32768 * (k + 8192))
    const have = cells.get(id)
    if (have !== undefined) return { first: Math.floor(have / 256), mask: have % 256 }
    let mask = 0
    for (let c = 0; c < 8; c++) {
      corner[c] = grid.at(i + (c & 1), j + ((c >> 1) & 1), k + (c >> 2))
      if (corner[c] < 0) mask |= 1 << c
    }
    const first = this.positions.length / 3
    for (let s = 0; s < sheets[mask].count; s++) this.addVertex(i, j, k, sheets[mask].of, s)
    cells.set(id, first * 256 + mask)
    return { first, mask }
  }

  /** The vertex of one sheet in a cell whose corners were just read. */
  private addVertex(i: number, j: number, k: number, of: Int8Array, s: number): void {
    const { corner, field, slope, sharp } = this
    const h = this.grid.step
    const [ox, oy, oz] = this.grid.origin
    let n = 0,
      mx = 0,
      my = 0,
      mz = 0
    const pts: number[] = [],
      nrm: number[] = []
    for (let e = 0; e < 12; e++) {
      if (of[e] !== s) continue
      const [a, b] = edgeEnds[e]
      const t = corner[a] / (corner[a] - corner[b])
      const x = i + (a & 1) + t * ((b & 1) - (a & 1)),
        y = j + ((a >> 1) & 1) + t * (((b >> 1) & 1) - ((a >> 1) & 1)),
        z = k + (a >> 2) + t * ((b >> 2) - (a >> 2))
      mx += x
      my += y
      mz += z
      n++
      if (sharp) {
        pts.push(x, y, z)
        field.slope(ox + x * h, oy + y * h, oz + z * h, slope)
        const l = Math.sqrt(slope[0] ** 2 + slope[1] ** 2 + slope[2] ** 2) || 1
        // Slopes rise from the inside corner to the outside one.
        const way =
          (slope[0] * ((b & 1) - (a & 1)) +
            slope[1] * (((b >> 1) & 1) - ((a >> 1) & 1)) +
            slope[2] * ((b >> 2) - (a >> 2))) *
            (corner[b] - corner[a]) <
          0
            ? -1
            : 1
        nrm.push((way * slope[0]) / l, (way * slope[1]) / l, (way * slope[2]) / l)
      }
    }
    mx /= n
    my /= n
    mz /= n
    this.plain.push(ox + mx * h, oy + my * h, oz + mz * h)
    if (sharp) {
      const d = feature(pts, nrm, mx, my, mz)
      mx = Math.min(i + 0.98, Math.max(i + 0.02, mx + d[0]))
      my = Math.min(j + 0.98, Math.max(j + 0.02, my + d[1]))
      mz = Math.min(k + 0.98, Math.max(k + 0.02, mz + d[2]))
    }
    this.positions.push(ox + mx * h, oy + my * h, oz + mz * h)
  }

  /** The vertex of the sheet that cuts the edge between two corners of a cell. */
  vertexAt(i: number, j: number, k: number, a: number, b: number): number {
    const { first, mask } = this.cell(i, j, k)
    return first + sheets[mask].of[edgeOf(a, b)]
  }
}

/** Four vertices for each grid edge that the surface cuts, facing outward. */
function quadsOf(grid: BlockGrid, cells: Cells, work: Work): number[] {
  const h = grid.step
  const quads: number[] = []
  // Blocks come to be while the surface is followed, so the list grows as it is walked.
  for (let n = 0; n < grid.list.length; n++) {
    if ((n & 31) === 0) {
      checkStop(work)
      work.progress(n / grid.list.length, 'contouring')
    }
    const [bx, by, bz] = grid.list[n]
    for (let k = 0; k < BlockGrid.side; k++)
      for (let j = 0; j < BlockGrid.side; j++)
        for (let i = 0; i < BlockGrid.side; i++) {
          const v = grid.inside(n, i, j, k)
          const x = bx * BlockGrid.side + i,
            y = by * BlockGrid.side + j,
            z = bz * BlockGrid.side + k
          if (Math.abs(v) > 2 * h) continue
          for (let axis = 0; axis < 3; axis++) {
            const w = grid.at(x + (axis === 0 ? 1 : 0), y + (axis === 1 ? 1 : 0), z + (axis === 2 ? 1 : 0))
            if (v < 0 === w < 0) continue
            const bit = 1 << axis,
              u = 1 << ((axis + 1) % 3),
              t = 1 << ((axis + 2) % 3)
            // The four cells round this grid edge, counter-clockwise about its axis; in each the edge has other corners.
            const ring = [0, u, u | t, t].map((back) => {
              const a = back
              return cells.vertexAt(x - (back & 1), y - ((back >> 1) & 1), z - (back >> 2), a, a | bit)
            })
            if (v < 0) quads.push(ring[0], ring[1], ring[2], ring[3])
            else quads.push(ring[0], ring[3], ring[2], ring[1])
          }
        }
  }
  return quads
}

/** Each quad cut along its shorter diagonal. */
function trianglesOf(quads: readonly number[], positions: readonly number[]): number[] {
  const triangles: number[] = []
  const square = (a: number, b: number) =>
    (positions[3 * a] - positions[3 * b]) ** 2 +
    (positions[3 * a + 1] - positions[3 * b + 1]) ** 2 +
    (positions[3 * a + 2] - positions[3 * b + 2]) ** 2
  for (let q = 0; q < quads.length; q += 4) {
    const [a, b, c, d] = [quads[q], quads[q + 1], quads[q + 2], quads[q + 3]]
    if (square(a, c) <= square(b, d)) triangles.push(a, b, c, a, c, d)
    else triangles.push(a, b, d, b, c, d)
  }
  return triangles
}

/**
 * @param sharp put vertices on sharp edges and corners of the field by its slopes (else in the middle of their crossings)
 */
export function contour(field: Field, grid: BlockGrid, { sharp = true } = {}, work: Work): Contour {
  const cells = new Cells(field, grid, sharp)
  const quads = quadsOf(grid, cells, work)
  const { positions, plain } = cells
  const triangles = trianglesOf(quads, positions)
  const raw = { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) }
  const split = splitNonManifold(raw)
  if (split.mesh.positions.length === raw.positions.length) return { mesh: split.mesh, plain: Float32Array.from(plain) }
  // Copies stand where their first stands.
  const full = new Float32Array(split.mesh.positions.length)
  full.set(plain)
  for (let i = 0; i < split.mesh.triangles.length; i++) {
    const v = split.mesh.triangles[i],
      o = raw.triangles[i]
    if (v !== o) for (let a = 0; a < 3; a++) full[3 * v + a] = plain[3 * o + a]
  }
  return { mesh: split.mesh, plain: full }
}

/** Step from the middle of the crossings to where their tangent planes meet, small eigenvalues left out (Lindstrom 2000). */
function feature(
  p: readonly number[],
  n: readonly number[],
  mx: number,
  my: number,
  mz: number,
): [number, number, number] {
  let xx = 0,
    xy = 0,
    xz = 0,
    yy = 0,
    yz = 0,
    zz = 0,
    bx = 0,
    by = 0,
    bz = 0
  for (let i = 0; i < p.length; i += 3) {
    const [a, b, c] = [n[i], n[i + 1], n[i + 2]]
    const d = a * (p[i] - mx) + b * (p[i + 1] - my) + c * (p[i + 2] - mz)
    xx += a * a
    xy += a * b
    xz += a * c
    yy += b * b
    yz += b * c
    zz += c * c
    bx += a * d
    by += b * d
    bz += c * d
  }
  const { values, vectors } = symmetricEigen([xx, xy, xz, yy, yz, zz])
  const out: [number, number, number] = [0, 0, 0]
  for (let e = 0; e < 3; e++) {
    if (values[e] < 0.08 * values[2]) continue
    const v = vectors[e]
    const s = (v[0] * bx + v[1] * by + v[2] * bz) / values[e]
    for (let a = 0; a < 3; a++) out[a] += s * v[a]
  }
  return out
}
