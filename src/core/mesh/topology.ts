/** Who is whose neighbour. Half-edge h = 3 t + c runs from corner c to corner c + 1 of triangle t. */
import { distance } from '@/core/math/vec'
import { edgeKey } from './edge-key'
import type { TriMesh } from './tri-mesh'
import { vertex, vertexCount } from './tri-mesh'

export const open = -1
export const shared = -2

export interface Topology {
  /** For each half-edge the one across, `open` (-1) at a rim, `shared` (-2) where three or more triangles meet. */
  readonly twin: Int32Array
  /** For each half-edge 1 where the neighbour across runs the same way round (a flipped neighbour). */
  readonly sameWay: Uint8Array
  readonly edges: number
  readonly openEdges: number
  readonly nonManifoldEdges: number
  readonly flippedEdges: number
  /** One half-edge of each edge with more than two triangles. */
  readonly nonManifold: number[]
}

export const nextIn = (h: number): number => (h % 3 === 2 ? h - 2 : h + 1)
export const prevIn = (h: number): number => (h % 3 === 0 ? h + 2 : h - 1)
export const triangleOf = (h: number): number => (h / 3) | 0

const taken = 0xffffffff

/** Length of the edge that a half-edge runs along, mm. */
export const edgeLength = (mesh: TriMesh, h: number): number =>
  distance(vertex(mesh, mesh.triangles[h]), vertex(mesh, mesh.triangles[nextIn(h)]))

/** Neighbours of every half-edge, by bucket sort on the lower vertex. Linear in the number of triangles. */
export function buildTopology(mesh: TriMesh): Topology {
  const tri = mesh.triangles
  const half = tri.length
  const start = new Uint32Array(vertexCount(mesh) + 1)
  for (let t = 0; t < half; t += 3) {
    const a = tri[t],
      b = tri[t + 1],
      c = tri[t + 2]
    start[(a < b ? a : b) + 1]++
    start[(b < c ? b : c) + 1]++
    start[(c < a ? c : a) + 1]++
  }
  for (let v = 1; v < start.length; v++) start[v] += start[v - 1]
  const fill = start.slice(0, -1)
  // The other end stands beside each half-edge, so that buckets are read in one go.
  const bucket = new Uint32Array(half),
    other = new Uint32Array(half)
  for (let h = 0; h < half; h++) {
    const a = tri[h],
      b = tri[h % 3 === 2 ? h - 2 : h + 1]
    const at = fill[a < b ? a : b]++
    bucket[at] = h
    other[at] = a < b ? b : a
  }
  const twin = new Int32Array(half).fill(open)
  const sameWay = new Uint8Array(half)
  const nonManifold: number[] = []
  let edges = 0,
    openEdges = 0,
    flippedEdges = 0
  for (let v = 0; v + 1 < start.length; v++) {
    for (let i = start[v], end = start[v + 1]; i < end; i++) {
      const far = other[i]
      if (far === taken) continue
      const h = bucket[i]
      let second = -1,
        many = false
      for (let j = i + 1; j < end; j++) {
        if (other[j] !== far) continue
        const g = bucket[j]
        other[j] = taken
        if (second < 0) {
          second = g
          continue
        }
        if (!many) {
          many = true
          nonManifold.push(h)
          twin[h] = twin[second] = shared
        }
        twin[g] = shared
      }
      edges++
      if (second < 0) openEdges++
      else if (!many) {
        twin[h] = second
        twin[second] = h
        if (tri[h] === tri[second]) {
          flippedEdges++
          sameWay[h] = sameWay[second] = 1
        }
      }
    }
  }
  return { twin, sameWay, edges, openEdges, nonManifoldEdges: nonManifold.length, flippedEdges, nonManifold }
}

/** Pieces joined across edges (shared edges of more than two triangles join too): the piece number of each triangle. */
export function findPieces(mesh: TriMesh, topology: Topology): { piece: Uint32Array; count: number } {
  const n = mesh.triangles.length / 3
  const piece = new Uint32Array(n).fill(0xffffffff)
  const aside = new Map<number, number[]>()
  const keyOf = (h: number) => edgeKey(mesh.triangles[h], mesh.triangles[nextIn(h)])
  if (topology.nonManifoldEdges) {
    for (let h = 0; h < 3 * n; h++) {
      if (topology.twin[h] !== shared) continue
      const k = keyOf(h)
      const list = aside.get(k)
      if (list) list.push(h)
      else aside.set(k, [h])
    }
  }
  const stack: number[] = []
  let count = 0
  for (let s = 0; s < n; s++) {
    if (piece[s] !== 0xffffffff) continue
    piece[s] = count
    stack.push(s)
    while (stack.length) {
      const t = stack.pop()!
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const w = topology.twin[h]
        if (w >= 0) {
          const u = triangleOf(w)
          if (piece[u] === 0xffffffff) {
            piece[u] = count
            stack.push(u)
          }
        } else if (w === shared) {
          for (const g of aside.get(keyOf(h)) ?? []) {
            const u = triangleOf(g)
            if (piece[u] === 0xffffffff) {
              piece[u] = count
              stack.push(u)
            }
          }
        }
      }
    }
    count++
  }
  return { piece, count }
}

