/** Settings that take places and directions from bodies: which bodies those are, and the numbers they come to. */
import type { z } from 'zod'
import { StepError } from '@/core/base/step-error'
import type { Body } from '@/core/bodies/body'
import { isTaken, resolveTaken } from '@/core/find/taken'
import { fieldsOf } from './fields'

/** Settings with every place and direction that is taken from a body as numbers. Throws StepError in the maker's words. */
export function withTaken(
  settings: z.ZodObject,
  values: Readonly<Record<string, unknown>>,
  find: (name: string) => Body,
): Record<string, unknown> {
  const out: Record<string, unknown> = { ...values }
  for (const { key, info } of fieldsOf(settings)) {
    const v = out[key]
    if (info.field === 'points' && Array.isArray(v)) {
      out[key] = v.map((p: unknown) => (isTaken(p) ? [...resolveTaken(p, find(p.from)).at] : p))
      continue
    }
    if (!isTaken(v)) continue
    const { at, way } = resolveTaken(v, find(v.from))
    if (info.field === 'direction' && !way)
      throw new StepError('no-direction', `${info.label}: a ${v.as ?? 'point'} of "${v.from}" tells no direction.`, {
        where: { body: v.from, point: at },
        tryThis: 'Pick a face, an axis or an edge.',
      })
    out[key] = info.field === 'direction' ? [...way!] : [...at]
  }
  return out
}
