/** The compute process: takes work from the queue and gives each piece to a child process that can be ended. Any number of these may run. */
import { and, eq, inArray, lt, sql } from 'drizzle-orm'
import { Logger, makeWorkerUtils, run, type JobHelpers, type Runner, type WorkerEvents } from 'graphile-worker'
import { randomUUID } from 'node:crypto'
import { EventEmitter } from 'node:events'
import path from 'node:path'
import type { ErrorReport } from '@/core/base/step-error'
import type { Recipe } from '@/core/recipe/recipe'
import { database } from '@/server/db/client'
import { listenFor } from '@/server/db/listen'
import { runs, workers } from '@/server/db/schema'
import { prune } from '@/server/store/prune'
import { Board } from './board'
import type { ChildMessage, ChildResult, ChildTask } from './child'
import { settleCrashed, stillWanted } from './crashed'
import { Crew, Ended, machineBytes } from './crew'
import { Locks } from './locks'
import { cancelChannel, tell } from './queue'

const members = 2
const beatEvery = 5_000
const { db, pool: connections } = database(8)

/** A child whose exact kernel holds more than this finishes its step and is replaced: the kernel gives no memory back. */
const kernelBound = Number(process.env.GLUE_BENCH_KERNEL_MB ?? 1536) * 2 ** 20
/** Bytes one run may hold in memory, heap, array buffers and kernels together. */
const memory = process.env.GLUE_BENCH_STEP_MB
  ? Number(process.env.GLUE_BENCH_STEP_MB) * 2 ** 20
  : Math.min(8 * 2 ** 30, Math.round((0.9 * machineBytes()) / members))
process.env.GLUE_BENCH_STEP_BYTES = String(memory) // children inherit it

/** Which process this is, so that one started in its place frees what it held. */
const slot = process.env.GLUE_BENCH_SLOT ?? randomUUID()

const boards = new Map<string, Board>()
const crew = new Crew<ChildTask, ChildResult, ChildMessage>({
  file: path.join(import.meta.dirname, 'compute-child.mjs'),
  size: members,
  memory,
  hear: (task, message) => {
    if (task.task === 'evaluate') boards.get(task.run)?.hear(message)
  },
  spent({ kernel, pid }) {
    const spent = kernel.spoilt || kernel.bytes > kernelBound
    if (spent) console.error(`kernel: process ${pid} was replaced at ${Math.round(kernel.bytes / 2 ** 20)} MB`)
    return spent
  },
})

/** Runs under way here, to be stopped by name, and their ends. */
const running = new Map<string, { stop: AbortController; end: Promise<void> }>()

const faults: Record<Exclude<Ended['why'], 'stopped'>, (detail: string) => ErrorReport> = {
  memory: (detail) => ({
    code: 'out-of-memory',
    message: `This step needs more memory than one step may have (${detail}).`,
    tryThis: 'Simplify the mesh first, or ask for a coarser result.',
  }),
  time: (detail) => ({
    code: 'too-slow',
    message: `Reading this file took more than a file of its size may take (${detail} of a processor).`,
    tryThis: 'It is probably damaged: export it again, or in another format.',
  }),
  crashed: (detail) => ({
    code: 'crashed',
    message: `The computation ended unexpectedly (${detail}).`,
    tryThis: 'Change a setting and try again; everything before this step is kept.',
  }),
}

/** The database went away in the middle: the queue tries again. */
class Away extends Error {}

/** Runs a task in a child. Gives how it ended, or null when it was stopped on purpose. Throws `Ended` and `Away`. */
async function inChild(task: ChildTask, signal?: AbortSignal): Promise<ChildResult | null> {
  for (;;) {
    let result: ChildResult
    try {
      result = await crew.run(task, signal)
    } catch (error) {
      if (error instanceof Ended && error.why === 'stopped') return null
      throw error
    }
    const { outcome, message } = result
    if (outcome === 'hand-over') continue // what was finished is kept; another child goes on from there
    if (outcome === 'away') throw new Away(message)
    return result
  }
}

async function evaluateTask(payload: unknown, helpers: JobHelpers): Promise<void> {
  const id = (payload as { run: string }).run
  const [row] = await db
    .update(runs)
    .set({ state: 'running' })
    .where(and(eq(runs.id, id), inArray(runs.state, ['waiting', 'running'])))
    .returning({ id: runs.id, job: runs.job, ghost: runs.ghost, recipe: runs.recipe })
  if (!row) return // at-least-once delivery: done already, or stopped
  // Taken twice, over a lost connection: both wait for the one that is under way, which costs no attempt.
  const under = running.get(id)
  if (under) return under.end
  const stop = new AbortController()
  const end = evaluateRow(row, stop.signal, helpers).finally(() => running.delete(id))
  running.set(id, { stop, end })
  return end
}

async function evaluateRow(
  row: { id: string; job: string; ghost: boolean; recipe: Recipe },
  signal: AbortSignal,
  helpers: JobHelpers,
): Promise<void> {
  const { id } = row
  const board = new Board(db, row)
  boards.set(id, board)
  try {
    await tell(db, row.job, { type: 'run', run: id, ghost: row.ghost, state: 'running' })
    const result = await inChild({ task: 'evaluate', run: id }, signal)
    if (!result) return
    if (result.outcome === 'done') await board.close(result.ok ? 'done' : 'failed')
    else await board.close('failed', { code: 'unexpected', message: result.message })
  } catch (error) {
    if (error instanceof Ended) await board.close('failed', faults[error.why as keyof typeof faults](error.detail))
    else {
      helpers.logger.warn(String(error))
      throw error
    }
  } finally {
    boards.delete(id)
  }
}

