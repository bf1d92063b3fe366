/** Runs a recipe: each step once, results kept under what they depend on, so that nothing unchanged is computed again. */
import { LRUCache } from 'lru-cache'
import { colourOf, inColour, type Body } from '@/core/bodies/body'
import { decodeBody, encodeBody, kindVersions } from '@/core/kinds/registry'
import { hashBytes, hashText } from '@/core/base/hash'
import { stepOf } from '@/core/steps/registry'
import { bodiesIn } from '@/core/step/fields'
import { valuesOf } from './values'
import { parseSettings, type Recipe, type RecipeStep } from './recipe'
import { runOn, type Facts, type StepResult } from '@/core/step/step'
import { reportError, StepError, Stopped, type ErrorReport } from '@/core/base/step-error'
import { checkStop, type Work } from '@/core/base/work'

/** A finished step as it is kept: bodies and files by content hash. */
export interface KeptResult {
  readonly bodies: Readonly<Record<string, string | null>>
  readonly facts: Facts
  readonly warnings: readonly string[]
  readonly files: readonly { readonly name: string; readonly hash: string; readonly size: number }[]
  readonly said: string
  readonly ms: number
}

/** Where results and bytes are kept. Headless runs keep them in memory, the server in the database. */
export interface ResultStore {
  result(key: string): Promise<KeptResult | null>
  keep(key: string, kind: string, result: KeptResult): Promise<void>
  bytes(hash: string): Promise<Uint8Array>
  /** Keeps bytes; `body` when they are one, so that nobody has to read them again to tell of it. */
  keepBytes(hash: string, bytes: Uint8Array, body?: Body): Promise<void>
}

export interface Environment {
  /** Content hash of a named input file, or null when there is none. */
  fileHash(name: string): Promise<string | null>
  store: ResultStore
  work: Work
  /** Called as each step ends, and waited for. */
  onStep?(report: StepReport, index: number): void | Promise<void>
  /** Told before a step that must end within so many ms, and with null after it: whoever can end it watches. */
  within?(ms: number | null): void
}

/** The store cannot be reached: no fault of a step. Whoever evaluates tries again. */
export class StoreAway extends Error {}

export interface StepReport {
  readonly id: string
  readonly kind: string
  readonly ok: boolean
  readonly off?: boolean
  readonly ms: number
  readonly cached: boolean
  readonly said: string
  readonly facts: Facts
  readonly warnings: readonly string[]
  readonly error?: ErrorReport
  readonly bodies: Readonly<Record<string, string | null>>
  readonly files: KeptResult['files']
  readonly key?: string
}

export interface Evaluation {
  readonly ok: boolean
  readonly steps: StepReport[]
  /** Body name to content hash after the last step. */
  readonly bodies: ReadonlyMap<string, string>
}

export class MemoryStore implements ResultStore {
  private readonly results = new Map<string, KeptResult>()
  private readonly blobs = new Map<string, Uint8Array>()
  result(key: string): Promise<KeptResult | null> {
    return Promise.resolve(this.results.get(key) ?? null)
  }
  keep(key: string, _kind: string, result: KeptResult): Promise<void> {
    this.results.set(key, result)
    return Promise.resolve()
  }
  bytes(hash: string): Promise<Uint8Array> {
    const b = this.blobs.get(hash)
    if (!b) throw new Error(`no bytes under ${hash}`)
    return Promise.resolve(b)
  }
  keepBytes(hash: string, bytes: Uint8Array): Promise<void> {
    this.blobs.set(hash, bytes)
    return Promise.resolve()
  }
}

/** Decoded bodies by hash, so that a chain of steps does not decode the same bytes again; bounded by bytes. */
export class BodyShelf {
  private readonly shelf: LRUCache<string, Body>
  constructor(mostBytes = 768 << 20) {
    this.shelf = new LRUCache({ maxSize: mostBytes })
  }
  get(hash: string): Body | undefined {
    return this.shelf.get(hash)
  }
  put(hash: string, body: Body, bytes: number): void {
    this.shelf.set(hash, body, { size: Math.max(1, bytes) })
  }
}

