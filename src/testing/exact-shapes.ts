/** Exact bodies that tests need and no step makes. */
import type { ExactBody } from '@/core/bodies/body'
import { finish } from '@/core/kernels/exact/build'
import { axes } from '@/core/kernels/exact/primitives'
import { withKernel } from '@/core/kernels/exact/scope'
import type { Vec3 } from '@/core/math/vec'

/** A ring: its circle's radius and its tube's, mm. */
export const makeTorus = (radius: number, tube: number, at: Vec3, axis: Vec3): Promise<ExactBody> =>
  withKernel('Ring', (oc) =>
    finish(oc, new oc.BRepPrimAPI_MakeTorus(axes(oc, at, axis), radius, tube).Shape(), {
      what: 'Ring',
      prefix: 'ring/',
    }),
  )
