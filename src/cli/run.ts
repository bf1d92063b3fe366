/** `run`: a recipe without a database. */
import { mkdir, readFile } from 'node:fs/promises'
import path from 'node:path'
import { decodeBody, factsOf, kindOf } from '@/core/kinds/registry'
import { hashBytes } from '@/core/base/hash'
import { evaluate, MemoryStore, type StepReport } from '@/core/recipe/evaluate'
import { parseRecipe } from '@/core/recipe/recipe'
import type { Facts } from '@/core/step/step'
import { StepError, type ErrorReport } from '@/core/base/step-error'
import { quiet } from '@/core/base/work'
import { within } from './watch'
import { writeWhole } from './write-whole'

export interface RunReport {
  ok: boolean
  steps: {
    id: string
    kind: string
    ok: boolean
    ms: number
    facts: Facts
    warnings: readonly string[]
    error: ErrorReport | null
    off?: boolean
  }[]
  bodies: { name: string; kind: string; hash: string; facts: Facts }[]
  /** Set while steps are still to come: the run goes on, or was ended. */
  unfinished?: true
}

const told = (s: StepReport): RunReport['steps'][number] => ({
  id: s.id,
  kind: s.kind,
  ok: s.ok,
  ms: s.ms,
  facts: s.facts,
  warnings: s.warnings,
  error: s.error ?? null,
  ...(s.off ? { off: true } : {}),
})

/**
 * Runs a recipe file; files that it sends out are written as each step ends, and `onStep` is told the report as it stands then, so that
 * nothing that was done is lost where the run is ended.
 */

export async function runRecipe(
  file: string,
  { inputs, out, onStep }: { inputs: readonly string[]; out: string; onStep?: (soFar: RunReport) => Promise<void> },
): Promise<RunReport> {
  const recipe = parseRecipe(JSON.parse(await readFile(file, 'utf8')))
  const named = new Map(
    inputs.map((pair) => {
      const at = pair.indexOf('=')
      if (at < 1) throw new StepError('usage', `--in takes NAME=FILE, not "${pair}".`)
      return [pair.slice(0, at), pair.slice(at + 1)]
    }),
  )
  const store = new MemoryStore()
  const hashes = new Map<string, string | null>()
  const fileHash = async (name: string) => {
    if (!hashes.has(name)) {
      const bytes = await readFile(named.get(name) ?? path.join(path.dirname(file), name)).then(
        (b) => new Uint8Array(b),
        () => null,
      )
      const hash = bytes ? await hashBytes(bytes) : null
      if (bytes && hash) await store.keepBytes(hash, bytes)
      hashes.set(name, hash)
    }
    return hashes.get(name) ?? null
  }
  const steps: RunReport['steps'] = []
  const result = await evaluate(recipe, {
    fileHash,
    store,
    work: quiet,
    within,
    async onStep(step) {
      for (const f of step.files) {
        await mkdir(out, { recursive: true })
        await writeWhole(path.join(out, f.name), await store.bytes(f.hash))
      }
      steps.push(told(step))
      await onStep?.({ ok: false, steps: [...steps], bodies: [], unfinished: true })
    },
  })
  const bodies: RunReport['bodies'] = []
  for (const [name, hash] of result.bodies) {
    const body = decodeBody(await store.bytes(hash))
    bodies.push({
      name,
      kind: body.kind,
      hash,
      facts: (kindOf(body).check?.(body, quiet).facts ?? factsOf(body).figures) as Facts,
    })
  }
  return {
    ok: result.ok,
    steps,
    bodies,
  }
}
