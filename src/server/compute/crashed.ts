/** Ends what the queue has given up: a run whose process ended under it again and again fails, at the step that was under way. */
import { and, eq, inArray, sql } from 'drizzle-orm'
import type { Db } from '@/server/db/client'
import { runs } from '@/server/db/schema'
import { withFault } from './board'
import { finishRun } from './queue'

const words = {
  code: 'crashed',
  message: 'The computation ended unexpectedly each time it was tried; this step was under way.',
  tryThis: 'Change its settings or switch it off; everything before it is kept.',
}

/** Looks once; cheap when there is nothing. Any compute process may do it at any time. */
export async function settleCrashed(db: Db): Promise<void> {
  const { rows } = await db.execute(sql`
    select id::text as id, key from graphile_worker.jobs where attempts >= max_attempts and locked_at is null`)
  if (!rows.length) return
  const given = rows as { id: string; key: string | null }[]
  const ids = given.flatMap((r) => (r.key?.startsWith('run:') ? [r.key.slice(4)] : []))
  if (ids.length) {
    const lost = await db
      .select()
      .from(runs)
      .where(and(inArray(runs.id, ids), inArray(runs.state, ['waiting', 'running'])))
    for (const run of lost) await finishRun(db, run, 'failed', withFault(run.recipe, run.steps, words))
  }
  await db.execute(sql`select graphile_worker.complete_jobs(${sql.param(given.map((r) => r.id))}::bigint[])`)
}

/** Whether somebody still waits for a run. */
export async function stillWanted(db: Db, id: string): Promise<boolean> {
  const [row] = await db.select({ state: runs.state }).from(runs).where(eq(runs.id, id))
  return row?.state === 'waiting' || row?.state === 'running'
}
