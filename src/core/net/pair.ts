/** Triangles of a lattice paired to quads: across diagonals of its squares first, best quads first; what is left over by a matching (Edmonds 1965). */
import { enlargeMatching } from '@/core/math/matching'
import { cornerCosine } from '@/core/mesh/corner-angle'
import { edgeKey } from '@/core/mesh/edge-key'
import type { QuadMesh } from '@/core/mesh/quad-mesh'
import { buildTopology, nextIn, prevIn, triangleOf } from '@/core/mesh/topology'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { diagonal, type Lattice } from './extract'

/** How far the corners of four places are from right ones, as the sum of the cosines' sizes. */
function askew(p: ArrayLike<number>, loop: readonly number[]): number {
  return loop.reduce((sum, v, c) => sum + Math.abs(cornerCosine(p, v, loop[(c + 3) % 4], loop[(c + 1) % 4])), 0)
}

/** An open piece of an odd number of triangles gets one more: a triangle at its rim is halved. Gives the new mesh. */
function evened(mesh: TriMesh): TriMesh {
  const topology = buildTopology(mesh)
  const n = triangleCount(mesh)
  const piece = new Int32Array(n).fill(-1)
  const halved: number[] = []
  for (let first = 0; first < n; first++) {
    if (piece[first] >= 0) continue
    const list = [first]
    piece[first] = first
    let rim = -1
    for (const t of list)
      for (let h = 3 * t; h < 3 * t + 3; h++) {
        const w = topology.twin[h]
        if (w < 0) rim = rim < 0 || longer(mesh, h, rim) ? h : rim
        else if (piece[triangleOf(w)] < 0) {
          piece[triangleOf(w)] = first
          list.push(triangleOf(w))
        }
      }
    if (list.length % 2 && rim >= 0) halved.push(rim)
  }
  if (!halved.length) return mesh
  const positions = [...mesh.positions]
  const triangles = [...mesh.triangles]
  for (const h of halved) {
    const [a, b, c] = [triangles[h], triangles[nextIn(h)], triangles[prevIn(h)]]
    const m = positions.length / 3
    for (let k = 0; k < 3; k++) positions.push((positions[3 * a + k] + positions[3 * b + k]) / 2)
    triangles[nextIn(h)] = m
    triangles.push(m, b, c)
  }
  return { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) }
}

function longer({ positions: p, triangles: k }: TriMesh, h: number, than: number): boolean {
  const square = (g: number) => [0, 1, 2].reduce((s, a) => s + (p[3 * k[g] + a] - p[3 * k[nextIn(g)] + a]) ** 2, 0)
  return square(h) > square(than)
}

/** All quads of a lattice. Vertices keep their numbers; new ones come after. `left`: triangles that found no partner (none on closed skins). */
export function pairToQuads({ mesh: raw, lengths, creases }: Lattice): { net: QuadMesh; left: number } {
  const mesh = evened(raw)
  const n = triangleCount(mesh)
  const { twin } = buildTopology(mesh)
  const k = mesh.triangles
  const loopOver = (h: number): number[] => {
    const w = twin[h]
    return [k[h], k[prevIn(w)], k[nextIn(h)], k[prevIn(h)]]
  }
  const beside: number[][] = Array.from({ length: n }, () => [])
  const over: number[][] = Array.from({ length: n }, () => [])
  const ranked: { h: number; cost: number }[] = []
  for (let h = 0; h < 3 * n; h++) {
    if (twin[h] < h) continue
    const key = edgeKey(k[h], k[nextIn(h)])
    const loop = loopOver(h)
    if (loop[1] === loop[3]) continue
    if (creases.has(key)) continue
    const [t, u] = [triangleOf(h), triangleOf(twin[h])]
    beside[t].push(u)
    beside[u].push(t)
    over[t].push(h)
    over[u].push(twin[h])
    const l = lengths.get(key) ?? 0
    ranked.push({ h, cost: askew(mesh.positions, loop) + (l === diagonal ? 0 : l === 1 || l === 0 ? 3 : 1) })
  }
  ranked.sort((a, b) => a.cost - b.cost)
  const mate = new Int32Array(n).fill(-1)
  for (const { h } of ranked) {
    const [t, u] = [triangleOf(h), triangleOf(twin[h])]
    if (mate[t] >= 0 || mate[u] >= 0) continue
    mate[t] = u
    mate[u] = t
  }
  let alone = enlargeMatching(beside, mate)
  // What creases keep apart comes together last.
  if (alone.length) {
    for (let h = 0; h < 3 * n; h++) {
      if (twin[h] < h) continue
      const [t, u] = [triangleOf(h), triangleOf(twin[h])]
      const loop = loopOver(h)
      if (loop[1] === loop[3] || beside[t].includes(u)) continue
      beside[t].push(u)
      beside[u].push(t)
      over[t].push(h)
      over[u].push(twin[h])
    }
    alone = enlargeMatching(beside, mate)
  }
  const quads: number[] = []
  for (let t = 0; t < n; t++) {
    if (mate[t] < t) continue
    quads.push(...loopOver(over[t][beside[t].indexOf(mate[t])]))
  }
  return { net: { positions: mesh.positions, quads: Uint32Array.from(quads) }, left: alone.length }
}
