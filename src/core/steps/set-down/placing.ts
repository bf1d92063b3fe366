/** What all placing steps share: move one body, keep its name, say where it stands. */
import type { Body } from '@/core/bodies/body'
import type { Affine } from '@/core/math/affine'
import { boundsOf, moveBody } from '@/core/kinds/registry'
import { boundsSize } from '@/core/mesh/tri-mesh'
import type { Facts, StepResult } from '@/core/step/step'

const tidy = (v: readonly number[]) => v.map((x) => Number(x.toFixed(4)))

/** The step's result for a body moved by `map`. */
export async function placed(
  name: string,
  body: Body,
  map: Affine,
  said: string,
  facts: Facts = {},
): Promise<StepResult> {
  const moved = await moveBody(body, map)
  const b = boundsOf(moved)
  return {
    bodies: { [name]: moved },
    facts: { ...facts, size: tidy(boundsSize(b)), min: tidy(b.min), max: tidy(b.max) },
    said,
  }
}
