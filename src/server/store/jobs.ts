/** Jobs, their files and their history. A revision is never changed or deleted: undo and redo only move the head. */
import { and, desc, eq, inArray, sql } from 'drizzle-orm'
import { emptyRecipe, parseRecipe, upgradeRecipe, type Recipe } from '@/core/recipe/recipe'
import { StepError } from '@/core/base/step-error'
import { cancelAll, holdRun, lockJob, requeue, startRun, tell } from '@/server/compute/queue'
import type { Db, Tx } from '@/server/db/client'
import { jobFiles, jobs, revisions, runs } from '@/server/db/schema'
import { summariesOf } from './blobs'
import { packSettings, unpackSettings } from './settings'
import type { JobState, JobListing, RunView } from '@/core/recipe/job-state'

export async function listJobs(db: Db): Promise<JobListing[]> {
  const rows = await db
    .select({
      id: jobs.id,
      title: jobs.title,
      picture: jobs.picture,
      demo: jobs.demo,
      updated: jobs.updated,
      recipe: revisions.recipe,
    })
    .from(jobs)
    .leftJoin(revisions, eq(revisions.id, jobs.head))
    .orderBy(desc(jobs.demo), desc(jobs.updated))
  const open = await db
    .select({ job: runs.job, done: sql<number>`jsonb_array_length(${runs.steps})` })
    .from(runs)
    .where(and(eq(runs.ghost, false), inArray(runs.state, ['waiting', 'running'])))
  const done = new Map(open.map((r) => [r.job, r.done]))
  return rows.map((r) => ({
    id: r.id,
    title: r.title,
    picture: r.picture,
    demo: r.demo,
    updated: r.updated.toISOString(),
    steps: r.recipe?.steps.length ?? 0,
    done: done.get(r.id) ?? null,
  }))
}

/** A new job. One with steps gets its first run with it. */
export async function createJob(
  db: Db,
  title: string,
  recipe: Recipe = emptyRecipe(title),
  { demo = false, run = false }: { demo?: boolean; run?: boolean } = {},
): Promise<{ id: string; revision: string }> {
  const kept = await packSettings(db, recipe)
  return db.transaction(async (tx) => {
    const [job] = await tx.insert(jobs).values({ title, demo }).returning({ id: jobs.id })
    const [revision] = await tx
      .insert(revisions)
      .values({ job: job.id, label: 'New job', recipe: kept })
      .returning({ id: revisions.id })
    await tx.update(jobs).set({ head: revision.id }).where(eq(jobs.id, job.id))
    if (run && kept.steps.length) await startRun(tx, job.id, kept, { revision: revision.id })
    await tell(tx, job.id, { type: 'job' })
    return { id: job.id, revision: revision.id }
  })
}

const notFound = () =>
  new StepError('not-found', 'This job does not exist (any more).', { tryThis: 'Go back to the list of jobs.' })

/**
 * A job of its own with the recipe, files and results of another as it stands, and none of its history. Throws StepError `not-found`.
 * A run that is done comes along, so that nothing is computed again; any other is asked for when the copy is opened.
 */
export async function copyJob(db: Db, from: string, title?: string): Promise<{ id: string; revision: string }> {
  return db.transaction(async (tx) => {
    const source = await lockJob(tx, from)
    if (!source?.head) throw notFound()
    const [about] = await tx.select({ title: jobs.title, picture: jobs.picture }).from(jobs).where(eq(jobs.id, from))
    const [head] = await tx.select({ recipe: revisions.recipe }).from(revisions).where(eq(revisions.id, source.head))
    const [job] = await tx
      .insert(jobs)
      .values({ title: title ?? `Copy of ${about.title}`.slice(0, 120), picture: about.picture })
      .returning({ id: jobs.id })
    const [revision] = await tx
      .insert(revisions)
      .values({ job: job.id, label: 'New job', recipe: head.recipe })
      .returning({ id: revisions.id })
    await tx.update(jobs).set({ head: revision.id }).where(eq(jobs.id, job.id))
    const files = await tx.select().from(jobFiles).where(eq(jobFiles.job, from))
    if (files.length) await tx.insert(jobFiles).values(files.map((f) => ({ ...f, job: job.id })))
    const [run] = await tx
      .select()
      .from(runs)
      .where(and(eq(runs.revision, source.head), eq(runs.ghost, false), eq(runs.state, 'done')))
      .orderBy(desc(runs.created))
      .limit(1)
    if (run) {
      const kept = { ...run, id: undefined, created: undefined }
      await tx.insert(runs).values({ ...kept, job: job.id, revision: revision.id })
    }
    await tell(tx, job.id, { type: 'job' })
    return { id: job.id, revision: revision.id }
  })
}

