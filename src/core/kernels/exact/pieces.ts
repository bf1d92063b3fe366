/** The separate solids of a body. */
import type { ExactBody } from '@/core/bodies/body'
import { namedShape } from './boolean'
import { finish } from './build'
import { ShapeIndex } from './explore'
import { roughVolume } from './mass'
import { keptOf } from './queries'
import { withKernel } from './scope'

/** The `count` largest of a body's solids as one body; faces keep their names. */
export const largestSolids = (body: ExactBody, count: number): Promise<ExactBody> =>
  withKernel('Loose pieces', (oc) => {
    const { shape, names } = namedShape(oc, body)
    const faces = new ShapeIndex(oc, shape, 'TopAbs_FACE')
    const solids = new ShapeIndex(oc, shape, 'TopAbs_SOLID').list
    const kept = solids
      .map((s) => ({ s, volume: roughVolume(oc, s) }))
      .sort((a, b) => b.volume - a.volume)
      .slice(0, count)
      .map(({ s }) => s)
    const all = new oc.TopoDS_Compound()
    const builder = new oc.TopoDS_Builder()
    builder.MakeCompound(all)
    for (const s of kept) builder.Add(all, s)
    const whole = kept.length === 1 ? kept[0] : all
    return finish(oc, whole, {
      what: 'Loose pieces',
      names: new ShapeIndex(oc, whole, 'TopAbs_FACE').list.map((f) => names[faces.indexOf(f)] ?? ''),
      ...keptOf(body),
    })
  })
