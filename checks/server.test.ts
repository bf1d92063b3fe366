/** The server's store against a PostgreSQL of its own, on loopback: history, bytes, and a database that goes away and comes back. */
import { meshBody } from '@/core/bodies/body'
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals'
import { spawnSync } from 'node:child_process'
import { chmodSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { hashBytes } from '@/core/base/hash'
import { decodeBody, encodeBody } from '@/core/kinds/registry'
import { evaluate } from '@/core/recipe/evaluate'
import { emptyRecipe, type Recipe } from '@/core/recipe/recipe'
import { quiet } from '@/core/base/work'
import { random } from '@/core/math/random'
import { database, type Db } from '@/server/db/client'
import { blobParts, getBlob, hasBlob, putBlob, summariesOf } from '@/server/store/blobs'
import {
  addFile,
  createJob,
  deleteJob,
  fileHashOf,
  jobState,
  listJobs,
  renameJob,
  revise,
  travel,
} from '@/server/store/jobs'
import { DatabaseStore } from '@/server/store/results'
import { sphere } from '@/testing/shapes'

interface Cluster {
  url: string
  port: number
  stop(): Promise<void>
}
let data: string
let cluster: Cluster
let db: Db

beforeAll(async () => {
  const { startPostgres } = (await import(path.resolve('scripts/postgres.mjs'))) as {
    startPostgres(dir: string): Promise<Cluster>
  }
  data = mkdtempSync(path.join(tmpdir(), 'glue-bench-db-'))
  chmodSync(data, 0o755) // the server's own user must reach its folder
  cluster = await startPostgres(data)
  process.env.GLUE_BENCH_DATABASE = cluster.url
  const made = spawnSync(process.execPath, ['.build/migrate.mjs'], { env: process.env, encoding: 'utf8' })
  expect(made.stderr).toBe('')
  expect(made.status).toBe(0)
  db = database(4).db
}, 90_000)
afterAll(async () => {
  await database()
    .pool.end()
    .catch(() => {})
  await cluster.stop()
  rmSync(data, { recursive: true, force: true })
})

const block = (id: string, x: number) => ({ id, kind: 'build/block', set: { name: `b${id}`, size: [x, 10, 10] } })
const recipe = (...steps: Recipe['steps']): Recipe => ({ ...emptyRecipe('t'), steps })

describe('history', () => {
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