/** Throws StepError `not-found` unless there is such a job. */
export async function requireJob(db: Tx, id: string): Promise<void> {
  if (!(await db.select({ id: jobs.id }).from(jobs).where(eq(jobs.id, id))).length) throw notFound()
}

export async function renameJob(db: Db, id: string, title: string): Promise<void> {
  await db.transaction(async (tx) => {
    if (!(await lockJob(tx, id))) throw notFound()
    await tx
      .update(jobs)
      .set({ title, updated: sql`now()` })
      .where(eq(jobs.id, id))
    await tell(tx, id, { type: 'job' })
  })
}

/** Deletes a job with all that is its own, and ends its runs wherever they are worked on. */
export async function deleteJob(db: Db, id: string): Promise<void> {
  await db.transaction(async (tx) => {
    if (!(await lockJob(tx, id))) throw notFound()
    await cancelAll(tx, id)
    await tx.delete(jobs).where(eq(jobs.id, id))
    await tell(tx, id, { type: 'job' })
  })
}

/** Takes a changed recipe as the job's new head, and asks for its run; `hold`: it is run when the maker says so, together with others. Refused when the caller's picture of the job is out of date. */
export async function revise(
  db: Db,
  job: string,
  base: string,
  recipe: unknown,
  label: string,
  hold = false,
): Promise<{ revision: string; recipe: Recipe; run: string }> {
  const parsed = parseRecipe(recipe)
  const kept = await packSettings(db, parsed)
  return db.transaction(async (tx) => {
    const row = await lockJob(tx, job)
    if (!row) throw notFound()
    if (row.head !== base)
      throw new StepError('out-of-date', 'This job was changed elsewhere meanwhile.', {
        tryThis: 'Look at it as it is now, then do it again.',
      })
    const [made] = await tx
      .insert(revisions)
      .values({ job, parent: base, label, recipe: kept })
      .returning({ id: revisions.id })
    return { revision: made.id, recipe: parsed, run: await moveHead(tx, job, made.id, kept, hold) }
  })
}

/** Sets a job's head and asks for its run, unless runs are held, and tells. Part of a transaction that holds the job's lock. */
async function moveHead(tx: Tx, job: string, revision: string, kept: Recipe, hold = false): Promise<string> {
  await tx
    .update(jobs)
    .set({ head: revision, updated: sql`now()` })
    .where(eq(jobs.id, job))
  const run = hold ? await holdRun(tx, job, kept, revision) : await startRun(tx, job, kept, { revision })
  await tell(tx, job, { type: 'job' })
  return run
}

const newestChild = (db: Tx, parent: string) =>
  db
    .select({ id: revisions.id, label: revisions.label, recipe: revisions.recipe })
    .from(revisions)
    .where(eq(revisions.parent, parent))
    .orderBy(desc(revisions.order))
    .limit(1)

/** Moves the head one revision back or forth, and asks for its run. Several at once go one after the other. */
export async function travel(db: Db, job: string, go: 'undo' | 'redo'): Promise<{ revision: string; recipe: Recipe }> {
  const moved = await db.transaction(async (tx) => {
    // The lock first, and only then the revision: a joined row would be the one from before the wait.
    const row = await lockJob(tx, job)
    if (!row?.head) throw notFound()
    const [at] = await tx.select({ parent: revisions.parent }).from(revisions).where(eq(revisions.id, row.head))
    const target = go === 'undo' ? at?.parent : (await newestChild(tx, row.head))[0]?.id
    if (!target)
      throw new StepError('no-more', go === 'undo' ? 'There is nothing to undo.' : 'There is nothing to redo.')
    const [to] = await tx.select({ recipe: revisions.recipe }).from(revisions).where(eq(revisions.id, target))
    await moveHead(tx, job, target, to.recipe)
    return { revision: target, recipe: to.recipe }
  })
  return { ...moved, recipe: upgradeRecipe(await unpackSettings(db, moved.recipe)) }
}

/** Runs a job's head once more. */
export async function rerun(db: Db, job: string): Promise<void> {
  await db.transaction(async (tx) => {
    const row = await lockJob(tx, job)
    if (!row?.head) throw notFound()
    const [at] = await tx.select({ recipe: revisions.recipe }).from(revisions).where(eq(revisions.id, row.head))
    await moveHead(tx, job, row.head, at.recipe)
  })
}

/**
 * Sees to it that a job's head has a run, and that an open one stands in the queue: what a crash at the wrong moment, or a copy of the
 * database from before, may have left out. Cheap when all is well.
 */
