/** Doubled skins: open pieces that lie on another piece and face as it does, as overlapping scans leave them. */
import { length } from '@/core/math/vec'
import { boxOf, flagInBox } from '@/core/mesh/in-box'
import { NearestInGrid } from '@/core/mesh/nearest'
import { diagonal, keepTriangles, meshBounds, triangleCount, type TriMesh } from '@/core/mesh/tri-mesh'
import { crossOf } from '@/core/mesh/triangle'
import type { Survey } from './survey'

/** Within this share of the diagonal two skins are one. */
const togetherShare = 1 / 1000
/** Every part of a piece but this share of its area must lie on another. */
const mayStand = 0.002
/** Cosine of the most their facing may differ. */
const sameFacing = 0.5

/** The mesh without open pieces that lie on others all over, smallest first; the number of pieces that went. */
export function dropDoubled(s: Survey): { mesh: TriMesh; dropped: number } {
  const { mesh, piece, kinds, area } = s
  const open = kinds.flatMap((k, i) => (k === 'sheet' || k === 'holed' ? [i] : [])).sort((a, b) => area[a] - area[b])
  if (kinds.length < 2 || !open.length || open.length > 60) return { mesh, dropped: 0 }
  const within = togetherShare * diagonal(meshBounds(mesh))
  const gone = new Uint8Array(kinds.length)
  const own: number[][] = kinds.map(() => [])
  for (let t = 0; t < piece.length; t++) own[piece[t]].push(t)
  for (const i of open) {
    // Only what lies about the piece can hold it.
    const rest = keepTriangles(
      mesh,
      flagInBox(mesh, boxOf(mesh, own[i]), within).map((f, t) => (f && piece[t] !== i && !gone[piece[t]] ? 1 : 0)),
    )
    if (!triangleCount(rest.mesh)) continue
    const near = new NearestInGrid(rest.mesh, within)
    let stands = 0
    for (const t of own[i]) {
      const n = crossOf(mesh, t)
      const m = [0, 1, 2].map(
        (k) =>
          (mesh.positions[3 * mesh.triangles[3 * t] + k] +
            mesh.positions[3 * mesh.triangles[3 * t + 1] + k] +
            mesh.positions[3 * mesh.triangles[3 * t + 2] + k]) /
          3,
      )
      let on = false
      if (near.distance([m[0], m[1], m[2]], within) < within) {
        const o = crossOf(rest.mesh, near.triangle)
        on = n[0] * o[0] + n[1] * o[1] + n[2] * o[2] >= sameFacing * length(n) * length(o)
      }
      if (!on) stands += length(n) / 2
      if (stands > mayStand * area[i]) break
    }
    if (stands <= mayStand * area[i]) gone[i] = 1
  }
  const dropped = gone.reduce((n, g) => n + g, 0)
  return dropped
    ? {
        mesh: keepTriangles(
          mesh,
          Uint8Array.from(piece, (p) => 1 - gone[p]),
        ).mesh,
        dropped,
      }
    : { mesh, dropped: 0 }
}
