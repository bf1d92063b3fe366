/** A hole, pocket or boss taken out of a mesh: the surfaces that were picked go, and the rims they leave are closed flat. */
import { StepError } from '@/core/base/step-error'
import type { Work } from '@/core/base/work'
import type { Vec3 } from '@/core/math/vec'
import { cutAndRefill } from '@/core/mend/cut-and-refill'
import { growPick, pickField } from '@/core/find/region'
import { growSurface } from '@/core/find/smooth-surface'
import { buildTopology, findPieces } from '@/core/mesh/topology'
import { meshVolume } from '@/core/mesh/measures'
import { triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'

export interface RegionDeleted {
  readonly mesh: TriMesh
  /** Triangles that went, rims that were closed. */
  readonly removed: number
  readonly closed: number
  readonly volumeChange: number
}

/** Facets of one round wall bend less than this from one to the next, degrees. */
const sameWall = 30
/** What runs on over more of the skin than this is no face: then one surface is followed as far as it is that. */
const mostOfSkin = 0.5

/** The triangles of the faces that places lie on, to the next sharp edges; and whether any of them is round or free rather than flat. */
export function facesAt(mesh: TriMesh, places: readonly Vec3[]): { flags: Uint8Array; curved: boolean } {
  const field = pickField(mesh)
  const n = field.normals
  const flags = new Uint8Array(triangleCount(mesh))
  let curved = false
  for (const p of places) {
    const near = field.search.nearest(p)
    if (!near || flags[near.triangle]) continue
    let face = growPick(field, near.triangle, sameWall)
    if (face.reduce((sum, f) => sum + f, 0) > mostOfSkin * face.length) face = growSurface(field, near.triangle)
    const seed = 3 * near.triangle
    face.forEach((f, t) => {
      if (!f) return
      flags[t] = 1
      curved ||= n[seed] * n[3 * t] + n[seed + 1] * n[3 * t + 1] + n[seed + 2] * n[3 * t + 2] < 0.999
    })
  }
  return { flags, curved }
}

/** Throws StepError `not-enclosed` where what is left does not close over the picked surfaces. */
export function deleteRegion(name: string, mesh: TriMesh, flags: Uint8Array, work: Work): RegionDeleted {
  const open = (why: string) =>
    new StepError('not-enclosed', `What was picked cannot be healed over: ${why}.`, {
      where: { body: name },
      tryThis: 'Pick all faces of a hole, a pocket or a boss, and no others.',
    })
  const done = cutAndRefill(mesh, flags, { how: 'flat' }, work)
  if (!done) throw open('nothing else would be left')
  const after = buildTopology(done.mesh)
  if (findPieces(done.mesh, after).count > findPieces(mesh, buildTopology(mesh)).count)
    throw open('a part of it would be left floating')
  if (done.left || after.openEdges || after.nonManifoldEdges) throw open('the rims it leaves do not close')
  return {
    mesh: done.mesh,
    removed: done.removed,
    closed: done.closed,
    volumeChange: meshVolume(done.mesh) - meshVolume(mesh),
  }
}
