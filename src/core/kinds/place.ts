/** Where a body stands and how large it is, as lists and readouts keep it: to a ten-thousandth of a mm. */
import type { Vec3 } from '@/core/math/vec'

const tidy = (v: readonly number[]): Vec3 => [Number(v[0].toFixed(4)), Number(v[1].toFixed(4)), Number(v[2].toFixed(4))]

export const placeOf = ({
  min,
  size,
}: {
  min: readonly number[]
  size: readonly number[]
}): { min: Vec3; size: Vec3 } => ({
  size: tidy(size),
  min: tidy(min),
})
