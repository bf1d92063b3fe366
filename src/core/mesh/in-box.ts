/** Boxes round some triangles, and the triangles of a mesh that meet a box. */
import { buildBoxTree, visitBox } from './box-tree'
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
  for (let t = 0; t < most; t++) if (!flags[t] && meets(mesh, t, box, room)) flags[t] = 1
  return flags
}

/** Whether a triangle's own box meets a box widened by `room`. */
function meets({ positions: p, triangles: k }: TriMesh, t: number, box: Box, room: number): boolean {
  for (let a = 0; a < 3; a++) {
    const u = p[3 * k[3 * t] + a],
      v = p[3 * k[3 * t + 1] + a],
      w = p[3 * k[3 * t + 2] + a]
    const low = box[a] - room,
      high = box[3 + a] + room
    if ((u < low && v < low && w < low) || (u > high && v > high && w > high)) return false
  }
  return true
}

/** From so many boxes on a tree is quicker than a look at every triangle for each. */
const manyBoxes = 8

/** The same for many boxes: sets the flag of each of the first `most` triangles that meets one of them. */
export function flagInBoxes(
  mesh: TriMesh,
  boxes: readonly Box[],
  room: number,
  flags: Uint8Array<ArrayBuffer>,
  most: number,
): Uint8Array<ArrayBuffer> {
  if (boxes.length < manyBoxes) {
    for (const box of boxes) flagInBox(mesh, box, room, flags, most)
    return flags
  }
  const tree = buildBoxTree({ positions: mesh.positions, triangles: mesh.triangles.subarray(0, 3 * most) })
  for (const box of boxes) {
    const [lo, hi] = [0, 3].map((o) => [0, 1, 2].map((a) => box[o + a] + (o ? room : -room)))
    visitBox(tree, lo, hi, (t) => {
      if (!flags[t] && meets(mesh, t, box, room)) flags[t] = 1
    })
  }
  return flags
}
