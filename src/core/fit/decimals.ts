/** How many decimals a mesh was written with: text files round each coordinate, and corners lie off their surfaces by that. */
import type { TriMesh } from '@/core/mesh/tri-mesh'

/** Coordinates that are looked at. */
const enough = 6000
/** Units that files are written in, in mm. */
const units = [1, 25.4]
const mostDecimals = 6
/** Steps of more than this share of the size would be shapes, not rounding. */
const mostShare = 1e-4
/** A single precision number keeps so much of itself. */
const single = 1.2e-7
/** Last digits of measured or computed places are anything; those of a drawing on a grid are few. */
const leastDigits = 8
const leastValues = 60

/**
 * The step that all coordinates are multiples of, mm, where they were rounded to decimals; 0 where they were not, or where it cannot be told
 * from a drawing on a grid.
 * @param size mm
 */
export function decimalStep({ positions }: TriMesh, size: number): number {
  const step = Math.max(1, Math.floor(positions.length / enough))
  for (const unit of units)
    grids: for (let decimals = 0; decimals <= mostDecimals; decimals++) {
      const grid = unit * 10 ** -decimals
      if (grid > mostShare * size) continue
      const digits = new Set<number>()
      const values = new Set<number>()
      let on = true
      for (let i = 0; on && i < positions.length; i += step) {
        const v = positions[i] / grid
        const whole = Math.round(v)
        const blur = Math.abs(v) * single
        // Where single precision keeps no more than this grid, rounding to it cannot be seen.
        if (blur > 0.2) break grids
        on = Math.abs(v - whole) <= 1e-3 + blur
        digits.add(((whole % 10) + 10) % 10)
        values.add(whole)
      }
      if (on) return digits.size >= leastDigits && values.size >= leastValues ? grid : 0
    }
  return 0
}
