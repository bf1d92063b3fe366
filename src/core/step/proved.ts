/** What is proved of every result, whichever step made it: that its bodies hold something, are numbers, and keep the laws of their kind. */
import { mm } from '@/core/base/say'
import { StepError } from '@/core/base/step-error'
import { isMesh, type Body } from '@/core/bodies/body'
import { tooCoarse } from '@/core/gauge/single-precision'
import { boundsSize } from '@/core/mesh/tri-mesh'
import { boundsOf, coordinatesOf, flawsOf, kindOf } from '@/core/kinds/registry'

/** Refuses what is no body: no triangles at all, or corners that are no numbers. */
function requireBody(name: string, body: Body): void {
  if (isMesh(body) && !body.mesh.triangles.length)
    throw new StepError('empty-result', `Nothing would be left of "${name}".`, {
      where: { body: name },
      tryThis: 'Change the settings so that something of it stays, or take the body off the bench instead.',
    })
  const p = coordinatesOf(body)
  if (p)
    for (let i = 0; i < p.length; i++)
      if (!Number.isFinite(p[i]))
        throw new StepError('not-numbers', `"${name}" would get corners whose coordinates are no numbers.`, {
          where: { body: name },
          tryThis: 'Check the sizes in the settings: one of them is too large or too small.',
        })
}

/** A warning where a body lies so far from the origin that its coordinates are coarse, null elsewhere. */
function farWords(name: string, body: Body): string | null {
  const detail = kindOf(body).detail?.(body)
  if (detail === undefined) return null
  const bounds = boundsOf(body)
  const step = tooCoarse(bounds.min, boundsSize(bounds), detail)
  return step === null
    ? null
    : `"${name}" lies so far from the origin that its coordinates are ${mm(step, 4)} coarse: Centre it, and keep the move for later.`
}

/** What of a step's result is looked at. */
interface Proven {
  readonly bodies: Readonly<Record<string, Body | null>>
  readonly warnings?: readonly string[]
}

/**
 * A result with warnings where a body that it made breaks a law of its kind. Bodies that were on the bench before are left out.
 * Throws StepError `empty-result` and `not-numbers`.
 */
export function proved<R extends Proven>(result: R, was: (body: Body) => boolean, lenient: boolean): R {
  const made = Object.entries(result.bodies).flatMap(([name, body]) => (body && !was(body) ? [{ name, body }] : []))
  const warnings: string[] = []
  for (const { name, body } of made) {
    if (!lenient) requireBody(name, body)
    warnings.push(...flawsOf(body).map((words) => `"${name}" ${words}.`))
    const far = farWords(name, body)
    if (far) warnings.push(far)
  }
  return warnings.length ? { ...result, warnings: [...(result.warnings ?? []), ...warnings] } : result
}