export interface Rim {
  /** Open half-edges in order along the rim. */
  readonly halfEdges: number[]
  /** Vertices in order, one per half-edge; vertex i starts half-edge i. */
  readonly vertices: number[]
  readonly closed: boolean
}

/** Rims of all holes: open half-edges chained by turning about each end vertex, so loops that touch at a vertex stay apart. */
export function findRims(mesh: TriMesh, topology: Topology): Rim[] {
  const { twin } = topology
  const tri = mesh.triangles
  const seen = new Uint8Array(tri.length)
  const rims: Rim[] = []
  for (let s = 0; s < tri.length; s++) {
    if (twin[s] !== open || seen[s]) continue
    const halfEdges: number[] = []
    const vertices: number[] = []
    let h = s,
      v = tri[s]
    let closed = false
    for (;;) {
      seen[h] = 1
      halfEdges.push(h)
      vertices.push(v)
      const end = tri[h] === v ? tri[nextIn(h)] : tri[h]
      // Turn about `end`: step over neighbours until the next open edge.
      let g = h
      for (let guard = 0; guard < tri.length; guard++) {
        const a = nextIn(g),
          b = prevIn(g)
        const e = tri[a] === end || tri[nextIn(a)] === end ? a : b
        if (twin[e] < 0) {
          g = e
          break
        }
        g = twin[e]
      }
      v = end
      if (g === s || twin[g] !== open) {
        closed = g === s
        break
      }
      if (seen[g]) break
      h = g
    }
    rims.push({ halfEdges, vertices, closed })
  }
  return rims
}

/** Triangles around each vertex as one flat list: those of v are list[start[v]] .. list[start[v + 1] - 1]. */
export interface VertexTriangles {
  readonly start: Uint32Array
  readonly list: Uint32Array
}
export function vertexTriangles(mesh: TriMesh): VertexTriangles {
  const tri = mesh.triangles
  const start = new Uint32Array(vertexCount(mesh) + 1)
  for (let i = 0; i < tri.length; i++) start[tri[i] + 1]++
  for (let v = 1; v < start.length; v++) start[v] += start[v - 1]
  const fill = start.slice(0, -1)
  const list = new Uint32Array(tri.length)
  for (let i = 0; i < tri.length; i++) list[fill[tri[i]]++] = (i / 3) | 0
  return { start, list }
}

/** The fans of corners at each vertex: a corner's fan is the set reached across two-triangle edges at that vertex. Sound vertices have one. */
export function cornerFans(
  mesh: TriMesh,
  topology: Topology,
): { fan: Uint32Array; fansAt: Uint8Array; manyFans: number[] } {
  const tri = mesh.triangles
  const fan = new Uint32Array(tri.length)
  for (let i = 0; i < fan.length; i++) fan[i] = i
  const find = (i: number) => {
    while (fan[i] !== i) {
      fan[i] = fan[fan[i]]
      i = fan[i]
    }
    return i
  }
  const cornerAt = (t: number, v: number) => (tri[3 * t] === v ? 3 * t : tri[3 * t + 1] === v ? 3 * t + 1 : 3 * t + 2)
  for (let h = 0; h < tri.length; h++) {
    const w = topology.twin[h]
    if (w <= h) continue
    const t = triangleOf(h),
      u = triangleOf(w)
    for (const v of [tri[h], tri[nextIn(h)]]) {
      const a = find(cornerAt(t, v)),
        b = find(cornerAt(u, v))
      if (a !== b) fan[a < b ? b : a] = a < b ? a : b
    }
  }
  const fansAt = new Uint8Array(vertexCount(mesh))
  const manyFans: number[] = []
  for (let i = 0; i < tri.length; i++) {
    fan[i] = find(i)
    if (fan[i] === i && fansAt[tri[i]] < 255 && ++fansAt[tri[i]] === 2) manyFans.push(tri[i])
  }
  return { fan, fansAt, manyFans }
}
