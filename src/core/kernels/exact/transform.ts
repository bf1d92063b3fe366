/** Exact bodies moved, turned and evenly scaled. */
import type { ExactBody } from '@/core/bodies/body'
import type { Affine } from '@/core/math/affine'
import { finish } from './build'
import { withKernel } from './scope'
import { shapeOf } from './shape-cache'

/** An exact body moved by a rigid or evenly scaling map; its faces keep their names. */
export const transformSolid = (body: ExactBody, m: Affine): Promise<ExactBody> =>
  withKernel('Moving', (oc) => {
    const t = new oc.gp_Trsf()
    t.SetValues(m[0], m[1], m[2], m[3], m[4], m[5], m[6], m[7], m[8], m[9], m[10], m[11])
    return finish(oc, new oc.BRepBuilderAPI_Transform(shapeOf(oc, body), t, true, false).Shape(), {
      what: 'Moving',
      names: body.parts.faces.map((f) => f.name),
      sheet: body.kind === 'sheet',
      label: body.label,
      colour: body.colour,
    })
  })
