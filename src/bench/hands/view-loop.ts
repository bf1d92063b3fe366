/** Corners drawn on the screen as a line in model space: on a plane in front of the view, with where the view looks from. */
import type { Vec3 } from '@/core/math/vec'
import type { BenchView, Screen } from './hand'

const tidy = (v: number) => Number(v.toFixed(5))

export function viewLoop(corners: readonly Screen[], b: BenchView): { eye: Vec3; toward: Vec3; line: Vec3[] } {
  const rays = corners.map((c) => b.toRay(c))
  const forward = b.camera.getWorldDirection(b.camera.position.clone())
  return {
    eye: rays[0].origin.map(tidy) as unknown as Vec3,
    toward: [tidy(forward.x), tidy(forward.y), tidy(forward.z)],
    line: rays.map(({ origin: o, direction: d }): Vec3 => [tidy(o[0] + d[0]), tidy(o[1] + d[1]), tidy(o[2] + d[2])]),
  }
}
