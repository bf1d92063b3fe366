/** The server's store against a PostgreSQL of its own, on loopback: history, bytes, and a database that goes away and comes back. */
import { meshBody } from '@/core/bodies/body'
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import { hashBytes } from '@/core/base/hash'
import { decodeBody, encodeBody } from '@/core/kinds/registry'
import { evaluate } from '@/core/recipe/evaluate'
import { emptyRecipe, type Recipe } from '@/core/recipe/recipe'
import { quiet } from '@/core/base/work'
import { random } from '@/core/math/random'
import type { Db } from '@/server/db/client'
import { blobParts, getBlob, hasBlob, putBlob, summariesOf } from '@/server/store/blobs'
import {
  addFile,
  createJob,
  deleteJob,
  ensureRun,
  fileHashOf,
  jobState,
  listJobs,
  renameJob,
  rerun,
  revise,
  travel,
} from '@/server/store/jobs'
import { prune } from '@/server/store/prune'
import { DatabaseStore } from '@/server/store/results'
import { settleCrashed, stillWanted } from '@/server/compute/crashed'
import { Locks } from '@/server/compute/locks'
import { cancelChannel, requestCheckUp, requestRun, runKey } from '@/server/compute/queue'
import { runs } from '@/server/db/schema'
import { eq, sql } from 'drizzle-orm'
import { Client } from 'pg'
import { testCluster, type TestCluster } from '@/testing/cluster'
import { sphere } from '@/testing/shapes'

let cluster: TestCluster
let db: Db

beforeAll(async () => {
  cluster = await testCluster()
  db = cluster.db
}, 90_000)
afterAll(() => cluster.end())

const block = (id: string, x: number) => ({ id, kind: 'build/block', set: { name: `b${id}`, size: [x, 10, 10] } })
const recipe = (...steps: Recipe['steps']): Recipe => ({ ...emptyRecipe('t'), steps })

describe('history', () => {
  it('undo and redo are inverse: by chance, each brings back what the other left, to the ends and back', async () => {
    const { next } = random(7)
    const job = await createJob(db, 'there and back')
    const seen = [{ revision: job.revision, recipe: recipe() }]
    for (let i = 0; i < 8; i++) {
      const steps = Array.from({ length: 1 + Math.floor(3 * next()) }, (_, k) =>
        block(`${i}${k}`, 1 + Math.floor(9 * next())),
      )
      const { revision } = await revise(db, job.id, seen.at(-1)!.revision, recipe(...steps), `Change ${i}`)
      seen.push({ revision, recipe: recipe(...steps) })
    }
    let at = seen.length - 1
    const go = async (way: 'undo' | 'redo') => {
      const there = await travel(db, job.id, way)
      at += way === 'undo' ? -1 : 1
      expect(there.revision).toBe(seen[at].revision)
      expect(there.recipe.steps).toEqual(seen[at].recipe.steps)
    }
    for (let k = 0; k < 40; k++) {
      const way = (next() < 0.5 && at > 0) || at === seen.length - 1 ? 'undo' : 'redo'
      await go(way)
      // The other way and this once more: as if nothing had been.
      if (at > 0 && at < seen.length - 1) {
        await go(way === 'undo' ? 'redo' : 'undo')
        await go(way)
      }
    }
    while (at > 0) await go('undo')
    while (at < seen.length - 1) await go('redo')
    expect((await jobState(db, job.id)).recipe.steps).toEqual(seen.at(-1)!.recipe.steps)
  })
  it('goes back and forth, branches without losing a revision, and refuses what is out of date', async () => {
    const job = await createJob(db, 'history')
    const one = await revise(db, job.id, job.revision, recipe(block('a', 10)), 'Block')
    const two = await revise(db, job.id, one.revision, recipe(block('a', 10), block('b', 20)), 'Block')
    expect((await travel(db, job.id, 'undo')).recipe.steps).toHaveLength(1)
    expect((await travel(db, job.id, 'undo')).recipe.steps).toHaveLength(0)
    await expect(travel(db, job.id, 'undo')).rejects.toThrow(/nothing to undo/)
    await travel(db, job.id, 'redo')
    expect((await travel(db, job.id, 'redo')).revision).toBe(two.revision)
    await travel(db, job.id, 'undo')
    const other = await revise(db, job.id, one.revision, recipe(block('a', 10), block('c', 30)), 'Other')
    await travel(db, job.id, 'undo')
    // Redo goes along the newest branch.
    expect((await travel(db, job.id, 'redo')).revision).toBe(other.revision)
    await expect(revise(db, job.id, one.revision, recipe(), 'late')).rejects.toThrow(/changed elsewhere/)
    await expect(revise(db, job.id, other.revision, { format: 'x' }, 'bad')).rejects.toThrow()
    expect((await jobState(db, job.id)).recipe.steps.map((s) => s.id)).toEqual(['a', 'c'])
  })
  it('two changes at once: one wins, the other is told', async () => {
    const job = await createJob(db, 'race')
    const both = await Promise.allSettled(
      [1, 2].map((i) => revise(db, job.id, job.revision, recipe(block('a', 10 * i)), `r${i}`)),
    )
    expect(both.map((r) => r.status).sort()).toEqual(['fulfilled', 'rejected'])
  })
  it('jobs are listed, renamed, deleted; what is not there is said', async () => {
    const job = await createJob(db, 'first name')
    await renameJob(db, job.id, 'second name')
    expect((await listJobs(db)).find((j) => j.id === job.id)).toMatchObject({ title: 'second name', steps: 0 })
    await deleteJob(db, job.id)
    await expect(jobState(db, job.id)).rejects.toThrow(/does not exist/)
    await expect(renameJob(db, job.id, 'x')).rejects.toThrow(/does not exist/)
  })
})

