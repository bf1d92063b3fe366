/** The bench under load: many readers, very long recipes, and bodies whose picture takes long. */
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import http from 'node:http'
import type { JobState } from '@/core/recipe/job-state'
import type { Recipe } from '@/core/recipe/recipe'
import { startedBench } from '@/testing/started'

let bench: Awaited<ReturnType<typeof startedBench>>
beforeAll(async () => {
  bench = await startedBench()
}, 180_000)
afterAll(() => bench.end())

async function ask<T>(where: string, body?: unknown): Promise<T> {
  const r = await fetch(
    `${bench.address}${where}`,
    body === undefined ? {} : { method: 'POST', body: JSON.stringify(body) },
  )
  const value = (await r.json()) as T & { error?: unknown }
  if (!r.ok) throw new Error(JSON.stringify(value.error))
  return value
}
const recipe = (...steps: Recipe['steps']) => ({ format: 'glue-bench/recipe', version: 1, title: 't', steps })
const block = (id: string, x: number) => ({ id, kind: 'build/block', set: { name: `b${id}`, size: [x, 10, 10] } })
async function finished(job: string): Promise<JobState> {
  for (;;) {
    const state = await ask<JobState>(`/api/jobs/${job}`)
    if (state.run && !['waiting', 'running'].includes(state.run.state)) return state
    await new Promise((r) => setTimeout(r, 100))
  }
}

/** Sends `rate` requests a second for some seconds, whether answers come or not. Gives the times to the answers' ends, ms, sorted. */
async function load(
  paths: readonly string[],
  rate: number,
  seconds: number,
): Promise<{ times: number[]; bad: number }> {
  const agent = new http.Agent({ keepAlive: true, maxSockets: 64 })
  const times: number[] = []
  let bad = 0
  const one = (path: string) =>
    new Promise<void>((resolve) => {
      const from = performance.now()
      http
        .get(bench.address + path, { agent }, (r) => {
          if (r.statusCode !== 200) bad++
          r.resume()
          r.on('end', () => {
            times.push(performance.now() - from)
            resolve()
          })
        })
        .on('error', () => {
          bad++
          resolve()
        })
    })
  const all: Promise<void>[] = []
  const begun = performance.now()
  for (let now = 0; now < 1000 * seconds; now = performance.now() - begun) {
    while (all.length < (now / 1000) * rate) all.push(one(paths[all.length % paths.length]))
    await new Promise((r) => setTimeout(r, 4))
  }
  await Promise.all(all)
  agent.destroy()
  return { times: times.sort((a, b) => a - b), bad }
}

describe('reads', () => {
  it('500 a second, 95 of 100 answered within 100 ms', async () => {
    const { id } = await ask<{ id: string }>('/api/jobs', {
      title: 'read',
      recipe: recipe(...Array.from({ length: 12 }, (_, i) => block(`s${i}`, 10 + i))),
    })
    const state = await finished(id)
    const blob = Object.values(state.run!.steps[0].bodies)[0]!
    const paths = [`/api/jobs/${id}`, '/api/jobs', `/api/blobs/${blob}`]
    // The machine may be busy with something else for a moment: the best of three counts.
    const tails: number[] = []
    for (let i = 0; i < 3 && !(tails.at(-1)! < 100); i++) {
      const { times, bad } = await load(paths, 500, 4)
      expect(bad).toBe(0)
      expect(times.length).toBeGreaterThan(1800)
      tails.push(times[Math.floor(0.95 * times.length)])
    }
    process.stderr.write(
      `load: 95 of 100 of 500 reads a second within ${tails.map((t) => t.toFixed(1)).join(', ')} ms\n`,
    )
    expect(Math.min(...tails)).toBeLessThan(100)
  }, 60_000)

  it('never tell of what was before an answered change', async () => {
    const { id } = await ask<{ id: string }>('/api/jobs', { title: 'fresh' })
    const reader = { on: true }
    const reading = (async () => {
      while (reader.on) await ask(`/api/jobs/${id}`)
    })()
    let base = (await ask<JobState>(`/api/jobs/${id}`)).revision
    for (let i = 0; i < 60; i++) {
      const made = await ask<JobState>(`/api/jobs/${id}/revisions`, {
        base,
        label: `${i}`,
        recipe: recipe(block('a', i + 1)),
      })
      base = made.revision
      expect((await ask<JobState>(`/api/jobs/${id}`)).revision).toBe(base)
      if (i % 10 === 0) {
        const title = `fresh ${i}`
        await fetch(`${bench.address}/api/jobs/${id}`, { method: 'PATCH', body: JSON.stringify({ title }) })
        expect((await ask<{ id: string; title: string }[]>('/api/jobs')).find((j) => j.id === id)!.title).toBe(title)
      }
    }
    reader.on = false
    await reading
    // What another process changes is told too: the run comes to its end in what is read.
    expect((await finished(id)).run!.state).toBe('done')
  }, 120_000)
})

