/** Boxes round some triangles, and the triangles of a mesh that meet a box. */
import { triangleCount, type TriMesh } from './tri-mesh'

/** Least x y z, most x y z, mm; nothing is in the box of no triangles. */
export type Box = readonly number[]

export function boxOf({ positions: p, triangles: k }: TriMesh, list: Iterable<number>): Box {
  const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
  for (const t of list)
    for (let c = 0; c < 3; c++) {
      const o = 3 * k[3 * t + c]
      for (let a = 0; a < 3; a++) {
        const v = p[o + a]
        if (v < box[a]) box[a] = v
        if (v > box[3 + a]) box[3 + a] = v
      }
    }
  return box
}

/**
 * Sets the flag of each triangle whose own box meets a box widened by `room`, mm.
 * @param flags added to; new ones when left out
 * @param most only triangles before this number are looked at
 */
export function flagInBox(
  mesh: TriMesh,
  box: Box,
  room: number,
  flags: Uint8Array<ArrayBuffer> = new Uint8Array(triangleCount(mesh)),
  most = flags.length,
): Uint8Array<ArrayBuffer> {
  const { positions: p, triangles: k } = mesh
  for (let t = 0; t < most; t++) {
    if (flags[t]) continue
    let meets = 1
    for (let a = 0; meets && a < 3; a++) {
      const u = p[3 * k[3 * t] + a],
        v = p[3 * k[3 * t + 1] + a],
        w = p[3 * k[3 * t + 2] + a]
      const low = box[a] - room,
        high = box[3 + a] + room
      if ((u < low && v < low && w < low) || (u > high && v > high && w > high)) meets = 0
    }
    flags[t] = meets
  }
  return flags
}
