/** What a touch means on a body of any kind. */
import { StepError } from '@/core/base/step-error'
import { isDatum, type Body } from '@/core/bodies/body'
import { kindOf, shownSkin } from '@/core/kinds/registry'
import type { TriMesh } from '@/core/mesh/tri-mesh'
import { exactFaceAt } from './exact-face'
import { fromPart } from './taken'
import { resolveTouch, type Touch, type Touched } from './touch'

/**
 * What a touch means on any body: of a datum the datum itself, of an exact face (or of a mesh that came from one) its own form, else what
 * is found in the skin. Throws StepError in the maker's words.
 */
export function touched(name: string, body: Body, touch: Touch, skin?: TriMesh): Touched {
  if (isDatum(body)) {
    if (touch.as === 'plane' && body.datum !== 'plane')
      throw new StepError('wrong-kind', `"${name}" is an ${body.datum}, not a plane.`, { where: { body: name } })
    if (touch.as === 'axis' && body.datum === 'point')
      throw new StepError('wrong-kind', `"${name}" is a point; it has no direction.`, { where: { body: name } })
    return { point: body.at, direction: body.direction, rms: 0 }
  }
  // A face with an exact form tells its own; one without, what fits the skin there.
  if (touch.as === 'plane' || touch.as === 'axis') {
    const as = touch.as === 'plane' ? 'face' : 'axis'
    const known = exactFaceAt(body, touch.at)
    const part = kindOf(body).parts?.resolve(body, 'face', { at: touch.at }) ?? (known && { index: 0, ...known })
    const exact = part && fromPart(part, as, touch.at)
    if (exact) return { point: exact.at, direction: exact.way, diameter: exact.diameter, rms: 0 }
  }
  return resolveTouch(skin ?? shownSkin(body), touch)
}
