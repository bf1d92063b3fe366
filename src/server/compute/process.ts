/** The compute process: takes work from the queue and gives each piece to a thread that can be ended. Any number of these may run. */
import { eq, lt, sql } from 'drizzle-orm'
import { Logger, makeWorkerUtils, run, type JobHelpers, type Runner, type WorkerEvents } from 'graphile-worker'
import { EventEmitter } from 'node:events'
import path from 'node:path'
import { Piscina } from 'piscina'
import type { StepReport } from '@/core/recipe/evaluate'
import { database } from '@/server/db/client'
import { listenFor } from '@/server/db/listen'
import { runs, workers } from '@/server/db/schema'
import { prune } from '@/server/store/prune'
import { cancelChannel, tell } from './queue'
import type { ThreadMessage, ThreadResult, ThreadTask } from './thread'

const threads = 2
const beatEvery = 5_000
const { db, pool: connections } = database(6)

/** A thread whose exact kernel holds more than this finishes its step and is replaced: the kernel gives no memory back. */
const kernelBound = Number(process.env.GLUE_BENCH_KERNEL_MB ?? 1536) * 2 ** 20

const pool = new Piscina<ThreadTask, ThreadResult>({
  filename: path.join(import.meta.dirname, 'compute-thread.mjs'),
  minThreads: threads,
  maxThreads: threads,
  workerData: { kernelBound },
  resourceLimits: { maxOldGenerationSizeMb: 6144 },
})
// What threads tell while they work: progress, which a busy thread can post but not write itself.
pool.on('message', (m: ThreadMessage) => void tell(db, m.job, m.event).catch(() => {}))

/** Runs under way here, to be stopped by name. */
const running = new Map<string, AbortController>()
/** How many threads were ended because their kernel held too much. */
let retired = 0

/** Ends a thread; the pool starts another. */
async function retire(thread: number, bytes: number): Promise<void> {
  console.error(`kernel: a thread was replaced at ${Math.round(bytes / 2 ** 20)} MB`)
  retired++
  await pool.threads.find((t) => t.threadId === thread)?.terminate()
  retired++
}

const words = (error: Error & { code?: string }) =>
  error.code === 'ERR_WORKER_OUT_OF_MEMORY'
    ? 'This step needs more memory than there is. Simplify the mesh first, or ask for a coarser result.'
    : `The computation ended unexpectedly: ${error.message}`

/** Runs a task in a thread. Resolves with null when it was done, else with what went wrong ("stopped" when it was ended on purpose). */
async function inThread(task: ThreadTask): Promise<string | null> {
  const stop = new AbortController()
  const run = task.task === 'evaluate' ? task.run : null
  if (run) running.set(run, stop)
  try {
    for (;;) {
      const before = retired
      try {
        const { outcome, message, thread, kernel } = await pool.run(task, { signal: stop.signal })
        if (kernel.spoilt || kernel.bytes > kernelBound) await retire(thread, kernel.bytes)
        if (outcome === 'hand-over') continue // what was finished is kept; another thread goes on from there
        return outcome === 'done' ? null : message
      } catch (error) {
        if (stop.signal.aborted) return 'stopped'
        // The task had been given to a thread that was being ended: it starts again in another.
        if (retired > before && /terminat|exit/i.test(String(error))) continue
        return words(error as Error)
      }
    }
  } finally {
    if (run) running.delete(run)
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

/** Once an hour: what nobody refers to any more goes. */
async function pruneTask(): Promise<void> {
  await prune(db)
}

/** Stops the run that a cancel request names, when it runs here. */
const cancel = (run: string): void => running.get(run)?.abort()

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
  const { rows } = await connections.query<{ locked_by: string }>(
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
          pgPool: connections,
          concurrency: threads + 1,
          pollInterval: 1000,
          noHandleSignals: true,
          logger: quietLogger,
          taskList: { evaluate: evaluateTask, 'check-up': checkUpTask, prune: pruneTask },
          crontab: '17 * * * * prune',
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
  const utils = await makeWorkerUtils({ pgPool: connections })
  await utils.forceUnlockWorkers(ids)
  await utils.release()
}

main().catch((error: Error) => {
  console.error('compute process:', error.message)
  process.exit(1)
})
