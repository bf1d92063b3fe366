/** Runs quick steps beside the screen, on the same core as the server, so that their ghosts follow the hand. */
import { expose, transfer } from 'comlink'
import type { Body } from '@/core/bodies/body'
import { reportError, StepError, type ErrorReport } from '@/core/base/step-error'
import type { BodyFacts } from '@/core/kinds/kind'
import { factsOf } from '@/core/kinds/registry'
import { buffersOf, shadeBody, type Shaded } from '@/core/kinds/shade'
import { LRUCache } from 'lru-cache'
import { bodiesIn } from '@/core/step/fields'
import { runOn, type Facts } from '@/core/step/step'
import { stepOf } from '@/core/steps/registry'
import { fetchBody } from '@/bench/workers/fetch-body'
import { hereMark } from '@/bench/workers/sturdy-worker'

const held = new LRUCache<string, Promise<Body>>({ max: 12 })

function hold(hash: string): Promise<Body> {
  let b = held.get(hash)
  if (!b) {
    b = fetchBody(hash)
    held.set(hash, b)
    b.catch(() => held.delete(hash))
  }
  return b
}

export interface LiveResult {
  said: string
  facts: Facts
  warnings: readonly string[]
  error?: ErrorReport
  bodies: Record<string, { shaded: Shaded; facts: BodyFacts } | null>
}

const api = {
  /** One step over the bodies that lie on the bench, by name and content. */
  async run(
    kind: string,
    set: Record<string, unknown>,
    bench: Record<string, string>,
    coarse: boolean,
  ): Promise<LiveResult> {
    try {
      const definition = stepOf(kind)
      if (!definition) throw new StepError('unknown', 'There is no such tool.')
      const settings = definition.settings.strict().parse(set)
      const loaded = new Map<string, Body>()
      for (const name of bodiesIn(definition.settings, settings).reads) {
        if (!bench[name]) throw new StepError('no-body', `There is no body named "${name}" here.`)
        loaded.set(name, await hold(bench[name]))
      }
      const find = (name: string) => {
        const b = loaded.get(name)
        if (!b) throw new StepError('no-body', `There is no body named "${name}" here.`)
        return b
      }
      const out = await runOn(definition, settings, find, {
        names: new Set(Object.keys(bench)),
        work: { progress: () => {} },
        ...(coarse ? { coarse: true } : {}),
        file: () => Promise.reject(new StepError('no-file', 'Files are read by the server.')),
      })
      const bodies: LiveResult['bodies'] = {}
      for (const [name, body] of Object.entries(out.bodies))
        bodies[name] = body && { shaded: shadeBody(body), facts: factsOf(body) }
      const result: LiveResult = { said: out.said, facts: out.facts, warnings: out.warnings ?? [], bodies }
      return transfer(
        result,
        Object.values(bodies).flatMap((b) => (b ? buffersOf(b.shaded) : [])),
      )
    } catch (error) {
      return { said: '', facts: {}, warnings: [], bodies: {}, error: reportError(error) }
    }
  },
}

export type LiveApi = typeof api
expose(api)
postMessage(hereMark)
