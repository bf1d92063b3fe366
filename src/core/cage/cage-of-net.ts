/** A cage from a net: its points become control points, and edges that bend stay sharp. */
import { edgeKey, endsOfKey } from '@/core/mesh/edge-key'
import { nextInQuad, prevInQuad, quadTopology, type QuadMesh, quadCross } from '@/core/mesh/quad-mesh'
import type { Cage } from '@/core/subdivision/subdivide'

/** Unit normal of a quad by its diagonals. */
function normalOf(net: QuadMesh, q: number): [number, number, number] {
  const n = quadCross(net, q)
  const l = Math.hypot(...n) || 1e-300
  return [n[0] / l, n[1] / l, n[2] / l]
}

/** Creases that end within the skin are bends that come and go: they are none, back to where others meet them. */
function dropLooseEnds(creases: Map<number, number>, rim: Uint8Array): void {
  const at = new Map<number, Set<number>>()
  for (const key of creases.keys())
    for (const v of endsOfKey(key)) {
      const known = at.get(v)
      if (known) known.add(key)
      else at.set(v, new Set([key]))
    }
  const loose = [...at.keys()].filter((v) => at.get(v)!.size === 1 && !rim[v])
  for (let v = loose.pop(); v !== undefined; v = loose.pop()) {
    const [key] = at.get(v)!
    if (key === undefined) continue
    creases.delete(key)
    for (const u of endsOfKey(key)) {
      at.get(u)!.delete(key)
      if (at.get(u)!.size === 1 && !rim[u]) loose.push(u)
    }
  }
}

/**
 * @param creaseAngle edges that bend by more stay sharp, degrees; null: none do
 * @throws RangeError where more than two quads meet at an edge: see `quadTopology`
 */
export function cageOfNet(net: QuadMesh, creaseAngle: number | null): Cage {
  const { twin } = quadTopology(net)
  if (twin.some((t) => t === -2)) throw new RangeError('the net is not manifold')
  const creases = new Map<number, number>()
  if (creaseAngle !== null) {
    const limit = Math.cos((creaseAngle * Math.PI) / 180)
    const normals = Array.from({ length: net.quads.length / 4 }, (_, q) => normalOf(net, q))
    for (let h = 0; h < twin.length; h++) {
      if (twin[h] < h) continue
      const [a, b] = [normals[h >> 2], normals[twin[h] >> 2]]
      if (a[0] * b[0] + a[1] * b[1] + a[2] * b[2] < limit)
        creases.set(edgeKey(net.quads[h], net.quads[nextInQuad(h)]), Infinity)
    }
  }
  dropLooseEnds(creases, quadTopology(net).rim)
  return { positions: Float64Array.from(net.positions), quads: net.quads, creases, corners: new Map<number, number>() }
}

/**
 * Triangles put together in pairs to quads, where every two that follow each other share an edge and lie nearly in one plane, as files of
 * quads are often written; null where they do not.
 */
export function netOfPairs(positions: Float32Array, triangles: Uint32Array): QuadMesh | null {
  if (triangles.length % 6) return null
  const quads: number[] = []
  for (let t = 0; t < triangles.length; t += 6) {
    const [a, b] = [triangles.subarray(t, t + 3), triangles.subarray(t + 3, t + 6)]
    let found = false
    for (let c = 0; c < 3 && !found; c++)
      for (let d = 0; d < 3 && !found; d++) {
        if (a[c] !== b[(d + 1) % 3] || a[(c + 1) % 3] !== b[d]) continue
        quads.push(a[(c + 1) % 3], a[(c + 2) % 3], a[c], b[(d + 2) % 3])
        found = true
      }
    if (!found) return null
  }
  const net = { positions, quads: Uint32Array.from(quads) }
  for (let h = 0; h < quads.length; h++) if (quads[prevInQuad(h)] === quads[nextInQuad(h)]) return null
  return net
}
