/** Asks for work and stops it. The queue is graphile-worker's, in the same database. */
import { and, eq, inArray, sql } from 'drizzle-orm'
import { makeWorkerUtils, type WorkerUtils } from 'graphile-worker'
import type { Recipe } from '@/core/recipe/recipe'
import type { JobEvent } from '@/core/recipe/job-state'
import { database, type Db } from '@/server/db/client'
import { runs } from '@/server/db/schema'
import { packSettings } from '@/server/store/settings'

export const eventChannel = 'glue_bench_event'
export const cancelChannel = 'glue_bench_cancel'

const shelf = globalThis as { glueBenchQueue?: Promise<WorkerUtils> }
const queue = (): Promise<WorkerUtils> => (shelf.glueBenchQueue ??= makeWorkerUtils({ pgPool: database().pool }))

export async function tell(db: Db, job: string, event: JobEvent): Promise<void> {
  await db.execute(sql`select pg_notify(${eventChannel}, ${JSON.stringify({ job, ...event })})`)
}

/** Same steps at the start, more after them: work under way for `old` serves `next` too. */
function extendsRecipe(old: Recipe, next: Recipe): boolean {
  return old.steps.every(
    (s, i) => JSON.stringify({ ...s, title: 0 }) === JSON.stringify({ ...next.steps[i], title: 0 }),
  )
}

export async function cancelRun(db: Db, id: string): Promise<void> {
  const stopped = await db
    .update(runs)
    .set({ state: 'stopped', ended: sql`now()` })
    .where(and(eq(runs.id, id), inArray(runs.state, ['waiting', 'running'])))
    .returning({ job: runs.job, ghost: runs.ghost })
  await db.execute(sql`select pg_notify(${cancelChannel}, ${id})`)
  for (const r of stopped) await tell(db, r.job, { type: 'run', run: id, ghost: r.ghost, state: 'stopped' })
}

/** Stops what nobody waits for any more, then asks for a run. */
export async function requestRun(
  db: Db,
  job: string,
  recipe: Recipe,
  { revision, ghost = false }: { revision?: string; ghost?: boolean },
): Promise<string> {
  const kept = await packSettings(db, recipe)
  const open = await db
    .select({ id: runs.id, recipe: runs.recipe })
    .from(runs)
    .where(and(eq(runs.job, job), eq(runs.ghost, ghost), inArray(runs.state, ['waiting', 'running'])))
  for (const r of open) if (ghost || !extendsRecipe(r.recipe, kept)) await cancelRun(db, r.id)
  const [run] = await db.insert(runs).values({ job, recipe: kept, revision, ghost }).returning({ id: runs.id })
  await (
    await queue()
  ).addJob(
    'evaluate',
    { run: run.id },
    { queueName: `${ghost ? 'ghost' : 'job'}:${job}`, maxAttempts: 3, priority: ghost ? -5 : 0 },
  )
  return run.id
}

export async function requestCheckUp(hash: string, job: string): Promise<void> {
  await (await queue()).addJob('check-up', { hash, job }, { jobKey: `check-up:${hash}`, maxAttempts: 2, priority: 5 })
}
