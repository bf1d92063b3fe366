/** What the three datum steps share. */
import type { Body, DatumBody } from '@/core/bodies/body'
import { isDatum } from '@/core/bodies/body'
import { StepError } from '@/core/base/step-error'
import { resolveTouch, type Touch, type Touched } from '@/core/find/touch'
import { shownSkin, sizeOf } from '@/core/kinds/registry'
import { lengthMm } from '@/core/step/fields'
import { freeName, type Facts, type StepResult } from '@/core/step/step'
import type { Vec3 } from '@/core/math/vec'

/** How large it is drawn. */
export const drawnSize = () =>
  lengthMm('Drawn as large as', { min: 0.01, more: true, help: 'left empty: to suit the body it lies on' }).optional()

/** A size to draw a datum at that suits the body it was picked on, mm. */
export const drawnFor = (body: Body | null): number => {
  const most = body ? Math.max(...sizeOf(body)) : 0
  return most > 0 ? 1.2 * most : 40
}

const tidy = (v: Vec3): number[] => v.map((x) => Number(x.toFixed(9)))

/** A datum under a free name, with where it is in the facts. */
export function datumResult(
  names: ReadonlySet<string>,
  name: string,
  d: Omit<DatumBody, 'kind'>,
  facts: Facts,
  said: string,
): StepResult {
  const body: DatumBody = { kind: 'datum', ...d }
  const direction =
    d.datum === 'plane' ? { normal: tidy(d.direction) } : d.datum === 'axis' ? { direction: tidy(d.direction) } : {}
  return { bodies: { [freeName(names, name)]: body }, facts: { at: tidy(d.at), ...direction, ...facts }, said }
}

/** What a touch means on any body: of a datum the datum itself, else what is found in the skin. */
export function touched(name: string, body: Body, touch: Touch): Touched {
  if (isDatum(body)) {
    if (touch.as === 'plane' && body.datum !== 'plane')
      throw new StepError('wrong-kind', `"${name}" is an ${body.datum}, not a plane.`, { where: { body: name } })
    if (touch.as === 'axis' && body.datum === 'point')
      throw new StepError('wrong-kind', `"${name}" is a point; it has no direction.`, { where: { body: name } })
    return { point: body.at, direction: body.direction, rms: 0 }
  }
  return resolveTouch(shownSkin(body), touch)
}
