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
  for (const { summary } of bodies) {
    if (!summary) continue
    for (let k = 0; k < 3; k++) {
      min[k] = Math.min(min[k], Math.floor(summary.min[k]))
      max[k] = Math.max(max[k], Math.ceil(summary.min[k] + summary.size[k]))
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
