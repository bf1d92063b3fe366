/** A thread that computes: one evaluation or check-up at a time. Stopping it is ending it; what it had finished is in the database. */
import { eq, sql } from 'drizzle-orm'
import { parentPort } from 'node:worker_threads'
import type { JobEvent } from '@/core/recipe/job-state'
import { decodeBody, kindOf } from '@/core/kinds/registry'
import { hashBytes } from '@/core/base/hash'
import { drawPicture } from '@/core/report/picture'
import type { CheckUp } from '@/core/mesh/check-up'
import { BodyShelf, evaluate, type StepReport } from '@/core/recipe/evaluate'
import { reportError } from '@/core/base/step-error'
import { quiet } from '@/core/base/work'
import { database } from '@/server/db/client'
import { checkUps, jobs, runs } from '@/server/db/schema'
import { getBlob, putBlob } from '@/server/store/blobs'
import { fileHashOf } from '@/server/store/jobs'
import { DatabaseStore } from '@/server/store/results'
import { tell } from './queue'

export type ThreadTask = { task: 'evaluate'; run: string } | { task: 'check-up'; hash: string; job: string }
export type ThreadReply = { done: true } | { done: false; message: string } | { job: string; event: JobEvent }

const { db } = database(3)
const store = new DatabaseStore(db)
const shelf = new BodyShelf()

async function evaluateRun(id: string): Promise<void> {
  const [run] = await db.select().from(runs).where(eq(runs.id, id))
  if (!run || run.state === 'stopped' || run.state === 'done' || run.state === 'failed') return
  await db.update(runs).set({ state: 'running' }).where(eq(runs.id, id))
  const steps: StepReport[] = []
  let told = 0,
    current = 0
  // Progress goes out at most every 150 ms, through the process: a busy thread can post but cannot wait for the database.
  const progress = (share: number, phase: string) => {
    const now = performance.now()
    if (now - told < 150) return
    told = now
    parentPort!.postMessage({
      job: run.job,
      event: {
        type: 'progress',
        run: id,
        ghost: run.ghost,
        progress: share,
        phase,
        step: run.recipe.steps[current]?.id ?? null,
      },
    } satisfies ThreadReply)
  }
  let writing = Promise.resolve()
  const result = await evaluate(
    run.recipe,
    {
      fileHash: (name) => fileHashOf(db, run.job, name),
      store,
      work: { progress },
      onStep: (report, index) => {
        steps.push(report)
        current = index + 1
        if (report.cached && current < run.recipe.steps.length) return
        const sofar = [...steps]
        writing = writing
          .then(async () => {
            await db
              .update(runs)
              .set({ steps: sofar, progress: sofar.length / run.recipe.steps.length })
              .where(eq(runs.id, id))
            await tell(db, run.job, { type: 'step', run: id, ghost: run.ghost })
          })
          .catch(() => {})
      },
    },
    shelf,
  )
  await writing
  const state = result.ok ? 'done' : 'failed'
  await db
    .update(runs)
    .set({ state, steps: result.steps, progress: 1, ended: sql`now()` })
    .where(eq(runs.id, id))
  await tell(db, run.job, { type: 'run', run: id, ghost: run.ghost, state })
  if (!run.ghost) await savePicture(run.job, result.bodies)
}

async function savePicture(job: string, bodies: ReadonlyMap<string, string>): Promise<void> {
  if (!bodies.size) return
  const loaded = []
  for (const hash of bodies.values()) loaded.push(shelf.get(hash) ?? decodeBody(await getBlob(db, hash)))
  const png = drawPicture(loaded)
  const hash = await hashBytes(png)
  await putBlob(db, hash, png)
  await db.update(jobs).set({ picture: hash }).where(eq(jobs.id, job))
}

async function checkUpBody(hash: string, job: string): Promise<void> {
  const have = await db.select({ hash: checkUps.hash }).from(checkUps).where(eq(checkUps.hash, hash))
  if (!have.length) {
    const body = shelf.get(hash) ?? decodeBody(await getBlob(db, hash))
    const found = kindOf(body).check?.(body, quiet)
    if (!found) return
    await db
      .insert(checkUps)
      .values({ hash, checkUp: found as unknown as CheckUp })
      .onConflictDoNothing()
  }
  await tell(db, job, { type: 'check-up', hash })
}

parentPort?.on('message', (task: ThreadTask) => {
  const work = task.task === 'evaluate' ? evaluateRun(task.run) : checkUpBody(task.hash, task.job)
  work.then(
    () => parentPort!.postMessage({ done: true } satisfies ThreadReply),
    (error: unknown) =>
      parentPort!.postMessage({ done: false, message: reportError(error).message } satisfies ThreadReply),
  )
})
