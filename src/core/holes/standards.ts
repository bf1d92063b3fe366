/** Standard hole sizes for metric screws, mm. */

export interface ScrewHoles {
  readonly screw: string
  /** Clearance holes: ISO 273:1979, table 1 (fine, medium, coarse series). */
  readonly fine: number
  readonly medium: number
  readonly coarse: number
  /** Tap drill: nominal diameter less pitch of the coarse thread (ISO 261), rounded as in ISO 2306. */
  readonly tap: number
}

export const screwHoles: readonly ScrewHoles[] = [
  { screw: 'M1.6', fine: 1.7, medium: 1.8, coarse: 2, tap: 1.25 },
  { screw: 'M2', fine: 2.2, medium: 2.4, coarse: 2.6, tap: 1.6 },
  { screw: 'M2.5', fine: 2.7, medium: 2.9, coarse: 3.1, tap: 2.05 },
  { screw: 'M3', fine: 3.2, medium: 3.4, coarse: 3.6, tap: 2.5 },
  { screw: 'M4', fine: 4.3, medium: 4.5, coarse: 4.8, tap: 3.3 },
  { screw: 'M5', fine: 5.3, medium: 5.5, coarse: 5.8, tap: 4.2 },
  { screw: 'M6', fine: 6.4, medium: 6.6, coarse: 7, tap: 5 },
  { screw: 'M8', fine: 8.4, medium: 9, coarse: 10, tap: 6.8 },
  { screw: 'M10', fine: 10.5, medium: 11, coarse: 12, tap: 8.5 },
  { screw: 'M12', fine: 13, medium: 13.5, coarse: 14.5, tap: 10.2 },
  { screw: 'M16', fine: 17, medium: 17.5, coarse: 18.5, tap: 14 },
  { screw: 'M20', fine: 21, medium: 22, coarse: 24, tap: 17.5 },
]

export const holeFits = ['fine', 'medium', 'coarse', 'tap'] as const
export type HoleFit = (typeof holeFits)[number]

/** Names as shown and stored: "M3 medium". */
export const standardHoles: { name: string; diameter: number }[] = screwHoles.flatMap((s) =>
  holeFits.map((fit) => ({ name: `${s.screw} ${fit}`, diameter: s[fit] })),
)

export const standardDiameter = (name: string): number | undefined =>
  standardHoles.find((h) => h.name === name)?.diameter
