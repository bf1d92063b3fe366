/** A PostgreSQL of a test's own, on loopback, with the bench's tables in it. */
import { spawnSync } from 'node:child_process'
import { mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import path from 'node:path'
import { closeDatabase, database, type Db } from '@/server/db/client'

interface Postgres {
  url: string
  port: number
  stop(): Promise<void>
}
export interface TestCluster extends Postgres {
  /** The data folder, to start it again. */
  data: string
  db: Db
  startPostgres(data: string): Promise<Postgres>
  end(): Promise<void>
}

export async function testCluster(): Promise<TestCluster> {
  const { startPostgres } = (await import(path.resolve('scripts/postgres.mjs'))) as {
    startPostgres(dir: string): Promise<Postgres>
  }
  const data = mkdtempSync(path.join(tmpdir(), 'glue-bench-db-'))
  const started = await startPostgres(data)
  process.env.GLUE_BENCH_DATABASE = started.url
  const made = spawnSync(process.execPath, ['.build/migrate.mjs'], { env: process.env, encoding: 'utf8' })
  if (made.status !== 0 || made.stderr) throw new Error(`the tables could not be made: ${made.stderr}`)
  const cluster: TestCluster = {
    ...started,
    data,
    startPostgres,
    db: database(4).db,
    async end() {
      await closeDatabase().catch(() => {})
      await cluster.stop()
      rmSync(data, { recursive: true, force: true })
    },
  }
  return cluster
}
