/** Large settings (drawn regions, lines) are kept once, by content, and not copied into every revision and run of a job. */
import { hashText } from '@/core/base/hash'
import type { Recipe } from '@/core/recipe/recipe'
import type { Db } from '@/server/db/client'
import { getBlob, putBlob } from './blobs'

/** A setting with a longer text than this is kept apart, characters. */
const longest = 2048
const mark = '$kept'

/** A setting that is kept apart: its content hash. */
export interface KeptSetting {
  [mark]: string
}
const isKept = (v: unknown): v is KeptSetting =>
  typeof v === 'object' && v !== null && typeof (v as Partial<KeptSetting>)[mark] === 'string'

async function eachSetting(recipe: Recipe, change: (v: unknown) => Promise<unknown>): Promise<Recipe> {
  const steps = []
  for (const step of recipe.steps) {
    const entries: [string, unknown][] = []
    for (const [k, v] of Object.entries(step.set)) entries.push([k, await change(v)])
    steps.push({ ...step, set: Object.fromEntries(entries) })
  }
  return { ...recipe, steps }
}

/** The recipe as rows keep it. */
export function packSettings(db: Db, recipe: Recipe): Promise<Recipe> {
  return eachSetting(recipe, async (v) => {
    if (typeof v !== 'object' || v === null || isKept(v)) return v
    const text = JSON.stringify(v)
    if (text.length <= longest) return v
    const hash = await hashText(text)
    await putBlob(db, hash, new TextEncoder().encode(text))
    return { [mark]: hash } satisfies KeptSetting
  })
}

/** The recipe as everybody else knows it. */
export async function unpackSettings(db: Db, recipe: Recipe): Promise<Recipe> {
  if (!keptSettings(recipe).length) return recipe
  const known = new Map<string, unknown>()
  return eachSetting(recipe, async (v) => {
    if (!isKept(v)) return v
    const hash = v[mark]
    if (!known.has(hash)) known.set(hash, JSON.parse(new TextDecoder().decode(await getBlob(db, hash))))
    return known.get(hash)
  })
}

/** Hashes of the settings that a recipe keeps apart. */
export const keptSettings = (recipe: Recipe): string[] =>
  recipe.steps.flatMap((s) => Object.values(s.set).flatMap((v) => (isKept(v) ? [v[mark]] : [])))
