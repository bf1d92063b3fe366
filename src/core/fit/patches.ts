/** The patches that a picked region hangs together in. */
import { flood } from '@/core/mesh/flood'
import { buildTopology, type Topology } from '@/core/mesh/topology'
import type { TriMesh } from '@/core/mesh/tri-mesh'

/** Triangles of each patch (joined over edges), the largest by number first; equal ones in the mesh's order. */
export function patchesOf(
  mesh: TriMesh,
  flags: ArrayLike<number>,
  topology: Topology = buildTopology(mesh),
): number[][] {
  const seen = new Uint8Array(flags.length)
  const out: number[][] = []
  for (let s = 0; s < flags.length; s++) {
    if (!flags[s] || seen[s]) continue
    out.push(flood(topology.twin, s, seen, (u) => !!flags[u]))
  }
  return out.sort((a, b) => b.length - a.length)
}
