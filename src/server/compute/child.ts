/** A process that computes: one evaluation, check-up or picture at a time. Stopping it is ending it; what it had finished is in the database. */
import { eq } from 'drizzle-orm'
import { decodeBody, kindOf } from '@/core/kinds/registry'
import { hashBytes } from '@/core/base/hash'
import { kernelMemory } from '@/core/kernels/memory'
import { drawPicture } from '@/core/report/picture'
import type { CheckUp } from '@/core/mesh/check-up'
import { BodyShelf, evaluate, StoreAway, type StepReport } from '@/core/recipe/evaluate'
import { reportError } from '@/core/base/step-error'
import { quiet } from '@/core/base/work'
import { isAway } from '@/server/db/away'
import { database } from '@/server/db/client'
import { checkUps, jobs, runs } from '@/server/db/schema'
import { getBlob, putBlob } from '@/server/store/blobs'
import { fileHashOf } from '@/server/store/jobs'
import { unpackSettings } from '@/server/store/settings'
import { DatabaseStore } from '@/server/store/results'
import type { FromChild } from './crew'

export type ChildTask =
  | { task: 'evaluate'; run: string }
  | { task: 'check-up'; hash: string }
  | { task: 'picture'; job: string; bodies: string[] }
export interface ChildResult {
  /**
   * `hand-over`: the kernel holds too much; what was finished is kept, and another process goes on. `away`: the database went; try again.
   * `failed`: of the task as a whole, not of a step.
   */
  outcome: 'done' | 'failed' | 'hand-over' | 'away'
  /** Whether every step of an evaluation succeeded. */
  ok: boolean
  message: string
  pid: number
  kernel: { bytes: number; spoilt: boolean }
}
/** On the way: how far the step under way is, and each step that ended. */
export type ChildMessage =
  | { type: 'progress'; share: number; phase: string; step: number }
  | { type: 'step'; index: number; report: StepReport }

const send = (m: FromChild<ChildResult, ChildMessage>): void => void process.send!(m)

const kernelBound = Number(process.env.GLUE_BENCH_KERNEL_MB ?? 1536) * 2 ** 20
const overFull = (): boolean => {
  const { bytes, spoilt } = kernelMemory()
  return spoilt || bytes > kernelBound
}

/** Thrown between two steps, when this process is to be replaced. */
class HandOver extends Error {}

const { db } = database(3)
const store = new DatabaseStore(db)
const memory = Number(process.env.GLUE_BENCH_STEP_BYTES ?? 2 ** 32)
const shelf = new BodyShelf(Math.min(768 << 20, Math.round(memory / 5)))

async function evaluateRun(id: string): Promise<boolean> {
  const [row] = await db.select().from(runs).where(eq(runs.id, id))
  if (!row) return true
  const recipe = await unpackSettings(db, row.recipe)
  let told = 0,
    current = 0
  const progress = (share: number, phase: string) => {
    const now = performance.now()
    if (now - told < 150) return
    told = now
    send({ message: { type: 'progress', share, phase, step: current } })
  }
  const result = await evaluate(
    recipe,
    {
      fileHash: (name) => fileHashOf(db, row.job, name),
      store,
      work: { progress },
      within: (ms) => send({ within: ms }),
      onStep: (report, index) => {
        current = index + 1
        send({ message: { type: 'step', index, report } })
        if (current < recipe.steps.length && !report.cached && overFull()) throw new HandOver()
      },
    },
    shelf,
  )
  return result.ok
}

async function savePicture(job: string, bodies: readonly string[]): Promise<void> {
  send({ within: 60_000 })
  const loaded = []
  for (const hash of bodies) loaded.push(shelf.get(hash) ?? decodeBody(await getBlob(db, hash)))
  const png = drawPicture(loaded)
  const hash = await hashBytes(png)
  await putBlob(db, hash, png)
  await db.update(jobs).set({ picture: hash }).where(eq(jobs.id, job))
}

async function checkUpBody(hash: string): Promise<void> {
  const have = await db.select({ hash: checkUps.hash }).from(checkUps).where(eq(checkUps.hash, hash))
  if (have.length) return
  const body = shelf.get(hash) ?? decodeBody(await getBlob(db, hash))
  const found = kindOf(body).check?.(body, quiet)
  if (!found) return
  await db
    .insert(checkUps)
    .values({ hash, checkUp: found as unknown as CheckUp })
    .onConflictDoNothing()
}

async function work(task: ChildTask): Promise<ChildResult> {
  const end = (outcome: ChildResult['outcome'], message = '', ok = true): ChildResult => ({
    outcome,
    ok,
    message,
    pid: process.pid,
    kernel: kernelMemory(),
  })
  try {
    if (task.task === 'evaluate') return end('done', '', await evaluateRun(task.run))
    await (task.task === 'check-up' ? checkUpBody(task.hash) : savePicture(task.job, task.bodies))
    return end('done')
  } catch (error) {
    if (error instanceof HandOver) return end('hand-over')
    return error instanceof StoreAway || isAway(error)
      ? end('away', String(error))
      : end('failed', reportError(error).message)
  }
}

process.on('message', ({ task }: { task: ChildTask }) => {
  void work(task).then((result) => send({ result }))
})
// Its parent is gone: nobody waits for what it computes.
process.on('disconnect', () => process.exit(0))
