/**
 * A scripted job while its processes are killed at random: the database, the web server, the compute processes and what computes for them.
 * Nothing answered may be lost, and every job ends in a state its maker can act on. `GLUE_BENCH_ROUNDS=500` is the long form.
 */
import { afterAll, beforeAll, expect, it } from '@jest/globals'
import { readdirSync, readFileSync } from 'node:fs'
import { hashBytes } from '@/core/base/hash'
import { random } from '@/core/math/random'
import type { JobState } from '@/core/recipe/job-state'
import { emptyRecipe, type Recipe } from '@/core/recipe/recipe'
import { startedBench } from '@/testing/started'
import { longRun } from '@/testing/long'

const rounds = Number(process.env.GLUE_BENCH_ROUNDS ?? (longRun ? 150 : 8))
const seed = Number(process.env.GLUE_BENCH_SEED ?? 11)
let bench: Awaited<ReturnType<typeof startedBench>>
beforeAll(async () => {
  bench = await startedBench({ computeProcesses: 2 })
}, 120_000)
afterAll(() => bench.end())

const pause = (ms: number) => new Promise((r) => setTimeout(r, ms))

/** Processes that compute for the compute processes. */
function children(): number[] {
  const parents = new Set(Object.entries(bench.pids()).flatMap(([n, pid]) => (n.startsWith('compute') ? [pid] : [])))
  return readdirSync('/proc').flatMap((p) => {
    if (!/^\d+$/.test(p)) return []
    try {
      const parent = Number(/^\d+ \(.*\) \w (\d+)/.exec(readFileSync(`/proc/${p}/stat`, 'utf8'))?.[1])
      return parents.has(parent) ? [Number(p)] : []
    } catch {
      return []
    }
  })
}

/** The answer of the bench, or null when there is none: then the change may have been taken or not. */
async function ask<T>(where: string, method = 'GET', body?: BodyInit): Promise<T | null> {
  try {
    const r = await fetch(`${bench.address}${where}`, { method, body, signal: AbortSignal.timeout(20_000) })
    const value = (await r.json()) as T & { error?: { code: string } }
    if (r.ok) return value
    // Away is no answer to the change; any other refusal would be a fault.
    expect(['database-away', 'unexpected']).toContain(value.error?.code)
    return null
  } catch (error) {
    if (error instanceof Error && /toContain/.test(error.message)) throw error
    return null
  }
}
async function insist<T>(where: string): Promise<T> {
  for (let i = 0; i < 150; i++) {
    const value = await ask<T>(where)
    if (value) return value
    await pause(200)
  }
  throw new Error(`${where} did not come back`)
}

/** Steps that take a while, so that kills meet them. */
const steps = (round: number): Recipe['steps'] => [
  { id: 'a', kind: 'build/block', set: { name: 'plate', size: [60, 40, 5 + (round % 7)] } },
  ...Array.from({ length: 3 }, (_, i) => [
    {
      id: `c${i}`,
      kind: 'build/cylinder',
      set: { name: `pin ${i}`, radius: 2 + i + 0.01 * round, height: 30, at: [15 * i - 15, 0, -5] },
    },
    { id: `d${i}`, kind: 'build/difference', set: { from: 'plate', take: [`pin ${i}`] } },
  ]).flat(),
  { id: 'o', kind: 'send-out/file', set: { bodies: ['plate'], file: 'plate.stl' } },
]

it(
  `loses nothing that was answered in ${rounds} rounds of kills`,
  async () => {
    const rng = random(seed)
    const count = { answered: 0, unanswered: 0, kills: {} as Record<string, number> }
    const jobs: string[] = []
    for (let i = 0; i < 3; i++)
      jobs.push((await ask<{ id: string }>('/api/jobs', 'POST', JSON.stringify({ title: `chaos ${i}` })))!.id)
    const uploads: { job: string; name: string; hash: string }[] = []
    for (let round = 0; round < rounds; round++) {
      const job = jobs[round % jobs.length]
      const before = await insist<JobState>(`/api/jobs/${job}`)
      // Mostly a change, at times an undo or a file.
      const choice = rng.next()
      const recipe: Recipe = { ...emptyRecipe('chaos'), steps: steps(round) }
      const bytes = new TextEncoder().encode(`solid ${round}\nendsolid\n`)
      const change =
        choice < 0.6 || !before.undo
          ? ask<JobState>(
              `/api/jobs/${job}/revisions`,
              'POST',
              JSON.stringify({ base: before.revision, label: `round ${round}`, recipe }),
            )
          : choice < 0.8
            ? ask<JobState>(`/api/jobs/${job}/history`, 'POST', JSON.stringify({ go: 'undo' }))
            : ask<{ name: string; hash: string }>(`/api/jobs/${job}/files?name=f.stl`, 'POST', bytes)
      await pause(rng.next() * 400)
      const parts = Object.entries(bench.pids())
      const below = children()
      // Each kind of process as often as the others.
      const kinds = ['database', 'web', 'compute', 'child']
      const kind = kinds[Math.floor(rng.next() * kinds.length)]
      const those = kind === 'child' ? below : parts.flatMap(([n, pid]) => (n.startsWith(kind) ? [pid] : []))
      const pid = those[Math.floor(rng.next() * those.length)]
      try {
        if (pid !== undefined) {
          process.kill(pid, 'SIGKILL')
          count.kills[kind] = (count.kills[kind] ?? 0) + 1
        }
      } catch {
        // It had just ended by itself.
      }
      const answer = await change
      const after = await insist<JobState>(`/api/jobs/${job}`)
      if (answer) {
        count.answered++
        if ('revision' in answer)
          expect({ round, revision: after.revision }).toEqual({ round, revision: answer.revision })
        else {
          expect(answer.hash).toBe(await hashBytes(bytes))
          uploads.push({ job, ...answer })
        }
      } else count.unanswered++
      // Whole or not at all: the head has its run.
      if (after.recipe.steps.length)
        expect({ round, run: after.run?.state ?? 'none' }).not.toEqual({ round, run: 'none' })
    }
    for (const u of uploads) {
      const state = await insist<JobState>(`/api/jobs/${u.job}`)
      expect(state.files.find((f) => f.name === u.name)?.hash).toBe(u.hash)
      expect((await fetch(`${bench.address}/api/blobs/${u.hash}`)).ok).toBe(true)
    }
    // Left alone, every job comes to its end by itself; what a kill made fail says so, and runs when asked again.
    for (const job of jobs) {
      let state = await insist<JobState>(`/api/jobs/${job}`)
      const settled = async () => {
        for (let i = 0; i < 600 && ['waiting', 'running'].includes(state.run?.state ?? ''); i++) {
          await pause(200)
          state = await insist<JobState>(`/api/jobs/${job}`)
        }
      }
      await settled()
      expect(['done', 'failed']).toContain(state.run?.state ?? 'done')
      if (state.run?.state === 'failed') {
        expect(state.run.steps.find((s) => !s.ok)?.error?.code).toBe('crashed')
        await ask(`/api/jobs/${job}/run`, 'POST', '{}')
        state = await insist<JobState>(`/api/jobs/${job}`)
        await settled()
      }
      expect(state.run?.state ?? 'done').toBe('done')
    }
    process.stderr.write(`chaos: ${JSON.stringify({ rounds, ...count })}\n`)
    expect(count.answered).toBeGreaterThan(rounds / 4)
  },
  Math.max(300_000, rounds * 15_000),
)
