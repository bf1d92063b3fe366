/** `checkup`: the facts of one file. */
import { quiet } from '@/core/base/work'
import { decodeBody, factsOf, kindOf } from '@/core/kinds/registry'
import { bringIn } from './convert'

/** The check-up facts of a file; a list of them when it holds several exact bodies. Meshes of one file are checked together. */
export async function checkupFile(file: string, unit?: string): Promise<unknown> {
  const { store, recipe, run } = await bringIn(file, unit, 'together')
  const result = await run(recipe)
  const all = []
  for (const hash of result.bodies.values()) {
    const body = decodeBody(await store.bytes(hash))
    all.push(kindOf(body).check?.(body, quiet).facts ?? factsOf(body).figures)
  }
  return all.length === 1 ? all[0] : all
}
