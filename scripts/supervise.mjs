/** Keeps the parts of a bench running: each is started, watched, and started again with back-off when it ends. */
import { spawn } from 'node:child_process'
import path from 'node:path'
import { createStream } from 'rotating-file-stream'
import { say } from './setup.mjs'

/** Waits between two starts of the same part, ms: the first, and the longest. A part that ran for a while starts afresh. */
const firstWait = 300,
  longestWait = 10_000,
  steady = 3000

/** How a part is asked to end, and how long it is waited for, ms. */
const patience = 8000

/** `logs`: the folder for what the parts say, a file each, turned over at 5 MB. */
export function supervisor(logs) {
  const parts = new Map()
  let stopping = false

  const logOf = (name) => {
    const stream = createStream(`${name}.log`, { path: logs, size: '5M', maxFiles: 2 })
    stream.on('error', () => {}) // a full disk must not end the bench
    return stream
  }

  function run(part) {
    if (stopping) return
    part.started = Date.now()
    try {
      part.child = part.start()
    } catch (error) {
      part.log.write(`${new Date().toISOString()} could not be started: ${error.message}\n`)
      return again(part, error.message)
    }
    const child = part.child
    for (const stream of [child.stdout, child.stderr])
      stream?.on('data', (d) => {
        part.log.write(d)
        part.said = (part.said + d).slice(-4000)
      })
    child.stdin?.on('error', () => {})
    child.once('error', (error) => part.log.write(`${error.message}\n`))
    child.once('exit', (code, signal) => {
      part.child = null
      part.gone?.()
      part.log.write(`${new Date().toISOString()} ended (${signal ?? `code ${code}`})\n`)
      again(part, signal ?? `code ${code}`)
    })
  }

  function again(part, why) {
    if (stopping) return
    part.wait = Date.now() - part.started > steady ? firstWait : Math.min(longestWait, part.wait * 2 || firstWait)
    part.ends++
    say(`${part.name} ended (${why}); it starts again in ${part.wait / 1000} s`)
    part.timer = setTimeout(() => run(part), part.wait)
  }

  return {
    /** Starts a part. `start` gives its child process each time it is called. */
    watch(name, start, signal = 'SIGTERM') {
      const part = { name, start, signal, child: null, wait: 0, ends: 0, said: '', log: logOf(name), timer: null }
      parts.set(name, part)
      run(part)
      return part
    },
    part: (name) => parts.get(name),
    /** Process ids by part, of what runs now. */
    pids: () => Object.fromEntries([...parts].flatMap(([n, p]) => (p.child?.pid ? [[n, p.child.pid]] : []))),
    /** Ends the named parts together, by force when asking does not help. Nothing is started again after this. */
    async end(names) {
      stopping = true
      await Promise.all(
        names.map(async (name) => {
          const part = parts.get(name)
          if (!part) return
          clearTimeout(part.timer)
          if (part.child) {
            const gone = new Promise((resolve) => (part.gone = resolve))
            part.child.kill(part.signal)
            const force = setTimeout(() => part.child?.kill('SIGKILL'), patience)
            await gone
            clearTimeout(force)
          }
          await new Promise((resolve) => part.log.end(resolve))
        }),
      )
    },
  }
}

/**
 * A Node program of the bench as a child that ends with us: it watches its standard input, which closes when this process does, however that
 * ends. In a session of its own, so that Ctrl+C in a terminal reaches the wrapper only.
 */
export const nodeChild = (root, file, env, args = []) =>
  spawn(process.execPath, [...args, path.join(root, file)], {
    cwd: root,
    env: { ...env, GLUE_BENCH_CHILD: '1' },
    stdio: ['pipe', 'pipe', 'pipe'],
    detached: true,
  })