describe('long recipes', () => {
  it('of 5 000 failing steps take five times as long as 1 000, not twenty-five times', async () => {
    const time = async (n: number) => {
      const steps = Array.from({ length: n }, (_, i) => ({ id: `s${i}`, kind: 'mend/all', set: { body: `none ${i}` } }))
      const from = performance.now()
      const { id } = await ask<{ id: string }>('/api/jobs', { title: `${n}`, recipe: recipe(...steps) })
      const state = await finished(id)
      expect([state.run!.state, state.run!.steps.length]).toEqual(['failed', n])
      return performance.now() - from
    }
    await time(200)
    const small = await time(1000),
      large = await time(5000)
    process.stderr.write(`long recipes: 1 000 failing steps ${Math.round(small)} ms, 5 000 ${Math.round(large)} ms\n`)
    expect(large).toBeLessThan(9 * small + 1000)
    expect(large).toBeLessThan(30_000)
  }, 180_000)
})

describe('pictures', () => {
  it('hold up no edit: a change is done while the picture of thin triangles is still to come', async () => {
    // A disc of very thin triangles round its middle.
    const n = 32_000
    const rim = Array.from(
      { length: n },
      (_, i) => `v ${50 * Math.cos((2 * Math.PI * i) / n)} ${50 * Math.sin((2 * Math.PI * i) / n)} 0`,
    )
    const faces = Array.from({ length: n }, (_, i) => `f 1 ${i + 2} ${((i + 1) % n) + 2}`)
    const { id } = await ask<{ id: string }>('/api/jobs', { title: 'disc' })
    const file = await fetch(`${bench.address}/api/jobs/${id}/files?name=disc.obj`, {
      method: 'POST',
      body: `v 0 0 0\n${rim.join('\n')}\n${faces.join('\n')}\n`,
    })
    expect(file.ok).toBe(true)
    const bring = { id: 's1', kind: 'bring-in/file', set: { file: 'disc.obj', name: 'disc' } }
    const first = await ask<JobState>(`/api/jobs/${id}`)
    const one = await ask<JobState>(`/api/jobs/${id}/revisions`, {
      base: first.revision,
      label: 'disc',
      recipe: recipe(bring),
    })
    expect((await finished(id)).run!.state).toBe('done')
    const from = performance.now()
    await ask<JobState>(`/api/jobs/${id}/revisions`, {
      base: one.revision,
      label: 'block',
      recipe: recipe(bring, block('s2', 10)),
    })
    expect((await finished(id)).run!.state).toBe('done')
    expect(performance.now() - from).toBeLessThan(5000)
    const picture = async () =>
      (await ask<{ id: string; picture: string | null }[]>('/api/jobs')).find((j) => j.id === id)!.picture
    for (let i = 0; i < 300 && !(await picture()); i++) await new Promise((r) => setTimeout(r, 100))
    expect(await picture()).toMatch(/^[0-9a-f]{64}$/)
  }, 120_000)
})
