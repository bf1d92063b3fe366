/** Faces and edges as settings name them, found on what the body has become. */
import { one } from '@/core/base/say'
import { z } from 'zod'
import { StepError } from '@/core/base/step-error'
import type { Body } from '@/core/bodies/body'
import type { Part, PartSort } from '@/core/kinds/kind'
import { requireCapability } from '@/core/kinds/registry'
import { triple } from './triple'

/** `at`: the nearest part; `name`: the very part that was picked. */
export const partRefSchema = z.object({ at: triple, name: z.string().max(500).optional() }).strict()
export type PartReference = z.output<typeof partRefSchema>

/** The part a reference means. Throws StepError `lost-part` or `wrong-kind`. */
export const resolvePart = (name: string, body: Body, sort: PartSort, ref: PartReference): Part =>
  requireCapability(name, body, 'parts').parts!.resolve(body, sort, ref)

/** The parts that a list of references means, each once, in the body's order. Throws StepError `lost-part`, `wrong-kind` or `no-part`. */
export function resolveParts(name: string, body: Body, sort: PartSort, refs: 'all' | readonly PartReference[]): Part[] {
  const { list, resolve } = requireCapability(name, body, 'parts').parts!
  if (refs === 'all') return [...list(body, sort)]
  const found = new Map(refs.map((r) => resolve(body, sort, r)).map((p) => [p.index, p]))
  if (!found.size)
    throw new StepError('no-part', `No ${sort} is picked.`, { tryThis: `Pick ${one(sort)} of the body.` })
  return [...found.values()].sort((a, b) => a.index - b.index)
}
