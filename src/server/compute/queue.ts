/** Asks for work and stops it. The queue is graphile-worker's, in the same database, so that asking is part of the change that asks. */
import { and, desc, eq, inArray, sql } from 'drizzle-orm'
import type { Recipe } from '@/core/recipe/recipe'
import type { StepReport } from '@/core/recipe/evaluate'
import type { JobEvent } from '@/core/recipe/job-state'
import type { Db, Tx } from '@/server/db/client'
import { jobs, runs, type RunState } from '@/server/db/schema'
import { packSettings } from '@/server/store/settings'

export const eventChannel = 'glue_bench_event'
export const cancelChannel = 'glue_bench_cancel'

/** How often a run is tried whose compute process, or database, ends under it. */
export const mostAttempts = 4
const open: RunState[] = ['waiting', 'running']
export const runKey = (run: string): string => `run:${run}`

/** Tells all who watch a job; in a transaction, when it is done. */
export async function tell(db: Tx, job: string, event: JobEvent): Promise<void> {
  await db.execute(sql`select pg_notify(${eventChannel}, ${JSON.stringify({ job, ...event })})`)
}

async function addJob(
  db: Tx,
  task: string,
  payload: object,
  {
    key,
    queue = null,
    priority = 0,
    attempts = mostAttempts,
    after = 0,
  }: {
    key: string
    queue?: string | null
    priority?: number
    attempts?: number
    /** Seconds until it may start. */
    after?: number
  },
): Promise<void> {
  await db.execute(sql`
    select graphile_worker.add_job(${task}::text, ${JSON.stringify(payload)}::json, queue_name := ${queue}::text,
      run_at := now() + make_interval(secs => ${after}), max_attempts := ${attempts}::int, job_key := ${key}::text,
      priority := ${priority}::int)`)
}

/** Same steps at the start, more after them: work under way for `old` serves `next` too. */
function extendsRecipe(old: Recipe, next: Recipe): boolean {
  return old.steps.every(
    (s, i) => JSON.stringify({ ...s, title: 0 }) === JSON.stringify({ ...next.steps[i], title: 0 }),
  )
}

/** Stops runs, wherever they are worked on; what they finished stays. */
export async function cancelRuns(db: Tx, ids: readonly string[]): Promise<void> {
  if (!ids.length) return
  const stopped = await db
    .update(runs)
    .set({ state: 'stopped', ended: sql`now()` })
    .where(and(inArray(runs.id, [...ids]), inArray(runs.state, open)))
    .returning({ id: runs.id, job: runs.job, ghost: runs.ghost })
  for (const id of ids) {
    await db.execute(sql`select graphile_worker.remove_job(${runKey(id)})`)
    await db.execute(sql`select pg_notify(${cancelChannel}, ${id})`)
  }
  for (const r of stopped) await tell(db, r.job, { type: 'run', run: r.id, ghost: r.ghost, state: 'stopped' })
}

/** Runs of a job that are waiting or under way. */
const openRuns = (db: Tx, job: string) =>
  db
    .select({ id: runs.id, recipe: runs.recipe, ghost: runs.ghost })
    .from(runs)
    .where(and(eq(runs.job, job), inArray(runs.state, open)))

export async function cancelAll(db: Tx, job: string): Promise<void> {
  await cancelRuns(
    db,
    (await openRuns(db, job)).map((r) => r.id),
  )
}

const queueName = (job: string, ghost: boolean) => `${ghost ? 'ghost' : 'job'}:${job}`

async function enqueue(db: Tx, run: string, job: string, ghost: boolean): Promise<void> {
  await addJob(db, 'evaluate', { run }, { key: runKey(run), queue: queueName(job, ghost), priority: ghost ? -5 : 0 })
}

/** Stops what nobody waits for any more, then asks for a run of a recipe as rows keep it (`packSettings`). Part of the caller's transaction. */
export async function startRun(
  db: Tx,
  job: string,
  kept: Recipe,
  { revision, ghost = false }: { revision?: string; ghost?: boolean },
): Promise<string> {
  const stale = (await openRuns(db, job)).filter((r) => r.ghost === ghost && (ghost || !extendsRecipe(r.recipe, kept)))
  await cancelRuns(
    db,
    stale.map((r) => r.id),
  )
  const [run] = await db.insert(runs).values({ job, recipe: kept, revision, ghost }).returning({ id: runs.id })
  await enqueue(db, run.id, job, ghost)
  return run.id
}

/** What the phase of a run says that waits until its maker lets it go. */
export const heldPhase = 'held'

/** A run that does not start: it shows what was made last until the job is run again. Part of the caller's transaction. */
export async function holdRun(db: Tx, job: string, kept: Recipe, revision: string): Promise<string> {
  await cancelAll(db, job)
  const [last] = await db
    .select({ steps: runs.steps })
    .from(runs)
    .where(and(eq(runs.job, job), eq(runs.ghost, false)))
    .orderBy(desc(runs.created))
    .limit(1)
  const ids = new Set(kept.steps.map((s) => s.id))
  const [run] = await db
    .insert(runs)
    .values({
      job,
      recipe: kept,
      revision,
      state: 'stopped',
      phase: heldPhase,
      steps: (last?.steps ?? []).filter((s) => ids.has(s.id)),
      ended: sql`now()`,
    })
    .returning({ id: runs.id })
  return run.id
}

/** Asks for a run of any recipe: a ghost, or a job's head once more. */
export async function requestRun(
  db: Db,
  job: string,
  recipe: Recipe,
  options: { revision?: string; ghost?: boolean },
): Promise<string> {
  const kept = await packSettings(db, recipe)
  return db.transaction((tx) => startRun(tx, job, kept, options))
}

/** Puts a run that is open and in no queue (a crash between the two) back. */
export async function requeue(db: Tx, run: { id: string; job: string; ghost: boolean }): Promise<void> {
  const { rows } = await db.execute(sql`
    select 1 from graphile_worker.jobs where key = ${runKey(run.id)}`)
  if (!rows.length) await enqueue(db, run.id, run.job, run.ghost)
}

/** Writes down how a run ended, unless it was stopped meanwhile; asks for a picture of what it made. */
export async function finishRun(
  db: Db,
  run: { id: string; job: string; ghost: boolean },
  state: 'done' | 'failed',
  steps: readonly StepReport[],
): Promise<void> {
  await db.transaction(async (tx) => {
    const ended = await tx
      .update(runs)
      .set({ state, steps: [...steps], progress: 1, ended: sql`now()` })
      .where(and(eq(runs.id, run.id), inArray(runs.state, open)))
      .returning({ id: runs.id })
    if (!ended.length) return
    await tell(tx, run.job, { type: 'run', run: run.id, ghost: run.ghost, state })
    if (!run.ghost)
      await addJob(tx, 'picture', { run: run.id }, { key: `picture:${run.job}`, priority: 10, attempts: 2, after: 1 })
  })
}

export async function requestCheckUp(db: Db, hash: string, job: string): Promise<void> {
  await addJob(db, 'check-up', { hash, job }, { key: `check-up:${hash}`, attempts: 2, priority: 5 })
}

/** The job a row belongs to, while it is there. */
export const lockJob = async (db: Tx, id: string): Promise<{ head: string | null } | undefined> =>
  (await db.select({ head: jobs.head }).from(jobs).where(eq(jobs.id, id)).for('update'))[0]
