/** Runs a headless verb in a thread of its own, and ends it when a file takes longer than one of its size may. */
import { isMainThread, parentPort, Worker } from 'node:worker_threads'
import type { ErrorReport } from '@/core/base/step-error'

/** Says to the watch how long the next thing may take, ms; null: as long as it likes. */
export const within = (ms: number | null): void => {
  if (!isMainThread) parentPort!.postMessage({ within: ms })
}

/** Starts the program again as a thread and watches it; its exit code becomes ours. `tooSlow` says what happened when it had to be ended. */
export function watchOver(program: string, tooSlow: (report: ErrorReport) => void): void {
  const thread = new Worker(program, { argv: process.argv.slice(2), stdout: false, stderr: false })
  let deadline: ReturnType<typeof setTimeout> | undefined
  let late = false
  thread.on('message', ({ within: ms }: { within: number | null }) => {
    clearTimeout(deadline)
    if (ms === null) return
    deadline = setTimeout(() => {
      late = true
      tooSlow({
        code: 'too-slow',
        message: `Reading this file took longer than a file of its size may take (${Math.round(ms / 1000)} s).`,
        tryThis: 'It is probably damaged: export it again, or in another format.',
      })
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
