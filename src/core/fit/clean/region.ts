/** Regions that the facets of a drawn part fall into. */
import type { Fitted } from '../fit-shape'

export interface CleanRegion {
  /** Null for facets of a surface that is none of the shapes. */
  readonly shape: Fitted | null
  readonly facets?: readonly number[]
  readonly triangles: number[]
}

/** Indices of facets and triangles on one round shape. */
export type RoundRegion = CleanRegion & { readonly shape: Fitted; readonly facets: readonly number[] }