describe('changes and their runs', () => {
  const queued = async (run: string) =>
    (await db.execute(sql`select attempts, max_attempts from graphile_worker.jobs where key = ${runKey(run)}`)).rows
  const stateOf = async (run: string) => (await db.select().from(runs).where(eq(runs.id, run)))[0]

  it('undo asked for many times at once answers in order', async () => {
    const job = await createJob(db, 'many undos')
    let base = job.revision
    for (let i = 1; i <= 12; i++) base = (await revise(db, job.id, base, recipe(block('a', i)), `r${i}`)).revision
    const all = await Promise.all(Array.from({ length: 12 }, () => travel(db, job.id, 'undo')))
    expect(all.map((t) => t.recipe.steps[0]?.set.size?.[0 as never] ?? 0).sort((a, b) => a - b)).toEqual(
      Array.from({ length: 12 }, (_, i) => i),
    )
  })
  it('come together or not at all', async () => {
    const job = await createJob(db, 'one transaction')
    await db.execute(sql`alter function graphile_worker.add_job rename to add_job_away`)
    try {
      await expect(revise(db, job.id, job.revision, recipe(block('a', 1)), 'lost')).rejects.toThrow()
    } finally {
      await db.execute(sql`alter function graphile_worker.add_job_away rename to add_job`)
    }
    expect((await jobState(db, job.id)).revision).toBe(job.revision)
    const made = await revise(db, job.id, job.revision, recipe(block('a', 1)), 'kept')
    expect(await queued(made.run)).toHaveLength(1)
    expect((await jobState(db, job.id)).run).toMatchObject({ id: made.run, state: 'waiting' })
  })
  it('are held while the maker says so: what was made stays to be seen, nothing is queued, and letting go runs all', async () => {
    const job = await createJob(db, 'held')
    const first = await revise(db, job.id, job.revision, recipe(block('a', 1), block('b', 2)), 'Blocks')
    const told = (id: string) => ({
      id,
      kind: 'build/block',
      ok: true,
      ms: 1,
      cached: false,
      said: id,
      facts: {},
      warnings: [],
      bodies: { [`b${id}`]: null },
      files: [],
    })
    await db
      .update(runs)
      .set({ state: 'done', steps: [told('a'), told('b')] })
      .where(eq(runs.id, first.run))
    const second = await revise(db, job.id, first.revision, recipe(block('a', 5)), 'Change', true)
    expect(await queued(second.run)).toHaveLength(0)
    const held = (await jobState(db, job.id)).run!
    // The step that went is not shown any more; the other as it was made last.
    expect(held).toMatchObject({ id: second.run, state: 'stopped', phase: 'held' })
    expect(held.steps.map((s) => s.id)).toEqual(['a'])
    // Looking at the job does not let it go.
    await ensureRun(db, job.id)
    expect((await jobState(db, job.id)).run!.id).toBe(second.run)
    await rerun(db, job.id)
    const after = (await jobState(db, job.id)).run!
    expect(after.state).toBe('waiting')
    expect(await queued(after.id)).toHaveLength(1)
  })
  it('held changes stop what was under way, and are taken back like others', async () => {
    const job = await createJob(db, 'held and undone')
    const first = await revise(db, job.id, job.revision, recipe(block('a', 1)), 'Block')
    await revise(db, job.id, first.revision, recipe(block('a', 2)), 'Change', true)
    expect((await stateOf(first.run)).state).toBe('stopped')
    expect(await queued(first.run)).toHaveLength(0)
    expect((await travel(db, job.id, 'undo')).revision).toBe(first.revision)
    expect((await jobState(db, job.id)).run!.state).toBe('waiting')
  })
  it('a head without a run gets one when it is looked at, and a run that is in no queue goes back to it', async () => {
    const job = await createJob(db, 'no run', recipe(block('a', 1)))
    expect((await jobState(db, job.id)).run).toBeNull()
    await ensureRun(db, job.id)
    const { run } = await jobState(db, job.id)
    expect(await queued(run!.id)).toHaveLength(1)
    await db.execute(sql`select graphile_worker.remove_job(${runKey(run!.id)})`)
    await Promise.all([ensureRun(db, job.id), ensureRun(db, job.id)])
    expect((await jobState(db, job.id)).run!.id).toBe(run!.id)
    expect(await queued(run!.id)).toHaveLength(1)
  })
  it('deleting a job ends its runs and takes them from the queue', async () => {
    const job = await createJob(db, 'deleted', recipe(block('a', 1)), { run: true })
    const ghost = await requestRun(db, job.id, recipe(block('g', 1)), { ghost: true })
    const run = (await jobState(db, job.id)).run!.id
    const heard: string[] = []
    const client = new Client({ connectionString: cluster.url })
    await client.connect()
    await client.query(`listen ${cancelChannel}`)
    client.on('notification', (n) => heard.push(n.payload ?? ''))
    await deleteJob(db, job.id)
    await client.query('select 1')
    await client.end()
    expect(heard.sort()).toEqual([run, ghost].sort())
    expect([await queued(run), await queued(ghost), await stillWanted(db, run)]).toEqual([[], [], false])
  })
  it('a run whose process ended each time it was tried fails, at the step that was under way', async () => {
    const job = await createJob(db, 'crash', recipe(block('a', 1), block('b', 2)), { run: true })
    const run = (await jobState(db, job.id)).run!.id
    const first = (
      await evaluate(recipe(block('a', 1)), {
        fileHash: () => Promise.resolve(null),
        store: new DatabaseStore(db),
        work: quiet,
      })
    ).steps
    await db.update(runs).set({ state: 'running', steps: first }).where(eq(runs.id, run))
    await settleCrashed(db)
    expect((await stateOf(run)).state).toBe('running') // it may still be tried
    await db.execute(sql`update graphile_worker._private_jobs set attempts = max_attempts where key = ${runKey(run)}`)
    await settleCrashed(db)
    const now = await stateOf(run)
    expect([now.state, now.steps.length, now.steps[1].id, now.steps[1].error?.code]).toEqual([
      'failed',
      2,
      'b',
      'crashed',
    ])
    expect(await queued(run)).toEqual([])
  })
  it('a task locked by a process that never heard of it is freed, one under way is not', async () => {
    const job = await createJob(db, 'lost lock', recipe(block('a', 1)), { run: true })
    const run = (await jobState(db, job.id)).run!.id
    const lock = (pool: string) => sql`
      with q as (update graphile_worker._private_job_queues set locked_at = now() - interval '1 minute', locked_by = ${pool}
        where queue_name = ${`job:${job.id}`} returning id)
      update graphile_worker._private_jobs j set locked_at = now() - interval '1 minute', locked_by = ${pool}
      where j.key = ${runKey(run)} and exists (select 1 from q) returning j.id::text as id`
    const locked = async () =>
      (
        await db.execute(sql`
          select j.locked_by as job, q.locked_by as queue from graphile_worker._private_jobs j
          join graphile_worker._private_job_queues q on q.id = j.job_queue_id where j.key = ${runKey(run)}`)
      ).rows[0]
    const [{ id }] = (await db.execute(lock('pool-alive'))).rows as { id: string }[]
    const locks = new Locks()
    await locks.during(id, async () => {
      await locks.freeLost(db, ['pool-alive'])
      expect(await locks.freeLost(db, ['pool-alive'])).toBe(0)
    })
    expect(await locked()).toEqual({ job: 'pool-alive', queue: 'pool-alive' })
    expect(await locks.freeLost(db, ['pool-alive'])).toBe(0) // it may be on its way out
    expect(await locks.freeLost(db, ['pool-alive'])).toBe(1)
    expect(await locked()).toEqual({ job: null, queue: null })
    // Nobody takes it here: a process that does nothing meanwhile has lost its queue, one that works has not.
    await db.execute(
      sql`update graphile_worker._private_jobs set run_at = now() - interval '1 minute' where id = ${id}`,
    )
    await locks.during('another', async () => {
      expect([await locks.overlooks(db), await locks.overlooks(db)]).toEqual([false, false])
    })
    expect([await locks.overlooks(db), await locks.overlooks(db)]).toEqual([false, true])
  })
  it('a queue entry that failed for good does not stay', async () => {
    await requestCheckUp(db, 'e'.repeat(64), (await createJob(db, 'q')).id)
    await db.execute(
      sql`update graphile_worker._private_jobs set attempts = max_attempts where key = ${'check-up:' + 'e'.repeat(64)}`,
    )
    await settleCrashed(db)
    expect((await db.execute(sql`select 1 from graphile_worker.jobs where attempts >= max_attempts`)).rows).toEqual([])
  })
  it('what is answered is on the disk: commits wait for it', async () => {
    expect((await db.execute(sql`show synchronous_commit`)).rows).toEqual([{ synchronous_commit: 'on' }])
  })
})

