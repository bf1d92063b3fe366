/** Sizes of screw heads and of holes for heat-set inserts, mm. */

export interface HeadSize {
  readonly screw: string
  /** Socket head cap screw, ISO 4762:2004: greatest head diameter and height (from memory). */
  readonly cap: { readonly diameter: number; readonly height: number }
  /** Countersunk head of 90 degrees, ISO 10642:2019: theoretical head diameter, greatest (from memory). */
  readonly countersunk: number
  /** Hole for a heat-set insert: common practice, no source; null where there is none in common use. */
  readonly insert: { readonly diameter: number; readonly depth: number } | null
}

export const headSizes: readonly HeadSize[] = [
  { screw: 'M2', cap: { diameter: 3.8, height: 2 }, countersunk: 4.4, insert: { diameter: 3.2, depth: 4 } },
  { screw: 'M2.5', cap: { diameter: 4.5, height: 2.5 }, countersunk: 5.5, insert: { diameter: 4, depth: 5.5 } },
  { screw: 'M3', cap: { diameter: 5.5, height: 3 }, countersunk: 6.72, insert: { diameter: 4, depth: 6 } },
  { screw: 'M4', cap: { diameter: 7, height: 4 }, countersunk: 8.96, insert: { diameter: 5.6, depth: 8.5 } },
  { screw: 'M5', cap: { diameter: 8.5, height: 5 }, countersunk: 11.2, insert: { diameter: 6.4, depth: 10 } },
  { screw: 'M6', cap: { diameter: 10, height: 6 }, countersunk: 13.44, insert: { diameter: 8, depth: 13 } },
  { screw: 'M8', cap: { diameter: 13, height: 8 }, countersunk: 17.92, insert: { diameter: 9.6, depth: 13 } },
  { screw: 'M10', cap: { diameter: 16, height: 10 }, countersunk: 22.4, insert: null },
  { screw: 'M12', cap: { diameter: 18, height: 12 }, countersunk: 26.88, insert: null },
  { screw: 'M16', cap: { diameter: 24, height: 16 }, countersunk: 33.6, insert: null },
]

/** The head sizes of the screw that a standard such as "M3 medium" names. */
export const headOf = (standard: string | undefined): HeadSize | undefined =>
  headSizes.find((h) => standard?.split(' ')[0] === h.screw)
