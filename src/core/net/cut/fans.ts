/** The half-edges that leave each vertex, in their order. */
import { nextIn, prevIn, type Topology } from '@/core/mesh/topology'
import { vertexCount, type TriMesh } from '@/core/mesh/tri-mesh'

export class Fans {
  /** 1 for vertices at the rim. */
  readonly rim: Uint8Array
  /** One half-edge that leaves each vertex, at the rim one that lies on it; -1: no triangle there. */
  private readonly leaving: Int32Array
  private readonly twin: Int32Array

  constructor(mesh: TriMesh, { twin }: Topology) {
    const { triangles: k } = mesh
    const vertices = vertexCount(mesh)
    this.twin = twin
    this.rim = new Uint8Array(vertices)
    this.leaving = new Int32Array(vertices).fill(-1)
    for (let h = 0; h < k.length; h++) {
      if (twin[h] < 0) this.rim[k[h]] = this.rim[k[nextIn(h)]] = 1
      if (this.leaving[k[h]] < 0 || twin[h] < 0) this.leaving[k[h]] = h
    }
  }

  /** Whether triangles lie all round a vertex. */
  isInner(v: number): boolean {
    return !this.rim[v] && this.leaving[v] >= 0
  }

  /** Half-edges that leave v, against the clock; at the rim from the one whose own side is the last before it. */
  spokes(v: number): number[] {
    const { twin } = this
    const out: number[] = []
    let h = this.leaving[v]
    // Back with the clock until the rim.
    if (this.rim[v]) while (twin[h] >= 0) h = nextIn(twin[h])
    const first = h
    do {
      out.push(h)
      h = twin[prevIn(h)]
    } while (h >= 0 && h !== first)
    return out
  }
}
