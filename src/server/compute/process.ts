/** The compute process: takes work from the queue and gives each piece to a thread that can be ended. Any number of these may run. */
import { eq, lt, sql } from 'drizzle-orm'
import { Logger, makeWorkerUtils, run, type JobHelpers, type Runner, type WorkerEvents } from 'graphile-worker'
import { EventEmitter } from 'node:events'
import path from 'node:path'
import { Worker } from 'node:worker_threads'
import type { StepReport } from '@/core/recipe/evaluate'
import { database } from '@/server/db/client'
import { listenFor } from '@/server/db/listen'
import { runs, workers } from '@/server/db/schema'
import { cancelChannel, tell } from './queue'
import type { ThreadReply, ThreadTask } from './thread'

const threads = 2
const beatEvery = 5_000
const { db, pool } = database(6)

interface Seat {
  worker: Worker | null
  run: string | null
  end: (message: string | null) => void
}
const seats: Seat[] = Array.from({ length: threads }, () => ({ worker: null, run: null, end: () => {} }))
const waiting: ((seat: Seat) => void)[] = []
const busy = new Set<Seat>()

const takeSeat = (): Promise<Seat> => {
  const free = seats.find((s) => !busy.has(s))
  if (free) {
    busy.add(free)
    return Promise.resolve(free)
  }
  return new Promise((resolve) => waiting.push(resolve))
}
const giveSeat = (seat: Seat) => {
  const next = waiting.shift()
  if (next) next(seat)
  else busy.delete(seat)
}

/** A thread for a seat. Its listeners live as long as it does; whoever sits there takes the end of a task. */
function startThread(seat: Seat): Worker {
  const worker = new Worker(path.join(import.meta.dirname, 'compute-thread.mjs'), {
    resourceLimits: { maxOldGenerationSizeMb: 6144 },
  })
  const gone = (message: string) => {
    if (seat.worker !== worker) return
    seat.worker = null
    seat.end(message)
  }
  worker.on('message', (reply: ThreadReply) => {
    if ('event' in reply) void tell(db, reply.job, reply.event).catch(() => {})
    else seat.end(reply.done ? null : reply.message)
  })
  worker.on('error', (error: Error & { code?: string }) =>
    gone(
      error.code === 'ERR_WORKER_OUT_OF_MEMORY'
        ? 'This step needs more memory than there is. Simplify the mesh first, or ask for a coarser result.'
        : `The computation ended unexpectedly: ${error.message}`,
    ),
  )
  worker.on('exit', () => gone(stopping.has(worker) ? 'stopped' : 'The computation ended unexpectedly.'))
  return worker
}
const stopping = new WeakSet<Worker>()

/** Runs a task in a thread. Resolves with null when it was done, else with what went wrong ("stopped" when it was ended on purpose). */
async function inThread(task: ThreadTask): Promise<string | null> {
  const seat = await takeSeat()
  try {
    const worker = (seat.worker ??= startThread(seat))
    seat.run = task.task === 'evaluate' ? task.run : null
    return await new Promise<string | null>((resolve) => {
      seat.end = resolve
      worker.postMessage(task)
    })
  } finally {
    seat.run = null
    seat.end = () => {}
    giveSeat(seat)
  }
}