describe('bytes', () => {
  it('come back whole from parts of 4 MB, once however often they are stored', async () => {
    const rng = random(2)
    const bytes = Uint8Array.from({ length: 9_000_001 }, () => 256 * rng.next())
    const hash = await hashBytes(bytes)
    await Promise.all([putBlob(db, hash, bytes), putBlob(db, hash, bytes)])
    expect(Buffer.from(await getBlob(db, hash)).equals(Buffer.from(bytes))).toBe(true)
    let parts = 0
    for await (const part of blobParts(db, hash)) {
      parts++
      expect(part.length).toBeLessThanOrEqual(4 << 20)
    }
    expect(parts).toBe(3)
    expect(await hasBlob(db, 'f'.repeat(64))).toBe(false)
    await expect(getBlob(db, 'f'.repeat(64))).rejects.toThrow(/no bytes/)
  })
  it('a file name with other bytes gets a number, the same bytes keep it', async () => {
    const job = await createJob(db, 'files')
    for (const [n, text] of [
      ['a.stl', 'one'],
      ['a.stl', 'two'],
      ['a.stl', 'one'],
    ]) {
      const bytes = new TextEncoder().encode(text)
      const hash = await hashBytes(bytes)
      await putBlob(db, hash, bytes)
      expect(await addFile(db, job.id, n, hash, bytes.length)).toBe(text === 'two' ? 'a 2.stl' : 'a.stl')
      expect(await fileHashOf(db, job.id, text === 'two' ? 'a 2.stl' : 'a.stl')).toBe(hash)
    }
    expect(await fileHashOf(db, job.id, 'none.stl')).toBeNull()
  })
  it('uploads of one name at once are each told a name that holds their bytes', async () => {
    const job = await createJob(db, 'upload race')
    const hashes = Array.from({ length: 40 }, (_, i) => String(i % 20).padStart(64, '0'))
    const names = await Promise.all(hashes.map((h) => addFile(db, job.id, 'part.stl', h, 5)))
    for (const [i, name] of names.entries()) expect(await fileHashOf(db, job.id, name)).toBe(hashes[i])
    expect(new Set(names).size).toBe(20)
  })
  it('a body is kept with its summary', async () => {
    const bytes = encodeBody(meshBody(sphere(10, 3)))
    const hash = await hashBytes(bytes)
    await new DatabaseStore(db).keepBytes(hash, bytes, decodeBody(bytes))
    expect((await summariesOf(db, [hash]))[hash]).toMatchObject({
      kind: 'mesh',
      sound: true,
      figures: { triangles: 512 },
    })
  })
})

