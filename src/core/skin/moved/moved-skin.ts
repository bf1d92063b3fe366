/**
 * The raw parallel skin of a closed mesh: every triangle moved along its own normal, corners where the moved planes meet, and where an edge
 * is to be round or too sharp for that, a strip of the rolling ball between (the convolution of the skin with a ball; Guibas, Ramshaw &
 * Stolfi 1983; Campen & Kobbelt 2010). It may cross itself; what of it counts is told by `offsetMesh`.
 */
import { quiet, type Work } from '@/core/base/work'
import { buildTopology } from '@/core/mesh/topology'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { facingOf } from './facing'
import { Rolled } from './rolled'
import { Sectors } from './sectors'
import { turnDiagonals } from './turn-diagonals'

export type Corners = 'sharp' | 'round'

export interface MovedSkin {
  /** Closed and running one way round as the input does; may cross itself. */
  readonly mesh: TriMesh
  /** Greatest distance by which a moved corner misses the plane of one of its moved triangles, mm. */
  readonly miss: number
}

/** Turn of an edge, degrees, over which it gets a strip: sharp skins only where the corner would run out too far. */
const stripOver = { round: 20, sharp: 110 }
/** Planes that turn by less than this are one, degrees. */
const onePlane = { exact: 0.02, loose: 7 }

/**
 * @param mesh closed, manifold and running one way round
 * @param by distance outward, mm; below zero inward
 * @param options.loose facets of a round wall count as one and corners slide so that triangles keep their facing, at the cost of half a
 * percent of the distance at most
 */
export function movedSkin(
  mesh: TriMesh,
  by: number,
  { corners, loose = false }: { corners: Corners; loose?: boolean },
  work: Work = quiet,
): MovedSkin {
  const { twin } = buildTopology(mesh)
  const facing = facingOf(mesh, twin, Math.sign(by), work)
  const sectors = new Sectors(mesh, twin, facing, stripOver[corners], loose, work)
  if (loose) sectors.slide(by)
  const miss = sectors.members.reduce((most, _, s) => Math.max(most, sectors.missOf(s)), 0)
  const rolled = new Rolled(mesh, twin, by, sectors)
  const { positions, triangles } = rolled
  const least = Math.cos((loose ? onePlane.loose : onePlane.exact) * (Math.PI / 180))
  turnDiagonals(triangles, twin.slice(), positions, facing.normals, least)
  rolled.addStrips()
  rolled.addCaps()
  return {
    mesh: { positions: Float32Array.from(positions), triangles: Uint32Array.from(triangles) },
    miss: miss * Math.abs(by),
  }
}
