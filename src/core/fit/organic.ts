/** Whether a mesh bends everywhere, as what is carved or grown does: then shapes only approximate it, bit by bit. */
import type { Recognised } from './recognise'

/** So many regions, of which the largest few hold less than this share of the skin, are bits of something else. */
const leastRegions = 40
const largest = 12
const leastShare = 0.5

export interface Organic {
  readonly regions: number
  /** Share of the skin that the largest dozen of them hold. */
  readonly share: number
}

/** Null for a mechanical part. A clean tessellation is told by its facets, however many surfaces it has. */
export function organic({ regions, drawn }: Pick<Recognised, 'regions' | 'drawn'>): Organic | null {
  if (drawn || regions.length < leastRegions) return null
  const areas = regions.map((r) => r.area).sort((a, b) => b - a)
  const all = areas.reduce((s, a) => s + a, 0)
  const share = areas.slice(0, largest).reduce((s, a) => s + a, 0) / (all || 1)
  return share < leastShare ? { regions: regions.length, share } : null
}