const canonical = (value: unknown): string =>
  JSON.stringify(value, (_k, v: unknown) =>
    v && typeof v === 'object' && !Array.isArray(v)
      ? Object.fromEntries(Object.entries(v).sort(([a], [b]) => (a < b ? -1 : 1)))
      : v,
  )

/** Runs `recipe` from its first step. A failed step leaves the bench as it was; later steps that need its bodies wait. */
export async function evaluate(recipe: Recipe, env: Environment, shelf = new BodyShelf()): Promise<Evaluation> {
  const bodies = new Map<string, string>()
  const waiting = new Map<string, string>()
  const steps: StepReport[] = []
  const named = valuesOf(recipe.values ?? {})
  const active = recipe.steps.filter((s) => !s.off).length
  let done = 0
  for (const [index, step] of recipe.steps.entries()) {
    checkStop(env.work)
    const started = performance.now()
    let report: StepReport
    if (step.off)
      report = {
        id: step.id,
        kind: step.kind,
        ok: true,
        off: true,
        ms: 0,
        cached: true,
        said: '',
        facts: {},
        warnings: [],
        bodies: {},
        files: [],
      }
    else {
      const work: Work = {
        signal: env.work.signal,
        progress: (share, phase) => env.work.progress((done + share) / active, phase),
      }
      try {
        const { key, result, cached } = await runStep(step, named, bodies, waiting, env, shelf, work)
        for (const [name, hash] of Object.entries(result.bodies)) {
          if (hash === null) bodies.delete(name)
          else bodies.set(name, hash)
          waiting.delete(name)
        }
        report = {
          id: step.id,
          kind: step.kind,
          ok: true,
          ms: result.ms,
          cached,
          said: result.said,
          facts: result.facts,
          warnings: result.warnings,
          bodies: result.bodies,
          files: result.files,
          key,
        }
      } catch (error) {
        if (error instanceof Stopped || error instanceof StoreAway) throw error
        const e = reportError(error)
        const definition = stepOf(step.kind)
        if (definition) {
          const { changes, makes } = bodiesIn(definition.settings, step.set)
          for (const name of [...changes, ...makes]) waiting.set(name, step.id)
        }
        report = {
          id: step.id,
          kind: step.kind,
          ok: false,
          ms: Math.round(performance.now() - started),
          cached: false,
          said: '',
          facts: {},
          warnings: [],
          error: e,
          bodies: {},
          files: [],
        }
      }
      done++
    }
    steps.push(report)
    await env.onStep?.(report, index)
  }
  return { ok: steps.every((s) => s.ok), steps, bodies }
}

/** @throws StepError `waits`, `no-body` */
function requireThere(
  reads: readonly string[],
  bodies: ReadonlyMap<string, string>,
  waiting: ReadonlyMap<string, string>,
): void {
  for (const name of reads) {
    const wait = waiting.get(name)
    if (wait)
      throw new StepError('waits', `Waits for step "${wait}", which failed: it gives "${name}".`, {
        where: { body: name },
      })
    if (!bodies.has(name))
      throw new StepError('no-body', `There is no body named "${name}" here.`, {
        where: { body: name },
        tryThis: 'Pick another body, or move this step below the one that makes it.',
      })
  }
}

/** The bodies that a step reads, from the shelf or the store. */
async function loadedBodies(
  reads: readonly string[],
  bodies: ReadonlyMap<string, string>,
  env: Environment,
  shelf: BodyShelf,
): Promise<Map<string, Body>> {
  const loaded = new Map<string, Body>()
  for (const name of reads) {
    const hash = bodies.get(name)!
    let body = shelf.get(hash)
    if (!body) {
      const bytes = await env.store.bytes(hash)
      body = decodeBody(bytes)
      shelf.put(hash, body, bytes.byteLength)
    }
    loaded.set(name, body)
  }
  return loaded
}

