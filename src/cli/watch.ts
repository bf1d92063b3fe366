/** Runs a headless verb in a thread of its own, and ends it when a file takes more of a processor than one of its size may. */
import { isMainThread, parentPort, Worker } from 'node:worker_threads'
import type { ErrorReport } from '@/core/base/step-error'

/** Says to the watch how much of a processor the next thing may take, ms; null: as much as it likes. */
export const within = (ms: number | null): void => {
  if (!isMainThread) parentPort!.postMessage({ within: ms })
}

/** Says to the watch what was done so far, for when it has to tell. */
export const soFar = (report: object): void => {
  if (!isMainThread) parentPort!.postMessage({ soFar: report })
}

/** How often processor time is looked at, ms. */
const lookEvery = 200

const processorTime = (): number => {
  const { user, system } = process.cpuUsage()
  return (user + system) / 1000
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
  let look: ReturnType<typeof setInterval> | undefined
  let late = false
  thread.on('message', (message: { within: number | null } | { soFar: object }) => {
    if ('soFar' in message) {
      done = message.soFar
      return
    }
    const { within: ms } = message
    clearInterval(look)
    if (ms === null) return
    // Not by the clock: what runs beside is no fault of the file.
    const end = processorTime() + ms
    look = setInterval(() => {
      if (processorTime() < end) return
      clearInterval(look)
      late = true
      tooSlow(
        {
          code: 'too-slow',
          message: `Reading this file took more than a file of its size may take (${Math.round(ms / 1000)} s of a processor).`,
          tryThis: 'It is probably damaged: export it again, or in another format.',
        },
        done,
      )
      void thread.terminate()
    }, lookEvery)
  })
  thread.on('error', (error) => {
    process.stderr.write(`${error.message}\n`)
    process.exitCode = 1
  })
  thread.on('exit', (code) => {
    clearInterval(look)
    process.exitCode = late ? 1 : code
  })
}
