/** What single precision, in which coordinates are written, can still tell apart at a place. */

/** The step between neighbouring single-precision numbers at a distance from nought: 2^-23 of the power of two below it (IEEE 754). */
export const stepAt = (distance: number): number => (distance > 0 ? 2 ** (Math.floor(Math.log2(distance)) - 23) : 0)

/** Coarser steps than this are seen in any part, mm. */
const most = 0.01
/** Of its smallest feature a body should be told so finely. */
const share = 1e-3

/**
 * How coarse coordinates are where a body lies, if that is too coarse for it, else null; mm. `detail`: its smallest feature, mm. Steps that
 * the body would have at the origin too are not counted against its place.
 */
export function tooCoarse(min: readonly number[], size: readonly number[], detail: number): number | null {
  const reach = Math.max(...min.map((v, k) => Math.max(Math.abs(v), Math.abs(v + size[k]))))
  const step = stepAt(reach)
  const own = stepAt(Math.max(...size) / 2)
  if (step <= 2 * own) return null
  return step > most || step > share * detail ? step : null
}
