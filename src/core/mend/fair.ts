/** Fairs chosen vertices of a mesh: the smoothest surface that meets what stays fixed. */
import { conjugateGradient } from '@/core/math/conjugate-gradient'
import { vertexTriangles } from '@/core/mesh/topology'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { checkStop, quiet, type Work } from '@/core/base/work'

/**
 * Least energy over the free vertices (Kobbelt et al. 1998; Botsch & Kobbelt 2004): order 1 least stretch (meets the rim), 2 least
 * bending (tangent to its surroundings), 3 least change of bending (continues their curvature). Laplacians carry weights by inverse
 * edge length; rows reach as many rings into the fixed mesh as the order says.
 * @param free vertex numbers
 */
export function fairVertices(
  mesh: TriMesh,
  free: readonly number[],
  order: 1 | 2 | 3,
  work: Work = quiet,
  iterations = order === 3 ? 1500 : 500,
): TriMesh {
  if (!free.length) return mesh
  const { positions: p, triangles: k } = mesh
  const around = vertexTriangles(mesh)
  // Local numbers: the free ones first, then rings of fixed ones.
  const local = new Map<number, number>()
  const ids: number[] = []
  const take = (v: number) => {
    if (local.has(v)) return
    local.set(v, ids.length)
    ids.push(v)
  }
  for (const v of free) take(v)
  const nFree = ids.length
  const ringEnd = [nFree]
  for (let r = 0, from = 0; r < order; r++) {
    const to = ids.length
    for (let i = from; i < to; i++)
      for (let j = around.start[ids[i]]; j < around.start[ids[i] + 1]; j++)
        for (let c = 0; c < 3; c++) take(k[3 * around.list[j] + c])
    from = to
    ringEnd.push(ids.length)
  }
  // Laplacian rows for all but the last ring.
  const rows = ringEnd[order - 1]
  const start = new Uint32Array(rows + 1)
  const lists: number[][] = []
  for (let i = 0; i < rows; i++) {
    const seen = new Set<number>()
    const v = ids[i]
    for (let j = around.start[v]; j < around.start[v + 1]; j++)
      for (let c = 0; c < 3; c++) {
        const u = k[3 * around.list[j] + c]
        if (u !== v) seen.add(local.get(u)!)
      }
    lists.push([...seen])
    start[i + 1] = start[i] + seen.size
  }
  const list = new Uint32Array(start[rows]),
    weight = new Float64Array(start[rows])
  const at = (i: number, a: number) => p[3 * ids[i] + a]
  for (let i = 0; i < rows; i++) {
    let sum = 0
    lists[i].forEach((u, j) => {
      list[start[i] + j] = u
      sum += weight[start[i] + j] =
        1 / Math.max(1e-12, Math.hypot(at(i, 0) - at(u, 0), at(i, 1) - at(u, 1), at(i, 2) - at(u, 2)))
    })
    for (let j = start[i]; j < start[i + 1]; j++) weight[j] /= sum
  }
  // Order 3 compares Laplacians along edges of which one end is free or next to it.
  const pairs: number[] = []
  if (order === 3)
    for (let i = 0; i < ringEnd[1]; i++)
      for (let j = start[i]; j < start[i + 1]; j++)
        if (list[j] < rows && (list[j] > i || list[j] >= ringEnd[1])) pairs.push(i, list[j])
  const total = ids.length
  const operators = order === 1 ? null : order
  const y = new Float64Array(3 * rows),
    g = new Float64Array(3 * rows)
  const laplace = (x: Float64Array) => {
    for (let i = 0; i < rows; i++) {
      let a = -x[3 * i],
        b = -x[3 * i + 1],
        c = -x[3 * i + 2]
      for (let j = start[i]; j < start[i + 1]; j++) {
        const u = 3 * list[j],
          w = weight[j]
        a += w * x[u]
        b += w * x[u + 1]
        c += w * x[u + 2]
      }
      y[3 * i] = a
      y[3 * i + 1] = b
      y[3 * i + 2] = c
    }
  }
  const whole = new Float64Array(3 * total)
  /** The energy's gradient with respect to the free vertices, for positions of all local vertices in `whole`. */
  const gradient = (out: Float64Array) => {
    out.fill(0)
    if (operators === null) {
      // Springs along edges.
      for (let i = 0; i < nFree; i++)
        for (let j = start[i]; j < start[i + 1]; j++)
          for (let a = 0; a < 3; a++) {
            const d = weight[j] * (whole[3 * i + a] - whole[3 * list[j] + a])
            out[3 * i + a] += d
            if (list[j] < nFree) out[3 * list[j] + a] -= d
          }
      return
    }
    laplace(whole)
    if (order === 3) {
      g.fill(0)
      for (let q = 0; q < pairs.length; q += 2)
        for (let a = 0; a < 3; a++) {
          const d = y[3 * pairs[q] + a] - y[3 * pairs[q + 1] + a]
          g[3 * pairs[q] + a] += d
          g[3 * pairs[q + 1] + a] -= d
        }
    } else g.set(y)
    for (let i = 0; i < rows; i++) {
      const a = g[3 * i],
        b = g[3 * i + 1],
        c = g[3 * i + 2]
      if (i < nFree) {
        out[3 * i] -= a
        out[3 * i + 1] -= b
        out[3 * i + 2] -= c
      }
      for (let j = start[i]; j < start[i + 1]; j++) {
        if (list[j] >= nFree) continue
        const u = 3 * list[j],
          w = weight[j]
        out[u] += w * a
        out[u + 1] += w * b
        out[u + 2] += w * c
      }
    }
  }
  const begin = new Float64Array(3 * nFree)
  for (let i = 0; i < total; i++)
    for (let a = 0; a < 3; a++) {
      if (i < nFree) begin[3 * i + a] = at(i, a)
      else whole[3 * i + a] = at(i, a)
    }
  // Right side: minus the gradient with free vertices at zero.
  const right = new Float64Array(3 * nFree)
  gradient(right)
  for (let i = 0; i < right.length; i++) right[i] = -right[i]
  whole.fill(0, 3 * nFree)
  const diagonal = new Float64Array(3 * nFree).fill(1)
  let calls = 0
  const x = conjugateGradient(
    3 * nFree,
    (v, out) => {
      if ((calls++ & 63) === 0) {
        checkStop(work)
        work.progress(Math.min(1, calls / iterations), 'fairing')
      }
      whole.set(v)
      gradient(out)
    },
    diagonal,
    right,
    begin,
    { tolerance: order === 3 ? 1e-9 : 1e-7, iterations },
  )
  const positions = p.slice()
  for (let i = 0; i < nFree; i++) for (let a = 0; a < 3; a++) positions[3 * ids[i] + a] = x[3 * i + a]
  return { positions, triangles: k }
}
