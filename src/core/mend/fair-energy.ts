/**
 * Energies of a patch of a mesh whose least values are fair surfaces: of stretch, of bending, of the change of bending (Kobbelt et al. 1998;
 * Botsch & Kobbelt 2004), over the free vertices and as many rings of fixed ones as the order of the energy reaches.
 */
import { vertexTriangles } from '@/core/mesh/topology'
import type { TriMesh } from '@/core/mesh/tri-mesh'

export interface FairEnergy {
  /** Vertices it speaks of, the free ones first. */
  readonly vertices: readonly number[]
  readonly freeCount: number
  /** Its gradient with respect to the free vertices, into `out`, for places of all its vertices. */
  gradient(places: Float64Array, out: Float64Array): void
}

/** Umbrella operators of some vertices: of each its neighbours with weights whose sum is 1. */
interface Umbrellas {
  /** Rows of the operator. */
  readonly rows: number
  /** The neighbours of row i stand from start[i] to start[i + 1]. */
  readonly start: Uint32Array
  readonly neighbour: Uint32Array
  readonly weight: Float64Array
}

/** `free`: vertex numbers. */
export function fairEnergy(mesh: TriMesh, free: readonly number[], order: 1 | 2 | 3): FairEnergy {
  const around = vertexTriangles(mesh)
  const { vertices, ringEnd, numberOf } = surroundings(mesh, around, free, order)
  const freeCount = ringEnd[0]
  const umbrellas = umbrellasOf(mesh, around, vertices, numberOf, ringEnd[order - 1])
  if (order === 1) return { vertices, freeCount, gradient: (places, out) => springs(umbrellas, freeCount, places, out) }
  const pairs = order === 3 ? comparedPairs(umbrellas, ringEnd[1]) : null
  const bending = new Float64Array(3 * umbrellas.rows),
    change = pairs ? new Float64Array(3 * umbrellas.rows) : bending
  return {
    vertices,
    freeCount,
    gradient(places, out) {
      apply(umbrellas, places, bending)
      if (pairs) differences(pairs, bending, change)
      applyTransposed(umbrellas, freeCount, change, out)
    },
  }
}

/** The free vertices and rings of fixed ones about them, numbered; `ringEnd`: how many lie within each ring, the free ones first. */
function surroundings(
  mesh: TriMesh,
  around: ReturnType<typeof vertexTriangles>,
  free: readonly number[],
  rings: number,
): { vertices: number[]; ringEnd: number[]; numberOf: Map<number, number> } {
  const numberOf = new Map<number, number>()
  const vertices: number[] = []
  const take = (v: number) => {
    if (numberOf.has(v)) return
    numberOf.set(v, vertices.length)
    vertices.push(v)
  }
  for (const v of free) take(v)
  const ringEnd = [vertices.length]
  for (let r = 0, from = 0; r < rings; r++) {
    const to = vertices.length
    for (let i = from; i < to; i++)
      for (let j = around.start[vertices[i]]; j < around.start[vertices[i] + 1]; j++)
        for (let c = 0; c < 3; c++) take(mesh.triangles[3 * around.list[j] + c])
    from = to
    ringEnd.push(vertices.length)
  }
  return { vertices, ringEnd, numberOf }
}

function umbrellasOf(
  { positions: p, triangles: k }: TriMesh,
  around: ReturnType<typeof vertexTriangles>,
  vertices: readonly number[],
  numberOf: ReadonlyMap<number, number>,
  rows: number,
): Umbrellas {
  const start = new Uint32Array(rows + 1)
  const lists: number[][] = []
  for (let i = 0; i < rows; i++) {
    const seen = new Set<number>()
    const v = vertices[i]
    for (let j = around.start[v]; j < around.start[v + 1]; j++)
      for (let c = 0; c < 3; c++) {
        const u = k[3 * around.list[j] + c]
        if (u !== v) seen.add(numberOf.get(u)!)
      }
    lists.push([...seen])
    start[i + 1] = start[i] + seen.size
  }
  const neighbour = new Uint32Array(start[rows]),
    weight = new Float64Array(start[rows])
  const at = (i: number, a: number) => p[3 * vertices[i] + a]
  for (let i = 0; i < rows; i++) {
    let sum = 0
    lists[i].forEach((u, j) => {
      neighbour[start[i] + j] = u
      sum += weight[start[i] + j] =
        1 / Math.max(1e-12, Math.hypot(at(i, 0) - at(u, 0), at(i, 1) - at(u, 1), at(i, 2) - at(u, 2)))
    })
    for (let j = start[i]; j < start[i + 1]; j++) weight[j] /= sum
  }
  return { rows, start, neighbour, weight }
}

/** Edges along which Laplacians are compared: those of which one end is free or next to it, before `reach`. */
function comparedPairs({ rows, start, neighbour }: Umbrellas, reach: number): number[] {
  const pairs: number[] = []
  for (let i = 0; i < reach; i++)
    for (let j = start[i]; j < start[i + 1]; j++)
      if (neighbour[j] < rows && (neighbour[j] > i || neighbour[j] >= reach)) pairs.push(i, neighbour[j])
  return pairs
}

/** The gradient of springs along the edges of the free vertices. */
function springs(
  { start, neighbour, weight }: Umbrellas,
  freeCount: number,
  places: Float64Array,
  out: Float64Array,
): void {
  out.fill(0)
  for (let i = 0; i < freeCount; i++)
    for (let j = start[i]; j < start[i + 1]; j++)
      for (let a = 0; a < 3; a++) {
        const u = neighbour[j]
        const d = weight[j] * (places[3 * i + a] - places[3 * u + a])
        out[3 * i + a] += d
        if (u < freeCount) out[3 * u + a] -= d
      }
}

/** Laplacians of places. */
function apply({ rows, start, neighbour, weight }: Umbrellas, places: Float64Array, out: Float64Array): void {
  for (let i = 0; i < rows; i++) {
    let a = -places[3 * i],
      b = -places[3 * i + 1],
      c = -places[3 * i + 2]
    for (let j = start[i]; j < start[i + 1]; j++) {
      const u = 3 * neighbour[j],
        w = weight[j]
      a += w * places[u]
      b += w * places[u + 1]
      c += w * places[u + 2]
    }
    out[3 * i] = a
    out[3 * i + 1] = b
    out[3 * i + 2] = c
  }
}

/** The transposed operator on values of the rows, for the free vertices. */
function applyTransposed(
  { rows, start, neighbour, weight }: Umbrellas,
  freeCount: number,
  values: Float64Array,
  out: Float64Array,
): void {
  out.fill(0)
  for (let i = 0; i < rows; i++) {
    const a = values[3 * i],
      b = values[3 * i + 1],
      c = values[3 * i + 2]
    if (i < freeCount) {
      out[3 * i] -= a
      out[3 * i + 1] -= b
      out[3 * i + 2] -= c
    }
    for (let j = start[i]; j < start[i + 1]; j++) {
      if (neighbour[j] >= freeCount) continue
      const u = 3 * neighbour[j],
        w = weight[j]
      out[u] += w * a
      out[u + 1] += w * b
      out[u + 2] += w * c
    }
  }
}

/** Sums of differences along pairs. */
function differences(pairs: readonly number[], values: Float64Array, out: Float64Array): void {
  out.fill(0)
  for (let q = 0; q < pairs.length; q += 2)
    for (let a = 0; a < 3; a++) {
      const d = values[3 * pairs[q] + a] - values[3 * pairs[q + 1] + a]
      out[3 * pairs[q] + a] += d
      out[3 * pairs[q + 1] + a] -= d
    }
}