export async function ensureRun(db: Db, job: string): Promise<void> {
  const find = async (tx: Tx) =>
    (
      await tx
        .select({ head: jobs.head, run: runs.id, state: runs.state, kept: revisions.recipe })
        .from(jobs)
        .innerJoin(revisions, eq(revisions.id, jobs.head))
        .leftJoin(runs, and(eq(runs.revision, jobs.head), eq(runs.ghost, false)))
        .where(eq(jobs.id, job))
        .orderBy(desc(runs.created))
        .limit(1)
    )[0]
  const lacks = (row: Awaited<ReturnType<typeof find>> | undefined) =>
    row && (row.run === null ? row.kept.steps.length > 0 : row.state === 'waiting' || row.state === 'running')
  if (!lacks(await find(db))) return
  await db.transaction(async (tx) => {
    await lockJob(tx, job)
    const row = await find(tx)
    if (!lacks(row)) return
    if (row.run) await requeue(tx, { id: row.run, job, ghost: false })
    else await startRun(tx, job, row.kept, { revision: row.head! })
  })
}

/** Files of a job may have at most so many names. */
const mostFiles = 2000

/**
 * Gives an uploaded file a name in its job. The same name with other bytes gets a number, so that no earlier step changes its meaning; uploads
 * at the same time take turns.
 */
export async function addFile(db: Db, job: string, name: string, hash: string, size: number): Promise<string> {
  return db.transaction(async (tx) => {
    if (!(await lockJob(tx, job))) throw notFound()
    const have = new Map(
      (await tx.select({ name: jobFiles.name, hash: jobFiles.hash }).from(jobFiles).where(eq(jobFiles.job, job))).map(
        (f) => [f.name, f.hash],
      ),
    )
    let free = name
    const dot = name.lastIndexOf('.')
    for (let i = 2; (have.get(free) ?? hash) !== hash; i++)
      free = dot > 0 ? `${name.slice(0, dot)} ${i}${name.slice(dot)}` : `${name} ${i}`
    if (have.has(free)) return free
    if (have.size >= mostFiles) throw new StepError('too-large', `A job holds at most ${mostFiles} files.`)
    await tx.insert(jobFiles).values({ job, name: free, hash, size })
    await tell(tx, job, { type: 'job' })
    return free
  })
}

export async function fileHashOf(db: Db, job: string, name: string): Promise<string | null> {
  return (
    (
      await db
        .select({ hash: jobFiles.hash })
        .from(jobFiles)
        .where(and(eq(jobFiles.job, job), eq(jobFiles.name, name)))
    )[0]?.hash ?? null
  )
}

const viewRun = (r: typeof runs.$inferSelect | undefined): RunView | null =>
  r ? { id: r.id, state: r.state, progress: r.progress, phase: r.phase, steps: r.steps } : null

/** All a screen needs to show a job. */
export async function jobState(db: Db, id: string): Promise<JobState> {
  const [row] = await db
    .select({ job: jobs, revision: revisions })
    .from(jobs)
    .innerJoin(revisions, eq(revisions.id, jobs.head))
    .where(eq(jobs.id, id))
  if (!row) throw notFound()
  const [latest] = await db
    .select()
    .from(runs)
    .where(and(eq(runs.job, id), eq(runs.revision, row.revision.id), eq(runs.ghost, false)))
    .orderBy(desc(runs.created))
    .limit(1)
  const [redo] = await newestChild(db, row.revision.id)
  const [undo] = row.revision.parent
    ? await db.select({ id: revisions.id }).from(revisions).where(eq(revisions.id, row.revision.parent))
    : []
  const files = await db
    .select({ name: jobFiles.name, hash: jobFiles.hash, size: jobFiles.size })
    .from(jobFiles)
    .where(eq(jobFiles.job, id))
    .orderBy(jobFiles.name)
  const hashes = new Set<string>()
  for (const s of latest?.steps ?? []) for (const h of Object.values(s.bodies)) if (h) hashes.add(h)
  return {
    id,
    title: row.job.title,
    revision: row.revision.id,
    label: row.revision.label,
    recipe: upgradeRecipe(await unpackSettings(db, row.revision.recipe)),
    undo: undo ? row.revision.label : null,
    redo: redo?.label ?? null,
    run: viewRun(latest),
    files,
    summaries: await summariesOf(db, [...hashes]),
  }
}

export async function runView(db: Db, id: string): Promise<(RunView & { summaries: JobState['summaries'] }) | null> {
  const [row] = await db.select().from(runs).where(eq(runs.id, id))
  const view = viewRun(row)
  if (!view) return null
  const hashes = view.steps.flatMap((s) => Object.values(s.bodies).filter((h): h is string => h !== null))
  return { ...view, summaries: await summariesOf(db, hashes) }
}
