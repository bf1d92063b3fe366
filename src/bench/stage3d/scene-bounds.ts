/** The box round what is shown. */
import type { BenchBody } from '@/bench/state/job'
import type { Vec3 } from '@/core/math/vec'

export interface SceneBounds {
  min: Vec3
  max: Vec3
  centre: Vec3
  radius: number
}

/** Numbers are rounded a little outward, so that small edits do not move the mat or the light. */
export function sceneBounds(bodies: readonly BenchBody[]): SceneBounds {
  const min = [Infinity, Infinity, Infinity],
    max = [-Infinity, -Infinity, -Infinity]
  for (const { facts } of bodies) {
    if (!facts) continue
    for (let k = 0; k < 3; k++) {
      min[k] = Math.min(min[k], Math.floor(facts.min[k]))
      max[k] = Math.max(max[k], Math.ceil(facts.min[k] + facts.size[k]))
    }
  }
  if (!(min[0] <= max[0])) return { min: [-50, -50, 0], max: [50, 50, 40], centre: [0, 0, 10], radius: 70 }
  const centre: Vec3 = [(min[0] + max[0]) / 2, (min[1] + max[1]) / 2, (min[2] + max[2]) / 2]
  return {
    min: [min[0], min[1], min[2]],
    max: [max[0], max[1], max[2]],
    centre,
    radius: Math.max(1, Math.hypot(max[0] - min[0], max[1] - min[1], max[2] - min[2]) / 2),
  }
}

/** Heights below the mat that are none: rounding, mm. */
const least = 0.01

/** Whether a body reaches below the mat. */
export const reachesBelow = (bodies: readonly Pick<BenchBody, 'facts'>[]): boolean =>
  bodies.some(({ facts }) => facts && facts.min[2] < -least)

/** Extent of all bodies along a direction, mm. */
export function reachAlong(bodies: readonly BenchBody[], n: Vec3): [number, number] {
  let lo = Infinity,
    hi = -Infinity
  for (const { facts } of bodies) {
    if (!facts) continue
    for (let c = 0; c < 8; c++) {
      const d = [0, 1, 2].reduce((s, k) => s + n[k] * (facts.min[k] + (c & (1 << k) ? facts.size[k] : 0)), 0)
      lo = Math.min(lo, d)
      hi = Math.max(hi, d)
    }
  }
  return lo < hi ? [lo, hi] : [-10, 10]
}
