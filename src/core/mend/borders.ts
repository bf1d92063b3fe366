/** Borders of open sheets, one by one: which stay open, and which are to be closed although they are borders. */
import type { Vec3 } from '@/core/math/vec'
import type { Rim } from '@/core/mesh/topology'
import { vertex } from '@/core/mesh/tri-mesh'
import { rimLength, rimNearest } from './loop'
import type { Survey } from './survey'

/** A border that stays open. */
export interface Border {
  /** A place on it. */
  readonly at: Vec3
  readonly edges: number
  readonly lengthMm: number
}

const bordersIn = (s: Survey): Rim[] => s.rims.filter((_, r) => s.border[r])

/** All borders of a mesh, the longest first. */
export const openBorders = (s: Survey): Border[] =>
  bordersIn(s)
    .map((rim) => ({
      at: vertex(s.mesh, rim.vertices[0]),
      edges: rim.halfEdges.length,
      lengthMm: rimLength(s.mesh, rim),
    }))
    .sort((a, b) => b.lengthMm - a.lengthMm)

/** A place means a border that it lies off by no more than this share of its length: mending moves borders a little. */
const reach = 0.05

/** The borders that places mean; `off` as a share of their length. */
export function bordersAt(s: Survey, places: readonly Vec3[], off = reach): ReadonlySet<Rim> {
  const rims = bordersIn(s)
  return new Set(
    places.flatMap((p) => {
      const near = rimNearest(s.mesh, rims, p)
      return near && near.distance <= off * rimLength(s.mesh, near.rim) ? [near.rim] : []
    }),
  )
}
