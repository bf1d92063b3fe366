/** The data folder: all a bench keeps lies in it, and one bench at a time works on it. */
import { spawnSync } from 'node:child_process'
import { closeSync, existsSync, mkdirSync, openSync, readFileSync, realpathSync, rmSync, writeFileSync } from 'node:fs'
import path from 'node:path'
import { Problem } from './setup.mjs'

/** What a running bench says of itself in its data folder. */
const noteOf = (data) => path.join(data, 'running.json')

/** The bench that works on a data folder now: `{ pid, address, database }`, or null. */
export function runningOn(data) {
  if (!existsSync(path.join(data, 'lock'))) return null
  const fd = openSync(path.join(data, 'lock'), 'r')
  try {
    if (lock(fd)) return null
    return JSON.parse(readFileSync(noteOf(data), 'utf8'))
  } catch {
    return { pid: 0 }
  } finally {
    closeSync(fd)
  }
}

/** Takes the lock of an open file: flock(2) belongs to the open file, so it ends with the process, however that ends. */
const lock = (fd) => spawnSync('flock', ['-n', '3'], { stdio: ['ignore', 'ignore', 'ignore', fd] }).status === 0

/**
 * Makes a data folder this process's own until `release` or its end. Throws a Problem that says where another bench runs on it;
 * then nothing was touched.
 */
export function claim(folder) {
  mkdirSync(folder, { recursive: true })
  const data = realpathSync(folder)
  const fd = openSync(path.join(data, 'lock'), 'a', 0o644)
  if (!lock(fd)) {
    closeSync(fd)
    const other = runningOn(data)
    throw new Problem(
      `A bench is running on ${data} already${other?.address ? `: ${other.address}` : ''}${other?.pid ? ` (process ${other.pid})` : ''}. ` +
        'Open that one, stop it first, or choose another folder with --data.',
    )
  }
  return {
    data,
    /** Says how this bench can be reached. The database's address holds its password: only the owner may read it. */
    note: (values) => writeFileSync(noteOf(data), JSON.stringify({ pid: process.pid, ...values }), { mode: 0o600 }),
    release() {
      rmSync(noteOf(data), { force: true })
      closeSync(fd)
    },
  }
}
