/** Runs a headless verb in a thread of its own, and ends it when a file takes longer than one of its size may. */
import { isMainThread, parentPort, Worker } from 'node:worker_threads'
import type { ErrorReport } from '@/core/base/step-error'

/** Says to the watch how long the next thing may take, ms; null: as long as it likes. */
export const within = (ms: number | null): void => {
  if (!isMainThread) parentPort!.postMessage({ within: ms })
}

/** Says to the watch what was done so far, for when it has to tell. */
export const soFar = (report: object): void => {
  if (!isMainThread) parentPort!.postMessage({ soFar: report })
}

/** Exit codes of a process that a signal ended (POSIX shells: 128 and its number). */
const ended = { SIGINT: 130, SIGTERM: 143, SIGHUP: 129 } as const

/**
 * Starts the program again as a thread and watches it; its exit code becomes ours. `tooSlow` says what happened when it had to be ended,
 * `stopped` when somebody ended us; both get what was done so far.
 */
export function watchOver(
  program: string,
  tooSlow: (report: ErrorReport, soFar: object | null) => void,
  stopped: (soFar: object | null) => void,
): void {
  const thread = new Worker(program, { argv: process.argv.slice(2), stdout: false, stderr: false })
  let done: object | null = null
  for (const [signal, code] of Object.entries(ended))
    process.once(signal, () => {
      stopped(done)
      process.exit(code)
    })
  let deadline: ReturnType<typeof setTimeout> | undefined
  let late = false
  thread.on('message', (message: { within: number | null } | { soFar: object }) => {
    if ('soFar' in message) {
      done = message.soFar
      return
    }
    const { within: ms } = message
    clearTimeout(deadline)
    if (ms === null) return
    deadline = setTimeout(() => {
      late = true
      tooSlow(
        {
          code: 'too-slow',
          message: `Reading this file took longer than a file of its size may take (${Math.round(ms / 1000)} s).`,
          tryThis: 'It is probably damaged: export it again, or in another format.',
        },
        done,
      )
      void thread.terminate()
    }, ms)
  })
  thread.on('error', (error) => {
    process.stderr.write(`${error.message}\n`)
    process.exitCode = 1
  })
  thread.on('exit', (code) => {
    clearTimeout(deadline)
    process.exitCode = late ? 1 : code
  })
}
