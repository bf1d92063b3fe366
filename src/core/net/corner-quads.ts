/** How many quads are to meet at the vertices of a skin: one for each right angle between the lines that run through there. */
import { cornerCosine } from '@/core/mesh/corner-angle'
import { edgeKey } from '@/core/mesh/edge-key'
import { buildTopology, nextIn, prevIn } from '@/core/mesh/topology'
import { triangleCount, vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'

const right = Math.PI / 2
/** A line that runs on through a vertex, with a bend of less than so many right angles, has two quads on either side. */
const runsOn = 0.7

/**
 * @param lines edges of creases and rims, by their vertices
 * @returns for each vertex: four where no line runs, else one for each right angle of each sector between lines, one at least
 */
export function cornerQuads(mesh: TriMesh, lines: ReadonlySet<number>): Uint8Array {
  const { twin } = buildTopology(mesh)
  const { positions, triangles: k } = mesh
  const out = new Uint8Array(vertexCount(mesh)).fill(4)
  const ends = new Uint8Array(out.length)
  const onLine = (h: number) => lines.has(edgeKey(k[h], k[nextIn(h)]))
  for (let h = 0; h < 3 * triangleCount(mesh); h++)
    if (onLine(h)) {
      ends[k[h]]++
      // The other end of a rim's edge has no half-edge of its own that leaves it there.
      if (twin[h] < 0) ends[k[nextIn(h)]]++
    }
  const begun = new Uint8Array(out.length)
  for (let h = 0; h < 3 * triangleCount(mesh); h++) {
    if (!onLine(h)) continue
    // The sector to the left of the line that leaves here, up to the next line against the clock.
    const v = k[h]
    let angle = 0
    let at = h
    for (let steps = 0; steps < 100; steps++) {
      angle += Math.acos(cornerCosine(positions, v, k[nextIn(at)], k[prevIn(at)]))
      const over = prevIn(at)
      if (lines.has(edgeKey(k[over], v)) || twin[over] < 0) break
      at = twin[over]
    }
    const quarters = angle / right
    const quads = ends[v] === 2 && Math.abs(quarters - 2) < runsOn ? 2 : Math.max(1, Math.round(quarters))
    out[v] = (begun[v] ? out[v] : 0) + quads
    begun[v] = 1
  }
  return out
}