async function checkUpTask(payload: unknown): Promise<void> {
  const { hash, job } = payload as { hash: string; job: string }
  const result = await inChild({ task: 'check-up', hash })
  if (result?.outcome === 'failed') console.error(`check-up of ${hash}: ${result.message}`)
  await tell(db, job, { type: 'check-up', hash })
}

/** The picture of what a run made, on its own: nothing waits for it. */
async function pictureTask(payload: unknown): Promise<void> {
  const [row] = await db
    .select({ job: runs.job, steps: runs.steps })
    .from(runs)
    .where(eq(runs.id, (payload as { run: string }).run))
  if (!row) return
  const bodies = new Map<string, string>()
  for (const s of row.steps)
    for (const [name, hash] of Object.entries(s.bodies)) {
      if (hash === null) bodies.delete(name)
      else bodies.set(name, hash)
    }
  if (!bodies.size) return
  try {
    await inChild({ task: 'picture', job: row.job, bodies: [...bodies.values()] })
    await tell(db, row.job, { type: 'picture' })
  } catch (error) {
    if (!(error instanceof Ended)) throw error
    console.error(`picture: ${error.message}`)
  }
}

/** Once an hour: what nobody refers to any more goes. */
async function pruneTask(): Promise<void> {
  await prune(db)
}

/** Stops the run that a cancel request names, when it runs here. */
const cancel = (id: string): void => running.get(id)?.stop.abort()

/** Runs that were stopped, or deleted with their job, while nobody could tell. */
async function stopUnwanted(): Promise<void> {
  for (const id of running.keys()) if (!(await stillWanted(db, id))) cancel(id)
}

const locks = new Locks()
/** A task whose lock counts as held while it runs. */
const held =
  (work: (payload: unknown, helpers: JobHelpers) => Promise<void>) =>
  (payload: unknown, helpers: JobHelpers): Promise<void> =>
    locks.during(String(helpers.job.id), () => work(payload, helpers))

/** Names of this process's worker pools: the queue's locks carry them. */
const pools = new Set<string>()

async function forceUnlock(ids: string[]): Promise<void> {
  if (!ids.length) return
  const utils = await makeWorkerUtils({ pgPool: connections })
  await utils.forceUnlockWorkers(ids)
  await utils.release()
}

/** Frees what a process in this place held before. */
async function takePlace(): Promise<void> {
  const mine = [...pools]
  const gone = (await db.select({ id: workers.id }).from(workers).where(eq(workers.slot, slot))).filter(
    (w) => !mine.includes(w.id),
  )
  await forceUnlock(gone.map((w) => w.id))
  if (gone.length)
    await db.delete(workers).where(
      inArray(
        workers.id,
        gone.map((w) => w.id),
      ),
    )
}

/** Says "alive", and frees what processes held that have not said so for a while. */
async function beat(): Promise<void> {
  for (const id of pools)
    await db
      .insert(workers)
      .values({ id, slot })
      .onConflictDoUpdate({ target: workers.id, set: { beat: sql`now()`, slot } })
  await takePlace()
  await db.delete(workers).where(lt(workers.beat, sql`now() - interval '20 seconds'`))
  const { rows } = await connections.query<{ locked_by: string }>(
    "select distinct locked_by from graphile_worker.jobs where locked_at < now() - interval '10 seconds' and locked_by not in (select id from workers)",
  )
  await forceUnlock(rows.map((r) => r.locked_by))
  const lost = await locks.freeLost(db, [...pools])
  if (lost) console.error(`queue: ${lost} lost locks freed`)
  await settleCrashed(db)
  await stopUnwanted()
  if (await locks.overlooks(db)) {
    console.error('queue: work waits that is not taken; this process starts afresh')
    process.exit(1)
  }
}

function main(): void {
  // A promise nobody waited for, of a connection that went, may have been the queue's own: the supervisor starts this process afresh.
  process.on('unhandledRejection', (error) => {
    console.error('unhandled:', error)
    process.exit(1)
  })
  // What was missed while not listening is found by looking.
  void listenFor(cancelChannel, cancel, () => void stopUnwanted().catch(() => {}))
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
          concurrency: members + 1,
          pollInterval: 1000,
          noHandleSignals: true,
          logger: quietLogger,
          taskList: {
            evaluate: held(evaluateTask),
            'check-up': held(checkUpTask),
            picture: held(pictureTask),
            prune: held(pruneTask),
          },
          crontab: '17 * * * * prune',
          events,
        })
        await runner.promise
      } catch (error) {
        console.error('queue:', error instanceof Error ? error.message : error)
      }
      await new Promise((r) => setTimeout(r, 1000))
    }
  }
  const tick = setInterval(() => {
    beat().catch((error: Error) => console.error('heartbeat:', error.message))
  }, beatEvery)
  const stop = async () => {
    if (stopped) return
    stopped = true
    clearInterval(tick)
    crew.end()
    setTimeout(() => process.exit(0), 3000).unref()
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
  // Whoever started this process has ended: so does this one.
  if (process.env.GLUE_BENCH_CHILD) process.stdin.on('close', () => void stop()).resume()
  void keepRunning()
}

main()
