/** Eats the bad triangles round a hole, ring by ring, so that it can be closed against sound ones. */
import type { Vec3 } from '@/core/math/vec'
import { buildTopology, findRims, vertexTriangles } from '@/core/mesh/topology'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { StepError } from '@/core/base/step-error'
import { growTriangles, cutOut } from './cut-and-refill'
import { rimNearest } from './loop'

export interface Widened {
  readonly mesh: TriMesh
  readonly removed: number
  readonly holes: number
}

/** @param picked points near the rims to widen; all holes when empty */
export function widenHoles(mesh: TriMesh, rings: number, picked: readonly Vec3[]): Widened {
  const rims = findRims(mesh, buildTopology(mesh))
  if (!rims.length) throw new StepError('no-hole', 'There is no hole to widen.')
  const chosen = picked.length ? new Set(picked.map((p) => rimNearest(mesh, rims, p)?.rim)) : new Set(rims)
  const around = vertexTriangles(mesh)
  let flags: Uint8Array = new Uint8Array(triangleCount(mesh))
  for (const rim of rims)
    if (chosen.has(rim))
      for (const v of rim.vertices)
        for (let i = around.start[v]; i < around.start[v + 1]; i++) flags[around.list[i]] = 1
  flags = growTriangles(mesh, flags, rings - 1)
  const cut = cutOut(mesh, flags)
  if (!triangleCount(cut.mesh))
    throw new StepError('empty-result', 'That many rings would eat the whole body.', { tryThis: 'Choose fewer rings.' })
  return {
    mesh: cut.mesh,
    removed: triangleCount(mesh) - triangleCount(cut.mesh),
    holes: [...chosen].filter(Boolean).length,
  }
}
