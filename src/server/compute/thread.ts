/** A thread that computes: one evaluation or check-up at a time. Stopping it is ending it; what it had finished is in the database. */
import { eq, sql } from 'drizzle-orm'
import { parentPort, threadId, workerData } from 'node:worker_threads'
import type { JobEvent } from '@/core/recipe/job-state'
import { decodeBody, kindOf } from '@/core/kinds/registry'
import { hashBytes } from '@/core/base/hash'
import { kernelMemory } from '@/core/kernels/exact/kernel'
import { drawPicture } from '@/core/report/picture'
import type { CheckUp } from '@/core/mesh/check-up'
import { BodyShelf, evaluate, type StepReport } from '@/core/recipe/evaluate'
import type { Recipe } from '@/core/recipe/recipe'
import { reportError } from '@/core/base/step-error'
import { quiet } from '@/core/base/work'
import { database } from '@/server/db/client'
import { checkUps, jobs, runs } from '@/server/db/schema'
import { getBlob, putBlob } from '@/server/store/blobs'
import { fileHashOf } from '@/server/store/jobs'
import { unpackSettings } from '@/server/store/settings'
import { DatabaseStore } from '@/server/store/results'
import { tell } from './queue'

export type ThreadTask = { task: 'evaluate'; run: string } | { task: 'check-up'; hash: string; job: string }
export interface ThreadResult {
  /** `hand-over`: the kernel holds too much; what was finished is kept, and another thread goes on. */
  outcome: 'done' | 'failed' | 'hand-over'
  message: string
  thread: number
  kernel: { bytes: number; spoilt: boolean }
}
export interface ThreadMessage {
  job: string
  event: JobEvent
}

const { kernelBound } = (workerData ?? {}) as { kernelBound?: number }
const overFull = (): boolean => {
  const { bytes, spoilt } = kernelMemory()
  return spoilt || bytes > (kernelBound ?? Infinity)
}

/** Thrown between two steps, when this thread is to be replaced. */
class HandOver extends Error {}

const { db } = database(3)
const store = new DatabaseStore(db)
const shelf = new BodyShelf()

/** How often finished steps are written down, ms: each time all of them are, so that long recipes must not do it at every step. */
const writeEvery = 250

/** Writes down the steps finished so far, the latest state only, and tells who watches. */
function reportBoard(run: { id: string; job: string; ghost: boolean; recipe: Recipe }, steps: readonly StepReport[]) {
  let writing: Promise<void> | null = null
  let waiting: ReturnType<typeof setTimeout> | null = null
  let last = -Infinity
  let written = 0
  const write = async () => {
    const now = [...steps]
    last = performance.now()
    written = now.length
    await db
      .update(runs)
      .set({ steps: now, progress: now.length / run.recipe.steps.length })
      .where(eq(runs.id, run.id))
    await tell(db, run.job, { type: 'step', run: run.id, ghost: run.ghost })
  }
  const start = () => {
    waiting = null
    writing ??= write()
      .catch(() => {})
      .finally(() => {
        writing = null
        if (written < steps.length) changed()
      })
  }
  const changed = () => {
    if (writing || waiting) return
    const rest = last + writeEvery - performance.now()
    if (rest <= 0) start()
    else waiting = setTimeout(start, rest)
  }
  return {
    changed,
    async settled(): Promise<void> {
      if (waiting) clearTimeout(waiting)
      waiting = null
      written = Infinity
      await writing
    },
  }
}

async function evaluateRun(id: string): Promise<void> {
  const [row] = await db.select().from(runs).where(eq(runs.id, id))
  if (!row || row.state === 'stopped' || row.state === 'done' || row.state === 'failed') return
  const run = { ...row, recipe: await unpackSettings(db, row.recipe) }
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
    } satisfies ThreadMessage)
  }
  const board = reportBoard(run, steps)
  let result
  try {
    result = await evaluate(
      run.recipe,
      {
        fileHash: (name) => fileHashOf(db, run.job, name),
        store,
        work: { progress },
        onStep: (report, index) => {
          steps.push(report)
          current = index + 1
          const last = current === run.recipe.steps.length
          if (!report.cached || last) board.changed()
          if (!last && !report.cached && overFull()) throw new HandOver()
        },
      },
      shelf,
    )
  } finally {
    await board.settled()
  }
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

/** What the pool calls: one task at a time. */
export default async function work(task: ThreadTask): Promise<ThreadResult> {
  const end = (outcome: ThreadResult['outcome'], message = ''): ThreadResult => ({
    outcome,
    message,
    thread: threadId,
    kernel: kernelMemory(),
  })
  try {
    await (task.task === 'evaluate' ? evaluateRun(task.run) : checkUpBody(task.hash, task.job))
    return end('done')
  } catch (error) {
    return error instanceof HandOver ? end('hand-over') : end('failed', reportError(error).message)
  }
}
