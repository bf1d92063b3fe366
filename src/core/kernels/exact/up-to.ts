/** A body that reaches only up to another: what lies beyond the first meeting is taken away. */
import { StepError } from '@/core/base/step-error'
import type { ExactBody } from '@/core/bodies/body'
import type { Vec3 } from '@/core/math/vec'
import { finish, runBuilder } from './build'
import { namedShape } from './boolean'
import { ShapeIndex } from './explore'
import { namesFor } from './extrude'
import { nearestOn } from './queries'
import { withKernel } from './scope'

/** The pieces of `body` without `target` of which the one at `from` stays. Throws StepError `never-reached`. */
export const upToBody = (
  body: ExactBody,
  target: ExactBody,
  from: Vec3,
  targetName: string,
  name: string,
): Promise<ExactBody> =>
  withKernel('Extrude', (oc) => {
    const [made, to] = [namedShape(oc, body), namedShape(oc, target)]
    const op = new oc.BRepAlgoAPI_Cut(made.shape, to.shape, new oc.Message_ProgressRange())
    const cut = runBuilder(oc, op, {
      failed: new StepError('boolean-failed', `The extrusion could not be ended at "${targetName}".`),
      inputs: [made, { shape: to.shape, names: to.names.map(() => `${name}/top`) }],
      unify: true,
    })
    const solids = new ShapeIndex(oc, cut.shape, 'TopAbs_SOLID').list
    const never = new StepError(
      'never-reached',
      `The extrusion never reaches "${targetName}" with all of its outline.`,
      {
        where: { body: targetName },
        tryThis: 'Move the outline, or give a distance.',
      },
    )
    if (solids.length < 2) throw never
    const away = solids.map((s) => nearestOn(oc, s, from).distance)
    const first = solids[away.indexOf(Math.min(...away))]
    const faces = new ShapeIndex(oc, cut.shape, 'TopAbs_FACE').list
    return finish(oc, first, {
      what: 'Extrude',
      names: namesFor(
        oc,
        first,
        faces.map((f, i) => [f, cut.names[i]] as const),
      ),
      prefix: `${name}/`,
    })
  })