async function evaluateTask(payload: unknown, helpers: JobHelpers): Promise<void> {
  const id = (payload as { run: string }).run
  const [row] = await db
    .select({ state: runs.state, job: runs.job, ghost: runs.ghost })
    .from(runs)
    .where(eq(runs.id, id))
  if (!row || row.state === 'stopped' || row.state === 'done' || row.state === 'failed') return // at-least-once delivery: done already
  const wrong = await inThread({ task: 'evaluate', run: id })
  if (wrong === null || wrong === 'stopped') return
  if (helpers.job.attempts < helpers.job.max_attempts && /connection|terminat|ECONN/i.test(wrong))
    throw new Error(wrong)
  const [now] = await db.select({ steps: runs.steps, recipe: runs.recipe }).from(runs).where(eq(runs.id, id))
  // The step that was under way is the one at fault; what came before it is kept.
  const failed = now.recipe.steps[now.steps.length]
  const report: StepReport[] = failed
    ? [
        ...now.steps,
        {
          id: failed.id,
          kind: failed.kind,
          ok: false,
          ms: 0,
          cached: false,
          said: '',
          facts: {},
          warnings: [],
          error: { code: 'crashed', message: wrong },
          bodies: {},
          files: [],
        },
      ]
    : now.steps
  await db
    .update(runs)
    .set({ state: 'failed', steps: report, ended: sql`now()` })
    .where(eq(runs.id, id))
  await tell(db, row.job, { type: 'run', run: id, ghost: row.ghost, state: 'failed' })
}

async function checkUpTask(payload: unknown): Promise<void> {
  const { hash, job } = payload as { hash: string; job: string }
  const wrong = await inThread({ task: 'check-up', hash, job })
  if (wrong && wrong !== 'stopped') throw new Error(wrong)
}

/** Stops the run that a cancel request names, when it runs here. */
function cancel(run: string): void {
  const seat = seats.find((s) => s.run !== null && s.run === run)
  if (!seat?.worker) return
  stopping.add(seat.worker)
  void seat.worker.terminate()
}

/** Names of this process's worker pools: the queue's locks carry them. */
const pools = new Set<string>()

/** Says "alive", and frees what processes held that have not said so for a while. */
async function beat(): Promise<void> {
  for (const id of pools)
    await db
      .insert(workers)
      .values({ id })
      .onConflictDoUpdate({ target: workers.id, set: { beat: sql`now()` } })
  await db.delete(workers).where(lt(workers.beat, sql`now() - interval '20 seconds'`))
  const { rows } = await pool.query<{ locked_by: string }>(
    "select distinct locked_by from graphile_worker.jobs where locked_at < now() - interval '15 seconds' and locked_by not in (select id from workers)",
  )
  if (rows.length) await forceUnlock(rows.map((r) => r.locked_by))
}

async function main(): Promise<void> {
  void listenFor(cancelChannel, cancel)
  const quietLogger = new Logger(() => (level, message) => {
    if (level === 'error') console.error(message)
  })
  let stopped = false
  let runner: Runner | null = null
  const events: WorkerEvents = new EventEmitter()
  events.on('pool:create', ({ workerPool }) => {
    pools.add(workerPool.id)
    void beat().catch(() => {})
  })
  const keepRunning = async (): Promise<void> => {
    // The runner ends when the database goes away; it is started again when that is back.
    while (!stopped) {
      try {
        pools.clear()
        runner = await run({
          pgPool: pool,
          concurrency: threads + 1,
          pollInterval: 1000,
          noHandleSignals: true,
          logger: quietLogger,
          taskList: { evaluate: evaluateTask, 'check-up': checkUpTask },
          events,
        })
        await runner.promise
      } catch (error) {
        console.error('queue:', error instanceof Error ? error.message : error)
      }
      await new Promise((r) => setTimeout(r, 1500))
    }
  }
  const tick = setInterval(() => {
    beat().catch((error: Error) => console.error('heartbeat:', error.message))
  }, beatEvery)
  const stop = async () => {
    stopped = true
    clearInterval(tick)
    await runner?.stop().catch(() => {})
    for (const id of pools)
      await db
        .delete(workers)
        .where(eq(workers.id, id))
        .catch(() => {})
    process.exit(0)
  }
  process.on('SIGTERM', () => void stop())
  process.on('SIGINT', () => void stop())
  void keepRunning()
}

async function forceUnlock(ids: string[]): Promise<void> {
  const utils = await makeWorkerUtils({ pgPool: pool })
  await utils.forceUnlockWorkers(ids)
  await utils.release()
}

main().catch((error: Error) => {
  console.error('compute process:', error.message)
  process.exit(1)
})