/** Keeps the bodies that a step made; gives their hashes by name, null for those that it took away. */
async function keptBodies(
  outcome: StepResult,
  loaded: ReadonlyMap<string, Body>,
  env: Environment,
  shelf: BodyShelf,
): Promise<Record<string, string | null>> {
  const hashes: Record<string, string | null> = {}
  for (const [name, made] of Object.entries(outcome.bodies)) {
    if (made === null) {
      hashes[name] = null
      continue
    }
    // What a step made of a body under the same name keeps its colour.
    const b = inColour(made, colourOf(loaded.get(name)))
    const bytes = encodeBody(b)
    const hash = await hashBytes(bytes)
    hashes[name] = hash
    shelf.put(hash, b, bytes.byteLength)
    await env.store.keepBytes(hash, bytes, b)
  }
  return hashes
}

/** Keeps the files that a step sends out. */
async function keptFiles(outcome: StepResult, env: Environment): Promise<KeptResult['files']> {
  const sent: { name: string; hash: string; size: number }[] = []
  for (const f of outcome.files ?? []) {
    const hash = await hashBytes(f.bytes)
    await env.store.keepBytes(hash, f.bytes)
    sent.push({ name: f.name, hash, size: f.bytes.length })
  }
  return sent
}

async function runStep(
  step: RecipeStep,
  named: ReadonlyMap<string, number>,
  bodies: ReadonlyMap<string, string>,
  waiting: ReadonlyMap<string, string>,
  env: Environment,
  shelf: BodyShelf,
  work: Work,
): Promise<{ key: string; result: KeptResult; cached: boolean }> {
  const settings = parseSettings(step, named)
  const definition = stepOf(step.kind)!
  const { reads, makes, files } = bodiesIn(definition.settings, settings)
  requireThere(reads, bodies, waiting)
  const fileName = files[0] ?? null
  const fileHash = fileName ? await env.fileHash(fileName) : null
  if (fileName && !fileHash)
    throw new StepError('no-file', `The file "${fileName}" is not here.`, { tryThis: 'Add it to the job.' })
  // New names clash with what stands on the bench, so those names belong to what the result depends on.
  const taken = definition.namesItself ? [...bodies.keys()].sort() : makes.filter((m) => bodies.has(m))
  const read = Object.fromEntries(reads.map((n) => [n, bodies.get(n)!]))
  const key = await hashText(
    canonical({ kind: step.kind, version: definition.version, settings, read, fileHash, taken, kinds: kindVersions() }),
  )
  const kept = await env.store.result(key)
  if (kept) return { key, result: kept, cached: true }
  const started = performance.now()
  const loaded = await loadedBodies(reads, bodies, env, shelf)
  const find = (name: string) => {
    const b = loaded.get(name)
    if (!b) throw new StepError('no-body', `There is no body named "${name}" here.`)
    return b
  }
  let outcome: StepResult
  try {
    outcome = await runOn(definition, settings, find, {
      work,
      names: new Set(bodies.keys()),
      file: async (name) => {
        if (name !== fileName || !fileHash) throw new StepError('no-file', `The file "${name}" is not here.`)
        const bytes = await env.store.bytes(fileHash)
        if (definition.patience) env.within?.(definition.patience(bytes.length))
        return bytes
      },
    })
  } finally {
    // However it ended: the next step is not to pay for this one's file.
    if (definition.patience) env.within?.(null)
  }
  const result: KeptResult = {
    bodies: await keptBodies(outcome, loaded, env, shelf),
    facts: outcome.facts,
    warnings: outcome.warnings ?? [],
    files: await keptFiles(outcome, env),
    said: outcome.said,
    ms: Math.round(performance.now() - started),
  }
  await env.store.keep(key, step.kind, result)
  return { key, result, cached: false }
}
