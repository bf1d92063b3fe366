/** `convert`: one file to another, by ending, through the same steps as everything else. */
import { readFile } from 'node:fs/promises'
import path from 'node:path'
import { hashBytes } from '@/core/base/hash'
import { evaluate, MemoryStore, type Evaluation } from '@/core/recipe/evaluate'
import { parseRecipe, type Recipe } from '@/core/recipe/recipe'
import { StepError } from '@/core/base/step-error'
import { quiet } from '@/core/base/work'
import { within } from './watch'
import { writeWhole } from './write-whole'

/** Brings one file in under the name "body". */
export async function bringIn(
  file: string,
  unit: string | undefined,
  parts?: 'together',
): Promise<{ store: MemoryStore; recipe: Recipe; run(recipe: Recipe): Promise<Evaluation> }> {
  const bytes = new Uint8Array(await readFile(file))
  const store = new MemoryStore()
  const hash = await hashBytes(bytes)
  await store.keepBytes(hash, bytes)
  const recipe = parseRecipe({
    format: 'glue-bench/recipe',
    version: 1,
    steps: [
      {
        id: 'in',
        kind: 'bring-in/file',
        set: { file: path.basename(file), name: 'body', ...(unit ? { unit } : {}), ...(parts ? { parts } : {}) },
      },
    ],
  })
  const run = async (r: Recipe) => {
    const result = await evaluate(r, { fileHash: () => Promise.resolve(hash), store, work: quiet, within })
    const failed = result.steps.find((s) => !s.ok)
    if (failed?.error) throw new StepError(failed.error.code, failed.error.message, { tryThis: failed.error.tryThis })
    return result
  }
  return { store, recipe, run }
}

export async function convertFile(from: string, to: string, unit?: string, tolerance?: number): Promise<unknown> {
  if (tolerance !== undefined && !(tolerance > 0))
    throw new StepError('usage', 'The tolerance must be a length in mm above zero.')
  const { store, recipe, run } = await bringIn(from, unit)
  const first = await run(recipe)
  const full = parseRecipe({
    ...recipe,
    steps: [
      ...recipe.steps,
      {
        id: 'out',
        kind: 'send-out/file',
        set: { bodies: [...first.bodies.keys()], file: path.basename(to), ...(tolerance ? { chord: tolerance } : {}) },
      },
    ],
  })
  const result = await run(full)
  const out = result.steps[1]
  await writeWhole(to, await store.bytes(out.files[0].hash))
  return {
    ok: true,
    read: result.steps[0].facts,
    written: out.facts,
    warnings: result.steps.flatMap((s) => s.warnings),
  }
}
