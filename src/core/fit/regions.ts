/** What a mesh is divided into: regions of one surface each. */
import type { Fitted } from './fit-shape'

export interface Region {
  /** Null where no shape holds: a free surface. */
  readonly shape: Fitted | null
  readonly triangles: readonly number[]
  /** mm². */
  readonly area: number
}

export interface Recognised {
  readonly regions: readonly Region[]
  /** Number of each triangle's region; -1 where it is in none. */
  readonly of: Int32Array
  /** What shapes may be off by, mm: told beforehand or from the mesh itself. */
  readonly tolerance: number
  /** Corners lie on the surfaces themselves, as a drawn part's do. */
  readonly drawn: boolean
  /** What corners lie off their surfaces by noise, mm: about one standard deviation. */
  readonly noise: number
}

/** Share of the skin in no shape, 0 to 1. */
export const shareFree = (regions: readonly { shape: unknown; area: number }[], whole: number) =>
  1 - regions.reduce((s, r) => s + (r.shape ? r.area : 0), 0) / (whole || 1)
