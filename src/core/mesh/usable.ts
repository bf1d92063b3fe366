/** Triangles that nothing can be made of: corners that are no numbers, or two corners in one place. */
import type { TriMesh } from './tri-mesh'

export interface Usable {
  readonly mesh: TriMesh
  /** The numbers that the triangles left had before; null when all are left. */
  readonly kept: Uint32Array | null
  /** Triangles left out because a coordinate is no number. */
  readonly notNumbers: number
  /** Triangles left out because two corners lie in one place: they have no area, and their neighbours meet without them. */
  readonly flat: number
}

/** The mesh without those triangles, and without the corners that no triangle has then. */
export function usableTriangles(mesh: TriMesh): Usable {
  const { positions: p, triangles: k } = mesh
  const count = k.length / 3
  const kept: number[] = []
  let [notNumbers, flat] = [0, 0]
  const number = (v: number) =>
    Number.isFinite(p[3 * v]) && Number.isFinite(p[3 * v + 1]) && Number.isFinite(p[3 * v + 2])
  const one = (a: number, b: number) =>
    a === b || (p[3 * a] === p[3 * b] && p[3 * a + 1] === p[3 * b + 1] && p[3 * a + 2] === p[3 * b + 2])
  for (let t = 0; t < count; t++) {
    const [a, b, c] = [k[3 * t], k[3 * t + 1], k[3 * t + 2]]
    if (!number(a) || !number(b) || !number(c)) notNumbers++
    else if (one(a, b) || one(b, c) || one(c, a)) flat++
    else kept.push(t)
  }
  if (kept.length === count) return { mesh, kept: null, notNumbers, flat }
  const triangles = Uint32Array.from(kept.flatMap((t) => [k[3 * t], k[3 * t + 1], k[3 * t + 2]]))
  const used = new Uint8Array(p.length / 3)
  for (const v of triangles) used[v] = 1
  const next = new Uint32Array(used.length)
  const positions: number[] = []
  used.forEach((u, v) => {
    if (!u) return
    next[v] = positions.length / 3
    positions.push(p[3 * v], p[3 * v + 1], p[3 * v + 2])
  })
  return {
    mesh: { positions: Float32Array.from(positions), triangles: triangles.map((v) => next[v]) },
    kept: Uint32Array.from(kept),
    notNumbers,
    flat,
  }
}
