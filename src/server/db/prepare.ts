/** Brings the database up to date: tables, queue, demo jobs. Run once before the server starts. */
import { eq, sql } from 'drizzle-orm'
import { migrate } from 'drizzle-orm/node-postgres/migrator'
import { runMigrations } from 'graphile-worker'
import path from 'node:path'
import { hashBytes } from '@/core/base/hash'
import { demoFiles, demoJobs } from '@/demo/scenario'
import { addFile, createJob, ensureRun } from '@/server/store/jobs'
import { putBlob } from '@/server/store/blobs'
import { closeDatabase, database } from './client'
import { jobs } from './schema'

async function main(): Promise<void> {
  const { db, pool } = database()
  await migrate(db, { migrationsFolder: path.resolve(import.meta.dirname, '../src/server/db/migrations') })
  await db.execute(sql`alter table blob_chunks alter column data set storage external`) // bodies do not shrink by compression
  await runMigrations({ pgPool: pool })
  if (process.argv.includes('--demo')) {
    const have = await db.select({ id: jobs.id }).from(jobs).where(eq(jobs.demo, true)).limit(1)
    if (!have.length) {
      process.stderr.write('making the demo workshop\n')
      const files = []
      for (const f of await demoFiles()) {
        const hash = await hashBytes(f.bytes)
        await putBlob(db, hash, f.bytes)
        files.push({ ...f, hash })
      }
      for (const job of [...demoJobs].reverse()) {
        const made = await createJob(db, job.recipe.title, job.recipe, { demo: true })
        for (const f of files)
          if (job.files.includes(f.name)) await addFile(db, made.id, f.name, f.hash, f.bytes.length)
        await ensureRun(db, made.id)
      }
    }
  }
  await closeDatabase()
}

main().then(
  () => process.exit(0),
  (error: Error) => {
    process.stderr.write(`The database could not be made ready: ${error.message}\n`)
    process.exit(1)
  },
)
