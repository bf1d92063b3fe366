/** Hundreds of exact features (thousands in the long run) and booleans through the compute process: its kernel's memory stays bounded, and nothing is lost. */
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import { spawn, type ChildProcess } from 'node:child_process'
import { eq } from 'drizzle-orm'
import { emptyRecipe, type Recipe } from '@/core/recipe/recipe'
import { requestRun } from '@/server/compute/queue'
import { runs } from '@/server/db/schema'
import { createJob } from '@/server/store/jobs'
import { summariesOf } from '@/server/store/blobs'
import { testCluster, type TestCluster } from '@/testing/cluster'
import { longRun } from '@/testing/long'

/** MB a thread's kernel may hold; it starts with some 150. */
const bound = longRun ? 260 : 165
let cluster: TestCluster
let compute: ChildProcess
let said = ''

beforeAll(async () => {
  cluster = await testCluster()
  compute = spawn(process.execPath, ['.build/compute.mjs'], {
    env: { ...process.env, GLUE_BENCH_KERNEL_MB: String(bound) },
    stdio: ['ignore', 'ignore', 'pipe'],
  })
  compute.stderr!.on('data', (d: Buffer) => (said += d.toString()))
}, 120_000)
afterAll(async () => {
  const gone = new Promise((resolve) => compute.once('exit', resolve))
  compute.kill('SIGTERM')
  await gone
  await cluster.end()
}, 60_000)

/** A plate with ten pins cut out of it, 21 steps. */
const group = (g: number): Recipe['steps'] => [
  { id: `b${g}`, kind: 'build/block', set: { name: `plate ${g}`, size: [60, 20, 4], at: [0, 30 * g, 0] } },
  ...Array.from({ length: 10 }, (_, i) => [
    {
      id: `c${g}-${i}`,
      kind: 'build/cylinder',
      set: { name: `pin ${g} ${i}`, radius: 1 + 0.1 * i, height: 10, at: [-27 + 6 * i, 30 * g, -3] },
    },
    { id: `d${g}-${i}`, kind: 'build/difference', set: { from: `plate ${g}`, take: [`pin ${g} ${i}`] } },
  ]).flat(),
]

describe('the compute process', () => {
  it('replaces threads whose kernel holds too much, between two steps, and goes on where they were', async () => {
    const groups = longRun ? 96 : 22
    const recipe: Recipe = { ...emptyRecipe('many'), steps: Array.from({ length: groups }, (_, g) => group(g)).flat() }
    expect(recipe.steps.length).toBe(21 * groups)
    const job = await createJob(cluster.db, 'many', recipe)
    const run = await requestRun(cluster.db, job.id, recipe, { revision: job.revision })
    const row = async () => (await cluster.db.select().from(runs).where(eq(runs.id, run)))[0]
    const state = async () =>
      (await cluster.db.select({ state: runs.state }).from(runs).where(eq(runs.id, run)))[0].state
    while (['waiting', 'running'].includes(await state())) await new Promise((r) => setTimeout(r, 500))
    const now = await row()
    expect(now.steps.filter((s) => !s.ok).map((s) => s.error)).toEqual([])
    expect([now.state, now.steps.length]).toEqual(['done', recipe.steps.length])
    // The plate less ten cylinders through it: 60 x 20 x 4 - 4 pi sum of r^2.
    const holes = Array.from({ length: 10 }, (_, i) => (1 + 0.1 * i) ** 2).reduce((a, b) => a + b, 0)
    const last = new Map(now.steps.flatMap((s) => Object.entries(s.bodies)))
    const hashes = [...last.values()].filter((h): h is string => h !== null)
    expect(hashes).toHaveLength(groups)
    for (const f of Object.values(await summariesOf(cluster.db, hashes)))
      expect(f.figures.volume).toBeCloseTo(4800 - 4 * Math.PI * holes, 6)
    // WebAssembly memory grows by up to a fifth at a time.
    const replaced = [...said.matchAll(/replaced at (\d+) MB/g)].map((m) => Number(m[1]))
    expect(replaced.length).toBeGreaterThan(0)
    expect(Math.max(...replaced)).toBeLessThan(1.25 * bound)
  }, 900_000)
})