describe('evaluation over the database', () => {
  it('keeps results: the second run computes nothing, another process finds them too', async () => {
    const env = { fileHash: () => Promise.resolve(null), store: new DatabaseStore(db), work: quiet }
    const steps = recipe(block('a', 10), block('b', 20), {
      id: 'u',
      kind: 'build/union',
      set: { bodies: ['ba', 'bb'] },
    })
    const first = await evaluate(steps, env)
    expect(first.ok).toBe(true)
    const again = await evaluate(steps, { ...env, store: new DatabaseStore(db) })
    expect(again.steps.every((s) => s.cached)).toBe(true)
    expect([...again.bodies]).toEqual([...first.bodies])
  })
})

describe('large settings', () => {
  const region = Array.from({ length: 200 }, (_, i) => ({ pick: 'grow', mode: 'add', at: [i, 0, 0.125], angle: 12 }))
  it('are kept once, by content, and nobody sees the difference', async () => {
    const recipeWithRegion = recipe(block('a', 10), { id: 'r', kind: 'mend/remove', set: { body: 'ba', region } })
    const job = await createJob(db, 'large')
    let base = job.revision
    for (const label of ['one', 'two', 'three'])
      base = (await revise(db, job.id, base, { ...recipeWithRegion, title: label }, label)).revision
    expect((await jobState(db, job.id)).recipe.steps[1].set.region).toEqual(region)
    const back = await travel(db, job.id, 'undo')
    expect(back.recipe.steps[1].set.region).toEqual(region)
    const { rows } = await db.execute(sql`select length(recipe::text) as n from revisions where job = ${job.id}`)
    for (const r of rows as { n: number }[]) expect(r.n).toBeLessThan(1500)
  })
})

