/** The bore a ray points at: the wall it hits, or the mouth it passes through or close by. */
import { addScaled, dot, length, sub, type Vec3 } from '@/core/math/vec'
import type { Bore } from './bore'
import { alongAxis } from './cylinder-fit'
import { mouthOf } from './snap'

export interface PointedBore {
  readonly bore: Bore
  /** A place on its wall that a recipe can keep. */
  readonly at: Vec3
  /** How far off the pointing was; among several bodies the least wins. */
  readonly off: number
}

/** `hit` is the first hit of the ray on anything: bores behind it do not count, and its triangle tells a wall that was hit (`own`). */
export function pointedBore(
  bores: readonly Bore[],
  ray: { readonly origin: Vec3; readonly direction: Vec3 },
  hit: { readonly distance: number; readonly triangle: number; readonly point: Vec3; readonly own: boolean } | null,
): PointedBore | null {
  let best: PointedBore | null = null
  for (const bore of bores) {
    if (hit?.own && bore.triangles.includes(hit.triangle)) return { bore, at: hit.point, off: -1 }
    for (const end of [-0.5, 0.5] as const) {
      const mouth = mouthOf(bore, end)
      const slope = dot(ray.direction, bore.axis)
      if (Math.abs(slope) < 0.05) continue
      const t = dot(sub(mouth, ray.origin), bore.axis) / slope
      if (t <= 0 || (hit && t > hit.distance + bore.depth + bore.diameter)) continue
      const p = addScaled(ray.origin, ray.direction, t)
      const beside = length(sub(p, mouth)) - bore.diameter / 2
      if (beside > 0.6 * bore.diameter) continue
      const off = Math.max(0, beside) + 1e-3 * t
      if (best && best.off <= off) continue
      // On the bore's surface, half-way down.
      const side = sub(p, alongAxis(p, bore.centre, bore.axis).foot)
      best = { bore, off, at: addScaled(bore.centre, side, bore.diameter / 2 / (length(side) || 1)) }
    }
  }
  return best
}
