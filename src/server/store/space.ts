/**
 * Room on the disk is asked for before much is written: PostgreSQL cannot go on where its log finds none, and would be away with all that it
 * holds until somebody makes room.
 */
import { statfs } from 'node:fs/promises'
import { StepError } from '@/core/base/step-error'

/** Kept free for the database's own work, bytes; `GLUE_BENCH_RESERVE_MB`. */
const reserve = () => Number(process.env.GLUE_BENCH_RESERVE_MB ?? 96) * 2 ** 20
/** What is written lies in the log and in the table. */
const written = 2
/** With less than this a database that is away is away for want of room, bytes: one part of its log (PostgreSQL's WAL segment). */
const hopeless = 16 * 2 ** 20

const megabytes = (bytes: number) => `${Math.max(1, Math.round(bytes / 2 ** 20))} MB`

export const diskFull = (free: number): StepError =>
  new StepError(
    'disk-full',
    `The disk has too little room: ${megabytes(free)} are left. What was kept before is still there.`,
    {
      tryThis: 'Free some space, or delete jobs that are done with; then try again.',
    },
  )

/** Bytes that are free where the data folder lies; null where that is not known: on another machine, say. */
export async function freeSpace(folder = process.env.GLUE_BENCH_DATA): Promise<number | null> {
  if (!folder) return null
  return statfs(folder).then(
    ({ bavail, bsize, blocks }) => (blocks ? bavail * bsize : null),
    () => null,
  )
}

/** @throws StepError `disk-full` where so many bytes would not leave the database its reserve */
export async function requireSpace(bytes: number, folder?: string): Promise<void> {
  const free = await freeSpace(folder)
  if (free !== null && free < written * bytes + reserve()) throw diskFull(free)
}

/** Why the database is away, where that is the disk. */
export async function fullDisk(folder?: string): Promise<StepError | null> {
  const free = await freeSpace(folder)
  return free !== null && free < hopeless ? diskFull(free) : null
}