describe('pruning', () => {
  it('takes ghosts, superseded runs and unreferenced bytes, and nothing that undo can reach', async () => {
    const made = recipe(block('p', 11))
    const job = await createJob(db, 'prune', made)
    const store = new DatabaseStore(db)
    const runOnce = async (r: Recipe, ghost: boolean, revision?: string) => {
      const result = await evaluate(r, { fileHash: () => Promise.resolve(null), store, work: quiet })
      await db.insert(runs).values({ job: job.id, recipe: r, ghost, revision, state: 'done', steps: result.steps })
      return result.bodies.get('bp') ?? [...result.bodies.values()][0]
    }
    const first = await runOnce(made, false, job.revision)
    const next = recipe(block('p', 12))
    const second = await revise(db, job.id, job.revision, next, 'wider')
    const now = await runOnce(next, false, second.revision)
    await runOnce(next, false, second.revision) // the same again: the earlier one is superseded
    const tried = await runOnce(recipe(block('p', 13)), true)
    const stray = encodeBody(meshBody(sphere(3, 1)))
    const lost = await hashBytes(stray)
    await putBlob(db, lost, stray)
    // Young things stay, whoever refers to them.
    expect(await prune(db)).toMatchObject({ blobs: 0, results: 0 })
    expect(await hasBlob(db, tried)).toBe(true)
    const done = await prune(db, '0 seconds')
    expect(done.runs).toBeGreaterThanOrEqual(2)
    expect(done.bytes).toBeGreaterThanOrEqual(stray.length)
    expect([await hasBlob(db, first), await hasBlob(db, now)]).toEqual([true, true])
    expect([await hasBlob(db, tried), await hasBlob(db, lost)]).toEqual([false, false])
    // Undo finds its bodies, with their facts; and nothing has to be computed again.
    await travel(db, job.id, 'undo')
    const state = await jobState(db, job.id)
    expect((await summariesOf(db, [first]))[first]).toMatchObject({ kind: 'solid', sound: true })
    const again = await evaluate(state.recipe, { fileHash: () => Promise.resolve(null), store, work: quiet })
    expect(again.steps.every((s) => s.cached)).toBe(true)
    // With the job everything of it goes.
    await deleteJob(db, job.id)
    await prune(db, '0 seconds')
    expect([await hasBlob(db, first), await hasBlob(db, now)]).toEqual([false, false])
  })
})
