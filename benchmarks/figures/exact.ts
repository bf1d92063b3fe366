import { quiet } from '@/core/base/work'
import type { ExactBody } from '@/core/bodies/body'
import { combineSolids } from '@/core/kernels/exact/boolean'
import { facet } from '@/core/kernels/exact/facet'
import { kernelMemory } from '@/core/kernels/memory'
import { makeBlock, makeCylinder } from '@/core/kernels/exact/primitives'
import { withKernel } from '@/core/kernels/exact/scope'
import { shapeOf } from '@/core/kernels/exact/shape-cache'
import { shadeBody } from '@/core/kinds/shade'
import { pair } from '../measure'

const up = [0, 0, 1] as const

/** A plate with 97 round pockets: 200 faces. */
async function plate(): Promise<ExactBody> {
  const pockets: ExactBody[] = []
  for (let i = 0; i < 97; i++)
    pockets.push(
      await makeCylinder(1.5 + 0.01 * (i % 7), 10, [6 + 6 * (i % 10), 6 + 6 * Math.floor(i / 10), 3], up, `p${i}`),
    )
  const block = await makeBlock([66, 66, 6], [0, 0, 0], up, [1, 0, 0], 'plate')
  return combineSolids('difference', [block, ...pockets])
}

/**
 * An exact feature on a solid of 200 faces, from its numbers to what is drawn, against the kernel called bare for what nobody can do
 * without: the cut with its faces merged, the check that it is valid, and the facets.
 */
export async function exactFeature() {
  const body = await plate()
  const pin = await makeCylinder(2, 40, [63, 63, -10], up, 'pin')
  const ours = async () => shadeBody(await combineSolids('difference', [body, pin], quiet))
  const bare = () =>
    withKernel('Measuring', (oc) => {
      const op = new oc.BRepAlgoAPI_Cut(shapeOf(oc, body), shapeOf(oc, pin), new oc.Message_ProgressRange())
      op.SimplifyResult(true, true, 1e-6)
      const shape = op.Shape()
      if (!new oc.BRepCheck_Analyzer(shape, true, false, false).IsValid()) throw new Error('not valid')
      facet(oc, shape, 0.01)
      oc.BRepTools.Clean(shape, true)
    })
  return {
    faces: body.facts.faces,
    ...(await pair(ours, bare)),
    bar: 1.3,
    kernelMb: Math.round(kernelMemory().bytes / 2 ** 20),
  }
}
