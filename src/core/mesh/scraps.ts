/** Scraps: small open pieces that float inside a hole of a larger piece, as a scanner leaves them where it lost most of a skin. */
import { insideOutline } from '@/core/math/outline'
import { add, cross, dot, frame, length, scale, sub, type Vec3 } from '@/core/math/vec'
import { findPieces, findRims, triangleOf, type Rim, type Topology } from './topology'
import { type TriMesh, vertex } from './tri-mesh'
import { triangleArea } from './triangle'

export interface Scraps {
  /** Piece of each triangle. */
  readonly piece: Uint32Array
  /** For each piece, the number of the rim of the hole it floats in, or -1 for a piece that is none. */
  readonly holeOf: Int32Array
  /** For each rim: is it the border of a scrap and not a hole? */
  readonly isBorder: (rim: number) => boolean
}

interface OpenPieces {
  readonly middle: Float64Array
  readonly reach: Float64Array
  readonly area: Float64Array
  readonly ids: number[]
}

/** Middle, reach and area of the pieces that have a rim. */
function measurePieces(mesh: TriMesh, piece: Uint32Array, count: number, open: ReadonlySet<number>): OpenPieces {
  const area = new Float64Array(count),
    middle = new Float64Array(3 * count),
    corners = new Float64Array(count),
    reach = new Float64Array(count)
  for (let t = 0; t < piece.length; t++) {
    const i = piece[t]
    area[i] += triangleArea(mesh, t)
    for (let c = 0; c < 3; c++) {
      const v = mesh.triangles[3 * t + c]
      for (let k = 0; k < 3; k++) middle[3 * i + k] += mesh.positions[3 * v + k]
      corners[i]++
    }
  }
  for (let i = 0; i < count; i++) for (let k = 0; k < 3; k++) middle[3 * i + k] /= corners[i]
  for (let t = 0; t < piece.length; t++) {
    const i = piece[t]
    if (!open.has(i)) continue
    for (let c = 0; c < 3; c++) {
      const v = mesh.triangles[3 * t + c]
      reach[i] = Math.max(
        reach[i],
        Math.hypot(
          mesh.positions[3 * v] - middle[3 * i],
          mesh.positions[3 * v + 1] - middle[3 * i + 1],
          mesh.positions[3 * v + 2] - middle[3 * i + 2],
        ),
      )
    }
  }
  return { middle, reach, area, ids: [...open].sort((a, b) => middle[3 * a] - middle[3 * b]) }
}

/** The outline of a rim seen along its mean plane (that of its vector area), and how wide it is. */
function outlineOf(corners: readonly Vec3[]) {
  const centre = scale(corners.reduce(add), 1 / corners.length)
  const area = corners.reduce<Vec3>(
    (s, p, i) => add(s, cross(sub(p, centre), sub(corners[(i + 1) % corners.length], centre))),
    [0, 0, 0],
  )
  const twice = length(area)
  const [x, y, n] = frame(twice > 0 ? scale(area, 1 / twice) : [0, 0, 1])
  const flat = (p: Vec3): [number, number] => [dot(sub(p, centre), x), dot(sub(p, centre), y)]
  const outline = corners.map(flat)
  return {
    centre,
    /** Radius of the circle of the same area. */
    wide: Math.sqrt(twice / 2 / Math.PI),
    far: corners.reduce((m, p) => Math.max(m, Math.abs(p[0] - centre[0])), 0),
    off: (p: Vec3) => Math.abs(dot(sub(p, centre), n)),
    holds(p: Vec3): boolean {
      return insideOutline(outline, flat(p))
    },
  }
}

/**
 * Finds the scraps of a mesh: an open piece is one when it has at most half the area of the piece round it, is small beside the hole,
 * lies near the plane of its rim, and its middle is within the rim's outline. Null when there is none. Common practice, no source.
 */
export function findScraps(mesh: TriMesh, topology: Topology, rims: readonly Rim[]): Scraps | null {
  if (rims.length < 2) return null
  const { piece, count } = findPieces(mesh, topology)
  if (count < 2) return null
  const own = rims.map((rim) => piece[triangleOf(rim.halfEdges[0])])
  const { middle, reach, area, ids } = measurePieces(mesh, piece, count, new Set(own))
  if (ids.length < 2) return null
  const holeOf = new Int32Array(count).fill(-1)
  const width = new Float64Array(count)
  let some = false
  rims.forEach((rim, r) => {
    if (!rim.closed || rim.vertices.length < 4) return
    const hole = outlineOf(rim.vertices.map((v) => vertex(mesh, v)))
    // Pieces are in order of x: only those within the hole's stretch of x are looked at.
    let from = 0,
      to = ids.length
    while (from < to) {
      const m = (from + to) >> 1
      if (middle[3 * ids[m]] < hole.centre[0] - hole.far) from = m + 1
      else to = m
    }
    for (let k = from; k < ids.length && middle[3 * ids[k]] <= hole.centre[0] + hole.far; k++) {
      const i = ids[k]
      if (i === own[r] || area[i] > 0.5 * area[own[r]] || reach[i] > 1.2 * hole.wide) continue
      const at: Vec3 = [middle[3 * i], middle[3 * i + 1], middle[3 * i + 2]]
      if (hole.off(at) > hole.wide || !hole.holds(at)) continue
      // Of several holes round it, the narrowest is the one it floats in.
      if (holeOf[i] >= 0 && width[i] <= hole.wide) continue
      holeOf[i] = r
      width[i] = hole.wide
      some = true
    }
  })
  return some ? { piece, holeOf, isBorder: (rim) => holeOf[own[rim]] >= 0 } : null
}

/** How many holes a mesh has: its rims, less the borders of scraps. */
export function countHoles(mesh: TriMesh, topology: Topology): number {
  if (!topology.openEdges) return 0
  const rims = findRims(mesh, topology)
  const scraps = findScraps(mesh, topology, rims)
  return scraps ? rims.filter((_, r) => !scraps.isBorder(r)).length : rims.length
}
